'use client';

import { App, Button, Checkbox, Progress, Select } from 'antd';
import { useEffect, useState } from 'react';
import { writeFloatWav } from '@/core/format/wav';
import { playedSamples } from '@/core/measure/stepped';
import type { Sweep } from '@/core/measure/sweep';
import type { Failure } from '@/core/result';
import type { RevealedFault } from '@/core/jobs/measure/hidden-fault';
import type { MeasurePlan } from '@/core/jobs/measure/measure-plan';
import { useDesignJob } from '@/store/use-design-job';
import { useLongJob } from '@/store/questions/long-job';
import { inputsOf } from '@/store/sound-card';
import {
  ANALYSE,
  CAPTURE,
  INSTRUMENTS,
  NOTE_WORDS,
  REVEAL,
  SWEEP_BOARD,
  askNextBoard,
  boardName,
  isOf,
  judgeNextBoard,
  measuringStore,
  readCapture,
  readRecording,
  setMeasuring,
  stopCard,
  sweepComputer,
  sweepWorkshop,
  type Instrument,
  type Place,
} from '@/store/measuring';
import { download, pickTextFile } from '@/ui/download';
import { Cautions } from '@/ui/cautions';
import { Fold } from '@/ui/fold';
import { QuantityInput } from '@/ui/quantity-input';
import { formatFixed } from '@/core/units/quantity';
import { useFileReading } from '@/ui/use-file-reading';
import { failureWords } from '@/ui/words/failures';
import { Trim } from './trim';
import styles from './measure.module.css';

const RATE_HZ = 48_000;
const instruments = (Object.keys(INSTRUMENTS) as Instrument[]).map((value) => ({ value, label: INSTRUMENTS[value] }));

/** How far a sweep or the reading of one is, what went wrong, and how all of it is stopped. */
function useSweeping() {
  const { instrument, failed, recorded } = measuringStore();
  const swept = useLongJob(SWEEP_BOARD);
  const reading = useLongJob(ANALYSE);
  const capture = useLongJob(CAPTURE);
  const stop = () => {
    SWEEP_BOARD.cancel();
    ANALYSE.cancel();
    CAPTURE.cancel();
    stopCard();
  };
  return {
    busy: swept.progress ?? recorded ?? reading.progress ?? capture.progress,
    failure: failed ?? (instrument === 'workshop' ? swept.failure : (reading.failure ?? capture.failure)),
    stop,
  };
}

/** A sweep through the board: with what, where, over which range, and how loud. */
export function SweepPanel() {
  const plan = useDesignJob('measure-plan', { rateHz: RATE_HZ });
  const { instrument, place, change, notes, nextAsked } = measuringStore();
  const { busy, failure, stop } = useSweeping();
  const sweep = plan && { ...plan.sweep, ...change };
  const there = plan?.places.find((p) => p.id === place) ?? plan?.places[0];
  useEffect(() => {
    if (!nextAsked || busy !== null || !sweep || !there) return;
    setMeasuring({ nextAsked: false });
    void judgeNextBoard(sweep, there);
  });
  if (!plan || !sweep || !there) return <p className="panel quiet">Looking at what this circuit asks of a sweep.</p>;
  const start = (cable: boolean) =>
    instrument === 'workshop' ? sweepWorkshop(sweep, there) : sweepComputer(sweep, there, cable);
  return (
    <section className="panel" aria-label="Sweep the board">
      <header>
        <h2>Sweep the board</h2>
      </header>
      <WithAndWhere plan={plan} there={there} />
      <Range sweep={sweep} proposed={plan.sweep} />
      <AsTones />
      {instrument === 'workshop' ? (
        <Hidden />
      ) : (
        <Card sweep={sweep} busy={busy !== null} onCable={() => void start(true)} there={there} />
      )}
      <div className={styles.start}>
        {busy === null ? (
          <>
            <Button type="primary" onClick={() => void start(false)}>
              Sweep
            </Button>
            <Button title="Key T" onClick={askNextBoard}>
              Next board, swept and judged
            </Button>
          </>
        ) : (
          <Button onClick={stop}>Stop</Button>
        )}
        {busy !== null && <Progress percent={Math.round(100 * busy)} size="small" aria-label="How far the sweep is" />}
      </div>
      {failure && (
        <p className="failure" role="alert">
          {failureWords(failure)}
        </p>
      )}
      {notes.length > 0 && busy === null && (
        <p className="reason warn" role="status" data-testid="recording-notes">
          {notes.map((note) => NOTE_WORDS[note]).join(' ')}
        </p>
      )}
      <Why plan={plan} />
      <Fold name="Trim while it sweeps" title="Trim while it sweeps" outcome="the error shrinks as you turn">
        <Trim sweep={sweep} place={there} />
      </Fold>
    </section>
  );
}

/** Whether something is wrong with the simulated board, and what, for whom it is to be told. */
function Hidden() {
  const { hidden, board, place } = measuringStore();
  const { result, stale } = useLongJob(REVEAL);
  const told = result && !stale && result.asked.board === board && result.asked.place === place ? result.value : null;
  return (
    <>
      <Checkbox checked={hidden} onChange={(e) => setMeasuring({ hidden: e.target.checked })}>
        hide a fault in it, to find
      </Checkbox>
      {hidden && (
        <p className="reason quiet" role="status" data-testid="hidden-fault">
          {told ? (
            `In ${boardName(board)}, seen from this place: ${hiddenWords(told)}.`
          ) : (
            <button type="button" className="link" onClick={() => void REVEAL.run({ board, place })}>
              reveal what is hidden in {boardName(board)}
            </button>
          )}
        </p>
      )}
    </>
  );
}

const hiddenWords = ({ designator, is, factor }: RevealedFault): string =>
  is === 'value'
    ? `${designator} is ${formatFixed(factor ?? 1, 2)} times what was chosen`
    : is === 'open'
      ? `${designator} has an open joint`
      : `${designator} is bridged`;

/** With what it is swept, at which place of which board. */
function WithAndWhere({ plan, there }: { plan: MeasurePlan; there: Place }) {
  const { instrument, board } = measuringStore();
  return (
    <>
      <div className="field wide">
        <span className="label">with</span>
        <Select
          aria-label="Instrument"
          value={instrument}
          options={instruments}
          popupMatchSelectWidth={false}
          onChange={(value) => setMeasuring({ instrument: value, failed: null })}
        />
      </div>
      <div className="field-row">
        <div className="field">
          <span className="label">at</span>
          <Select
            aria-label="Place on the board"
            value={there.id}
            options={plan.places.map(({ id, name }) => ({ value: id, label: name }))}
            popupMatchSelectWidth={false}
            onChange={(value) => setMeasuring({ place: value })}
          />
        </div>
        <QuantityInput
          label="board"
          kind="ratio"
          integer
          min={1}
          max={9999}
          value={board}
          onChange={(v) => v !== null && setMeasuring({ board: v })}
        />
      </div>
    </>
  );
}

function Range({ sweep, proposed }: { sweep: Sweep; proposed: Sweep }) {
  const { change } = measuringStore();
  const set = (patch: Partial<Sweep>) => setMeasuring({ change: { ...change, ...patch } });
  return (
    <>
      <div className="field-row">
        <QuantityInput
          label="from"
          kind="frequency"
          value={sweep.fromHz}
          onChange={(v) => v !== null && set({ fromHz: v })}
        />
        <QuantityInput
          label="to"
          kind="frequency"
          max={0.495 * sweep.rateHz}
          value={sweep.toHz}
          onChange={(v) => v !== null && set({ toHz: v })}
        />
        <QuantityInput
          label="takes"
          kind="time"
          min={0.05}
          max={120}
          value={sweep.seconds}
          onChange={(v) => v !== null && set({ seconds: v })}
        />
        <QuantityInput
          label="peak"
          kind="decibel"
          min={-120}
          max={0}
          value={sweep.levelDbfs}
          onChange={(v) => v !== null && set({ levelDbfs: v })}
        />
      </div>
      {JSON.stringify(sweep) !== JSON.stringify(proposed) && (
        <button type="button" className="link" onClick={() => setMeasuring({ change: {} })}>
          as proposed
        </button>
      )}
    </>
  );
}

/** Tones one after the other where a sweep is too noisy: deep notches. */
const USUAL_TONES = 60;

function AsTones() {
  const { tones } = measuringStore();
  return (
    <div className={styles.tones}>
      <Checkbox
        checked={tones !== null}
        onChange={(e) => setMeasuring({ tones: e.target.checked ? USUAL_TONES : null })}
      >
        tone by tone: slower, and deeper into a notch
      </Checkbox>
      {tones !== null && (
        <QuantityInput
          label="tones"
          kind="ratio"
          integer
          min={2}
          max={400}
          value={tones}
          onChange={(v) => v !== null && setMeasuring({ tones: v })}
        />
      )}
    </div>
  );
}

function Why({ plan }: { plan: MeasurePlan }) {
  return (
    <p className="reason quiet">
      Proposed: a decade to either side of its corners, as far as a card goes; its peak, of full scale, as loud as{' '}
      {plan.clipsFirst ? `${plan.clipsFirst} bears` : 'the card records'}, with 6&#8239;dB to spare.
      {plan.bends && ' This circuit bends: what is measured holds at this level.'}
    </p>
  );
}

/** What is asked of the computer's own card: the input, the card by itself, and files where it stands elsewhere. */
function Card({ sweep, busy, onCable, there }: { sweep: Sweep; busy: boolean; onCable: () => void; there: Place }) {
  const { notification } = App.useApp();
  const { reference, board, inputId, loopback, tones } = measuringStore();
  const [inputs, setInputs] = useState<{ id: string; name: string }[]>([]);
  useEffect(() => void inputsOf().then(setInputs), [busy]);
  const current = isOf(reference, sweep, tones);
  const readFile = useFileReading();
  const write = () => {
    const samples = playedSamples(sweep, tones);
    if (samples.ok) download('sweep.wav', writeFloatWav(Float32Array.from(samples.value), sweep.rateHz), 'audio/wav');
    else setMeasuring({ failed: samples });
  };
  const refuse = (name: string, why: Failure) =>
    notification.error({ title: `${name} was not read`, description: failureWords(why), duration: 0 });
  const read = async () => {
    const file = await pickTextFile('.wav,.csv,.txt,.tsv');
    if (!file) return;
    const made = { place: there, board: boardName(board) };
    setMeasuring({ failed: null });
    if (!/\.wav$/i.test(file.name)) {
      const capture = await readFile('scope', file);
      if (!capture) return;
      return capture.ok ? readCapture(capture.value, sweep, made) : void refuse(file.name, capture);
    }
    const wav = await readFile('wav', file);
    if (!wav) return;
    if (!wav.ok) return void refuse(file.name, wav);
    const second = wav.value.second ?? null;
    await readRecording({ ...wav.value, second }, sweep, { ...made, instrument: 'file' });
  };
  return (
    <>
      <Cautions />
      {inputs.length > 0 && (
        <div className="field wide">
          <span className="label">input</span>
          <Select
            aria-label="Input of the sound card"
            value={inputs.some((i) => i.id === inputId) ? inputId : inputs[0].id}
            options={inputs.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(value) => setMeasuring({ inputId: value })}
          />
        </div>
      )}
      <Checkbox checked={loopback} onChange={(e) => setMeasuring({ loopback: e.target.checked })}>
        its second input hears its own output
      </Checkbox>
      <p className="reason" data-testid="reference">
        {loopback
          ? 'Output and input are recorded together: the card is divided out of every sweep.'
          : current
            ? 'The card by itself was swept, and is divided out.'
            : reference
              ? 'The card was swept over another range: sweep it again by itself, through a cable.'
              : 'Sweep the card by itself first, a cable from its output to its input: it is divided out from then on.'}
      </p>
      <div className={styles.start}>
        <Button disabled={busy || loopback} onClick={onCable}>
          Sweep the cable
        </Button>
      </div>
      <Fold name="Recorded elsewhere" title="Recorded elsewhere" outcome="write the sweep, read its recording">
        <div className={styles.start}>
          <Button onClick={write}>Write the sweep</Button>
          <Button onClick={() => void read()}>Read a recording</Button>
        </div>
        <p className="reason quiet">
          A WAV file of the sweep as it is set above, or a scope’s capture (CSV): time, and one channel of that sweep,
          or two of anything, the first what was played.
        </p>
      </Fold>
    </>
  );
}
