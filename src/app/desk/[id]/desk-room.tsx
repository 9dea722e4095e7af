'use client';

import { Alert, App, Button, Result, Space, Spin } from 'antd';
import { useRouter } from 'next/navigation';
import { useEffect, useState, type KeyboardEvent } from 'react';
import { BankBrief } from '@/features/bank/bank-brief';
import { BankStrip } from '@/features/bank/bank-strip';
import { BankTable } from '@/features/bank/bank-table';
import { Brief } from '@/features/brief/brief';
import { Build } from '@/features/build/build';
import { Checks } from '@/features/checks/checks';
import { Circuit } from '@/features/circuit/circuit';
import { Curves } from '@/features/curves/curves';
import { Header } from '@/features/desk/header';
import { Keys } from '@/features/desk/keys';
import { KeySheet, Palette } from '@/features/desk/palette';
import { Listen } from '@/features/listen/listen';
import { Voice } from '@/features/voice/voice';
import { Log } from '@/features/log/log';
import { Measure } from '@/features/measure/measure';
import { ControlLane } from '@/features/path/control-lane';
import { Path } from '@/features/path/path';
import { SpeakerPath } from '@/features/path/speaker-path';
import { SpeakerBrief } from '@/features/speaker/speaker-brief';
import { FitPanel } from '@/features/speaker/fit-panel';
import { NotchPanel } from '@/features/speaker/notch-panel';
import { CoilsPanel } from '@/features/speaker/coils-panel';
import { HeatPanel } from '@/features/speaker/heat-panel';
import { OrdersPanel } from '@/features/speaker/orders-panel';
import { SpeakerBuild } from '@/features/speaker/speaker-build';
import { Spread } from '@/features/spread/spread';
import { Values } from '@/features/values/values';
import { dismissSaveMessage, putOpenBack, saveStore, startAutosave } from '@/store/autosave';
import { stopLive } from '@/store/live-sound';
import type { Failure } from '@/core/result';
import { documentStore, openDesign, refusalStore } from '@/store/document';
import { exportDesign } from '@/store/exports';
import { restoreHistory } from '@/store/history';
import { failureWords } from '@/ui/words';
import { Guard } from '@/ui/guard';
import { currentVariantOf } from '@/store/edits';
import { startLiveResults, useResults } from '@/store/results';
import { loadRow, readRow } from '@/store/shelf-rows';
import { resetView, setView, TASKS, useView, type Task } from '@/store/view';

type Opening = 'loading' | 'missing' | 'open' | Failure;

/** One desk per design: opens it, keeps it saved and computed, and lays out path, curves and tasks. */
export function DeskRoom({ id }: { id: string }) {
  const [opening, setOpening] = useState<Opening>('loading');
  const router = useRouter();
  useEffect(() => {
    let stop: (() => void) | null = null;
    let left = false;
    void loadRow(id).then((row) => {
      if (left) return;
      if (!row) return setOpening('missing');
      const read = readRow(row);
      if (!read.ok) return setOpening(read);
      openDesign(read.value);
      void restoreHistory(row.revision);
      resetView();
      if (read.value.family === 'loudspeaker') setView({ curveView: 'ways' });
      const stopSaving = startAutosave(read.value, row.revision);
      const stopResults = startLiveResults();
      stop = () => {
        stopResults();
        stopLive();
        void stopSaving();
      };
      setOpening('open');
    });
    return () => {
      left = true;
      stop?.();
    };
  }, [id]);
  if (opening === 'missing')
    return (
      <Result
        status="info"
        title="This design is not on the shelf of this browser"
        subTitle="It may have been removed, or the address is from another machine. Import its file to bring it here."
        extra={
          <Button type="primary" onClick={() => router.push('/')}>
            To the shelf
          </Button>
        }
      />
    );
  if (typeof opening === 'object')
    return (
      <Result
        status="warning"
        title="This design does not open"
        subTitle={`${failureWords(opening)} It lies on the shelf untouched, and can be exported from there as it is.`}
        extra={
          <Button type="primary" onClick={() => router.push('/')}>
            To the shelf
          </Button>
        }
      />
    );
  if (opening === 'loading') return <Spin fullscreen description="Opening the design" />;
  return <Desk />;
}

function Desk() {
  const [palette, setPalette] = useState(false);
  const [sheet, setSheet] = useState(false);
  const open = documentStore((s) => s.design !== null);
  const heard = documentStore((s) => s.design !== null && currentVariantOf(s.design).join === 'acoustic');
  if (!open) return null;
  return (
    <div className="desk">
      <a href="#tasks" className="skip">
        To the tasks
      </a>
      <Keys onPalette={() => setPalette(true)} onSheet={() => setSheet(true)} />
      <Header onPalette={() => setPalette(true)} onSheet={() => setSheet(true)} />
      <SaveNews />
      <Refusals />
      <Guard what="The path">
        {heard ? <SpeakerPath /> : <Path />}
        <BankStrip />
        <ControlLane />
      </Guard>
      <main className="work">
        <h1 className="only-read-aloud">Desk</h1>
        <Guard what="The curves">
          <Curves />
        </Guard>
        <Tasks />
      </main>
      <Palette open={palette} onClose={() => setPalette(false)} />
      <KeySheet open={sheet} onClose={() => setSheet(false)} />
    </div>
  );
}

/** What there is to know and decide about saving. */
function SaveNews() {
  const { state, message } = saveStore();
  const router = useRouter();
  if (state === 'removed')
    return (
      <Alert
        banner
        type="warning"
        title="This design was removed from the shelf in another tab. It is still open here; nothing of it is written."
        action={
          <Space>
            <Button size="small" onClick={() => void putOpenBack()}>
              Put it back
            </Button>
            <Button size="small" onClick={() => router.push('/')}>
              Leave it removed
            </Button>
          </Space>
        }
      />
    );
  if (!message) return null;
  return (
    <Alert
      banner
      type={state === 'failed' ? 'error' : 'warning'}
      title={message}
      closable={{ onClose: dismissSaveMessage, 'aria-label': 'Close' }}
      action={
        state === 'failed' && (
          <Button size="small" onClick={exportDesign}>
            Export the file
          </Button>
        )
      }
    />
  );
}

/** Says why a change was not made. */
function Refusals() {
  const refused = refusalStore((s) => s.refused);
  const { message } = App.useApp();
  useEffect(() => {
    if (refused) void message.warning(`That change was not made: ${refused.fault}.`, 6);
  }, [refused, message]);
  return null;
}

const PANES: Record<Task, { name: string; pane: () => React.ReactNode }> = {
  brief: {
    name: 'Brief',
    pane: () => (
      <>
        <SpeakerBrief />
        <BankBrief />
        <Brief />
        <Checks />
      </>
    ),
  },
  circuit: {
    name: 'Circuit',
    pane: () => (
      <>
        <Circuit>
          <Voice />
        </Circuit>
        <OrdersPanel />
      </>
    ),
  },
  values: {
    name: 'Values',
    pane: () => (
      <>
        <FitPanel />
        <NotchPanel />
        <BankTable />
        <Values />
        <CoilsPanel />
        <HeatPanel />
        <Checks />
      </>
    ),
  },
  spread: { name: 'Spread', pane: () => <Spread /> },
  build: {
    name: 'Build',
    pane: () => (
      <>
        <Build />
        <SpeakerBuild />
      </>
    ),
  },
  measure: { name: 'Measure', pane: () => <Measure /> },
  listen: { name: 'Listen', pane: () => <Listen /> },
  log: { name: 'Log', pane: () => <Log /> },
};

function Tasks() {
  const task = useView((s) => s.task);
  const trouble = useResults(
    (s) => [...(s.acoustics?.checks ?? []), ...(s.deskToRead?.checks ?? [])].filter((c) => c.level !== 'ok').length,
  );
  const onKey = (event: KeyboardEvent<HTMLButtonElement>, at: number) => {
    const move = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (move === 0) return;
    const next = TASKS[(at + move + TASKS.length) % TASKS.length];
    setView({ task: next });
    document.getElementById(`task-${next}`)?.focus();
  };
  return (
    <section className="tasks" id="tasks" aria-label="Tasks">
      <div role="tablist" aria-label="Task" className="tabs task-tabs">
        {TASKS.map((name, i) => (
          <button
            key={name}
            id={`task-${name}`}
            type="button"
            role="tab"
            aria-selected={task === name}
            aria-controls="task-pane"
            tabIndex={task === name ? 0 : -1}
            onClick={() => setView({ task: name })}
            onKeyDown={(event) => onKey(event, i)}
          >
            {PANES[name].name}
            {name === 'values' && trouble > 0 && (
              <span className="trouble-count" title={`${trouble} checks want a look`}>
                {trouble}
              </span>
            )}
          </button>
        ))}
      </div>
      <div className="task-pane" id="task-pane" role="tabpanel" aria-labelledby={`task-${task}`} tabIndex={0}>
        <Guard key={task} what={`The task ${PANES[task].name}`}>
          {PANES[task].pane()}
        </Guard>
      </div>
    </section>
  );
}
