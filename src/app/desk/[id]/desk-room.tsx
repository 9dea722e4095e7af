'use client';

import { Alert, App, Button, Space } from 'antd';
import dynamic from 'next/dynamic';
import { useRouter } from 'next/navigation';
import { useEffect, useState, type CSSProperties, type ReactNode } from 'react';
import { BankStrip } from '@/features/bank/bank-strip';
import { Curves } from '@/features/curves/curves';
import { Header } from '@/features/desk/header';
import { Keys } from '@/features/desk/keys';
import { entriesOf } from '@/features/desk/actions';
import { Announcer } from '@/features/desk/announcer';
import { Wall } from '@/features/desk/wall';
import { restoreWall, wallStore } from '@/store/wall';
import { KeySheet } from '@/features/desk/key-sheet';
import { LeaveQuestion } from '@/features/storage/leave-question';
import { PageNews } from '@/ui/page-news';
import { Palette } from '@/ui/palette/palette';
import { ControlLane } from '@/features/path/control-lane';
import { Path } from '@/features/path/path';
import { SpeakerPath } from '@/features/path/speaker-path';
import { dismissSaveMessage, putOpenBack, saveStore, startAutosave } from '@/store/shelf/autosave';
import { stopLive } from '@/store/live-sound';
import type { Failure } from '@/core/result';
import { failureStore } from '@/store/failures';
import { documentStore, numbered, openDesign, refusalStore } from '@/store/document';
import { exportDesign } from '@/store/exports/exports';
import { restoreHistory } from '@/store/shelf/history';
import { failureWords } from '@/ui/words/failures';
import { useFocusOnArrival } from '@/ui/use-focus-back';
import { Guard } from '@/ui/guard';
import { currentVariantOf } from '@/store/edits/edits';
import { cancelAll } from '@/store/questions/by-hand';
import { readRow } from '@/store/shelf/save-design';
import { loadRow } from '@/store/shelf/shelf-rows';
import { keepAnswers, keptAnswers, recallAnswers } from '@/store/shelf/kept-answers';
import { takeUnsaved } from '@/store/shelf/unsaved-store';
import { resetView, setView, useView } from '@/store/view';
import { Tasks } from './tasks';

const ShareDialog = dynamic(() => import('@/features/desk/share-dialog').then((m) => m.ShareDialog), { ssr: false });

type Opening = 'loading' | 'missing' | 'open' | Failure;

/** One desk per design: opens it, keeps it saved and computed, and lays out path, curves and tasks. */
export function DeskRoom({ id, frame }: { id: string; frame: ReactNode }) {
  const [opening, setOpening] = useState<Opening>('loading');
  useEffect(() => {
    let stop: (() => void) | null = null;
    let left = false;
    void Promise.all([loadRow(id), keptAnswers(id)]).then(([row, kept]) => {
      if (left) return;
      if (!row) return setOpening('missing');
      const read = readRow(row);
      if (!read.ok) return setOpening(read);
      // What could not be stored when it was last left goes on from there.
      const unsaved = takeUnsaved(id);
      const base = unsaved?.base ?? numbered(read.value);
      const design = unsaved?.design ?? base;
      openDesign(design);
      if (!unsaved) void restoreHistory(row.revision);
      resetView();
      if (design.family === 'loudspeaker') setView({ curveView: 'ways' });
      // What it was worked out to be stands there until that is confirmed.
      if (kept) recallAnswers(kept);
      const stopSaving = startAutosave(base, unsaved?.revision ?? row.revision);
      const stopKeeping = keepAnswers();
      stop = () => {
        stopKeeping();
        cancelAll();
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
      <PageNews type="info" title="This design is not on the shelf of this browser" action={<ToShelf />}>
        It may have been removed, or the address is from another machine. Import its file to bring it here.
      </PageNews>
    );
  if (typeof opening === 'object')
    return (
      <PageNews type="warning" title="This design does not open" action={<ToShelf />}>
        {failureWords(opening)} It lies on the shelf untouched, and can be exported from there as it is.
      </PageNews>
    );
  if (opening === 'loading') return frame;
  return <Desk />;
}

function ToShelf() {
  const router = useRouter();
  return (
    <Button type="primary" onClick={() => router.push('/')}>
      To the shelf
    </Button>
  );
}

function Desk() {
  const [offered, setOffered] = useState<ReturnType<typeof entriesOf> | null>(null);
  const offer = () => {
    const { design } = documentStore.getState();
    if (design) setOffered(entriesOf(design));
  };
  const [sheet, setSheet] = useState(false);
  const open = documentStore((s) => s.design !== null);
  const heard = documentStore((s) => s.design !== null && currentVariantOf(s.design).join === 'acoustic');
  const task = useView((s) => s.task);
  const taskPx = wallStore((s) => s.taskPx[task]);
  const whole = wallStore((s) => s.whole);
  const sharing = useView((s) => s.sharing);
  const title = documentStore((s) => s.design?.title || 'Untitled design');
  useEffect(restoreWall, []);
  useFocusOnArrival('desk-heading');
  if (!open) return null;
  return (
    <div className="desk">
      <a href="#tasks" className="skip">
        To the tasks
      </a>
      <Keys onPalette={offer} onSheet={() => setSheet(true)} />
      <Header onPalette={offer} onSheet={() => setSheet(true)} />
      <Announcer />
      <SaveNews />
      <LeaveQuestion />
      <Refusals />
      <Failures />
      <Guard what="The path">
        {heard ? <SpeakerPath /> : <Path />}
        <BankStrip />
        <ControlLane />
      </Guard>
      <main
        className={whole ? 'work whole-task' : 'work'}
        data-task={task}
        style={taskPx === undefined ? undefined : ({ '--task-px': `${taskPx}px` } as CSSProperties)}
      >
        <h1 id="desk-heading" tabIndex={-1} className="only-read-aloud">
          {title}
        </h1>
        <Guard what="The curves">
          <Curves />
        </Guard>
        <Wall />
        <Tasks />
      </main>
      {offered && <Palette open own={offered} onClose={() => setOffered(null)} />}
      {sharing && (
        <Guard what="The link">
          <ShareDialog />
        </Guard>
      )}
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
function Failures() {
  const told = failureStore((s) => s.told);
  const { notification } = App.useApp();
  useEffect(() => {
    if (told) notification.error({ title: told.title, description: failureWords(told.failure), duration: 0 });
  }, [told, notification]);
  return null;
}

function Refusals() {
  const refused = refusalStore((s) => s.refused);
  const { message } = App.useApp();
  useEffect(() => {
    if (refused) void message.warning(`That change was not made: ${refused.fault}.`, 6);
  }, [refused, message]);
  return null;
}
