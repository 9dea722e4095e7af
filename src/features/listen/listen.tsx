'use client';

import { reasonOf } from '@/core/result';
import { Button, Checkbox, Progress, Select, Slider } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { FIRST_SEQUENCE, type Move } from '@/core/design/document/played';
import { withoutRecord } from '@/core/design/document/without-record';
import type { Play } from '@/core/jobs/sound/player';
import type { Heard, ListenRequest } from '@/core/jobs/sound/listen';
import { SOUND_SOURCES, type SoundSource } from '@/core/jobs/sound/sound-source';
import type { Control, Variant } from '@/core/design/document/schema';
import { formatQuantity } from '@/core/units/quantity';
import { playSound, readSound, stopSound } from '@/ui/audio';
import { pickTextFile } from '@/ui/download';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { addLogEntry } from '@/store/edits/record-edits';
import { useLive } from '@/store/live-sound';
import { setView, useView, type PlayedAs } from '@/store/view';
import { startJob, type RunningJob } from '@/workers/job-client';
import { BlindTest } from './blind-test';
import { HeardPanel } from './heard';
import { Keys } from './keys';
import { Live } from './live';
import { Moves } from './moves';
import { Sequencer } from './sequencer';

const NAMES: Record<SoundSource, string> = {
  saw: 'saw',
  square: 'square',
  noise: 'noise',
  reed: 'reed-like pulse',
  drone: 'cluster of drones',
  plucked: 'plucked string',
  drum: 'drum',
};
const OWN = 'own';
/** A recording that is shorter is no sound but a click. */
const SHORTEST_OWN_S = 0.02;
const OWN_S = 8;
/** More than some hours of sound are not read into memory for eight seconds of it. */
const MOST_OWN_BYTES = 250e6;
const CLEFS: { value: string; label: string; notes: number[] }[] = [
  { value: 'low', label: 'low, in steps', notes: [55, 82.5, 110, 73.4] },
  { value: 'middle', label: 'middle, in steps', notes: [110, 165, 220, 147] },
  { value: 'high', label: 'high, in steps', notes: [220, 330, 440, 294] },
  { value: 'one', label: 'one long note', notes: [110] },
];
const PLAYED_AS: { value: PlayedAs; label: string }[] = [
  { value: 'notes', label: 'notes in turn' },
  { value: 'sequence', label: 'a sequence' },
  { value: 'keys', label: 'from keys' },
];
/** Rounds of a sequence that are rendered. */
const ROUNDS = 2;
const NO_MOVES: readonly Move[] = [];
const NO_CONTROL = 'none';
const SUM = 'sum';
interface Rendered {
  readonly variant: string;
  readonly heard: Heard;
}

/** A variant's control that stands for one of another's: itself, or one of its name. */
const controlLike = (which: Variant, of: Variant, id: string): Control | undefined => {
  const name = of.controls.find((c) => c.id === id)?.name;
  return which.controls.find((c) => c.id === id || c.name === name);
};

/**
 * Hears the very circuit: a source through every part of it, sample by sample, with a control moved as it plays; and
 * one variant against another, blind.
 */
export function Listen() {
  const design = useDesign((d) => d);
  const variant = currentVariantOf(design);
  const [source, setSource] = useState<SoundSource | typeof OWN>('saw');
  const [own, setOwn] = useState<{ name: string; samples: Float32Array; rateHz: number } | null>(null);
  const [clef, setClef] = useState('middle');
  const [noteS, setNoteS] = useState(0.6);
  const [volts, setVolts] = useState(design.brief.signalVolts);
  const [volume, setVolume] = useState(25);
  const [control, setControl] = useState<string | null>(null);
  const [shape, setShape] = useState({ depth: 40, attackS: 0.008, decayS: 0.22 });
  const [progress, setProgress] = useState<number | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const [rendered, setRendered] = useState<readonly Rendered[]>([]);
  const [playing, setPlaying] = useState<string | null>(null);
  const [part, setPart] = useState(SUM);
  const playedAs = useView((s) => s.playedAs);
  const [looped, setLooped] = useState(false);
  const sequence = variant.played?.sequence ?? FIRST_SEQUENCE;
  const moves = variant.played?.moves ?? NO_MOVES;
  const byNotes = playedAs === 'notes' || source === OWN;
  const play: Play =
    playedAs === 'sequence'
      ? { kind: 'sequence', of: sequence }
      : playedAs === 'keys'
        ? { kind: 'keys' }
        : { kind: 'steady' };
  const heardWay = variant.ways.find((w) => w.name === part);
  const running = useRef<RunningJob<Heard> | null>(null);
  const live = useLive((s) => s.state === 'sounding');
  useEffect(
    () => () => {
      running.current?.cancel();
      stopSound();
    },
    [],
  );
  const moved =
    control === NO_CONTROL
      ? undefined
      : (variant.controls.find((c) => c.id === control) ?? variant.controls.find((c) => c.kind === 'cv'));
  const notes = CLEFS.find((c) => c.value === clef)?.notes ?? [110];

  async function render(which: Variant): Promise<Heard | null> {
    // Another variant's control of the same name is moved alike.
    const same = moved && controlLike(which, variant, moved.id);
    const request: ListenRequest = {
      kind: 'listen',
      design: withoutRecord(design),
      variantId: which.id,
      source: source === OWN && own ? { samples: own.samples, rateHz: own.rateHz } : source === OWN ? 'saw' : source,
      notesHz: source === OWN && own ? [1] : notes,
      noteS: source === OWN && own ? (looped ? OWN_S : Math.min(OWN_S, own.samples.length / own.rateHz)) : noteS,
      ...(byNotes ? {} : { sequence: { of: sequence, rounds: ROUNDS } }),
      ...(looped ? { looped } : {}),
      moves: moves.flatMap((move) => {
        const there = controlLike(which, variant, move.controlId);
        return there ? [{ ...move, controlId: there.id }] : [];
      }),
      volts,
      envelope:
        same && byNotes
          ? { controlId: same.id, depth: shape.depth / 100, attackS: shape.attackS, decayS: shape.decayS }
          : null,
      ...(which.join === 'acoustic' ? { part: heardWay ? { way: heardWay.name } : SUM } : {}),
    };
    const job = startJob<'listen'>(request, setProgress);
    running.current = job;
    const answer = await job.answer;
    if (!answer.ok) {
      if (answer.code !== 'cancelled') setFailed(failureWords(answer));
      return null;
    }
    return answer.value;
  }
  async function renderAll(): Promise<void> {
    setFailed(null);
    setRendered([]);
    setProgress(0);
    const done: Rendered[] = [];
    for (const which of design.variants.slice(0, 4)) {
      const heard = await render(which);
      if (!heard) break;
      done.push({ variant: which.id, heard });
    }
    setProgress(null);
    setRendered(done);
  }
  async function playBack(id: string): Promise<void> {
    const found = rendered.find((r) => r.variant === id);
    if (!found) return;
    setPlaying(id);
    await playSound(found.heard.samples, found.heard.rateHz, volume / 100);
    setPlaying((now) => (now === id ? null : now));
  }
  const nameOf = (id: string) => {
    const v = design.variants.find((x) => x.id === id);
    return v ? `${v.name}${v.label ? ` · ${v.label}` : ''}` : '';
  };
  async function take(): Promise<void> {
    const file = await pickTextFile('.wav,.flac,.ogg,.mp3', MOST_OWN_BYTES);
    if (!file) return;
    if (file.over !== null)
      return setFailed(
        `${file.name} has ${Math.round(file.over / 1e6)}\u202fMB, and only its first ${OWN_S}\u202fs are played: cut ` +
          'out what you want to hear, a minute or less, and take that. Nothing was changed.',
      );
    try {
      const read = await readSound(file.bytes);
      const seconds = read.samples.length / read.rateHz;
      if (seconds < SHORTEST_OWN_S)
        return setFailed(
          `${file.name} lasts ${formatQuantity(seconds, 'time', { digits: 2 })}, which is too short to hear: take ` +
            `one of at least ${formatQuantity(SHORTEST_OWN_S, 'time')}. Nothing was changed.`,
        );
      setFailed(null);
      setOwn({ name: file.name, ...read });
      setSource(OWN);
    } catch (error) {
      setFailed(`${file.name} is no sound that this browser reads: ` + `${reasonOf(error)}. Nothing was changed.`);
    }
  }
  const verdict = (winner: string, loser: string) =>
    edit(
      addLogEntry({
        at: new Date().toISOString(),
        text:
          `Heard blind and at one level (${source === OWN ? own?.name : NAMES[source]}): ${nameOf(winner)} ` +
          `preferred to ${nameOf(loser)}.`,
        snapshot: null,
      }),
    );
  return (
    <>
      <section className="panel" aria-label="What is played" data-testid="listen">
        <h2>Hear the circuit</h2>
        <div className="field-row listen-fields">
          <div className="field wide">
            <span className="label">source</span>
            <Select
              aria-label="Source of the sound"
              value={source}
              popupMatchSelectWidth={false}
              options={[
                ...SOUND_SOURCES.map((value) => ({ value, label: NAMES[value] })),
                ...(own ? [{ value: OWN, label: own.name }] : []),
              ]}
              onChange={setSource}
            />
          </div>
          {source !== OWN && (
            <div className="field wide">
              <span className="label">played</span>
              <Select
                aria-label="How it is played"
                value={playedAs}
                popupMatchSelectWidth={false}
                options={PLAYED_AS}
                onChange={(value) => setView({ playedAs: value })}
              />
            </div>
          )}
          {source !== OWN && source !== 'noise' && byNotes && (
            <div className="field wide">
              <span className="label">notes</span>
              <Select
                aria-label="Notes"
                value={clef}
                popupMatchSelectWidth={false}
                options={CLEFS.map(({ value, label }) => ({ value, label }))}
                onChange={setClef}
              />
            </div>
          )}
          {source !== OWN && byNotes && (
            <QuantityInput
              label="each lasts"
              kind="time"
              value={noteS}
              min={0.1}
              max={4}
              onChange={(v) => v !== null && setNoteS(v)}
            />
          )}
          <QuantityInput
            label="peak at the input"
            kind="voltage"
            value={volts}
            min={1e-3}
            max={20}
            onChange={(v) => v !== null && setVolts(v)}
            testId="listen-volts"
          />
        </div>
        {variant.join === 'acoustic' && variant.ways.length > 1 && (
          <div className="field-row listen-fields">
            <div className="field wide">
              <span className="label">what is heard</span>
              <Select
                aria-label="What of the crossover is heard"
                value={heardWay ? heardWay.name : SUM}
                options={[
                  { value: SUM, label: 'all drivers, from where one listens' },
                  ...variant.ways.map((w) => ({ value: w.name, label: `${w.name} by itself` })),
                ]}
                popupMatchSelectWidth={false}
                onChange={setPart}
              />
            </div>
          </div>
        )}
        {source === OWN && (
          <Checkbox checked={looped} onChange={(e) => setLooped(e.target.checked)}>
            again from its beginning, for {OWN_S}&#8239;s
          </Checkbox>
        )}
        {variant.join !== 'acoustic' && <Moves />}
        {variant.controls.length > 0 && byNotes && (
          <div className="field-row listen-fields">
            <div className="field wide whole">
              <span className="label">moved at every note</span>
              <Select
                aria-label="Control that is moved"
                value={moved?.id ?? NO_CONTROL}
                options={[
                  ...variant.controls.map((c) => ({ value: c.id, label: c.name })),
                  { value: NO_CONTROL, label: 'nothing' },
                ]}
                popupMatchSelectWidth={false}
                onChange={setControl}
              />
            </div>
            {moved && (
              <QuantityInput
                label="by, of travel"
                kind="percent"
                step={1}
                value={shape.depth}
                min={-100}
                max={100}
                onChange={(v) => v !== null && setShape({ ...shape, depth: v })}
              />
            )}
            {moved && (
              <QuantityInput
                label="up in"
                kind="time"
                value={shape.attackS}
                min={5e-4}
                max={3}
                onChange={(v) => v !== null && setShape({ ...shape, attackS: v })}
              />
            )}
            {moved && (
              <QuantityInput
                label="down in"
                kind="time"
                value={shape.decayS}
                min={5e-3}
                max={5}
                onChange={(v) => v !== null && setShape({ ...shape, decayS: v })}
              />
            )}
          </div>
        )}
        <div className="listen-row">
          {progress === null ? (
            <Button type="primary" onClick={() => void renderAll()}>
              Render {design.variants.length > 1 ? 'every variant' : 'it'}
            </Button>
          ) : (
            <Button onClick={() => running.current?.cancel()}>Stop</Button>
          )}
          <Button onClick={() => void take()}>A recording of yours</Button>
          <div className="listen-volume">
            <span className="label">loudness</span>
            <Slider min={0} max={100} value={volume} ariaLabelForHandle="Loudness" onChange={setVolume} />
          </div>
        </div>
        {source !== OWN && (
          <Live source={source} hz={notes[0]} volts={volts} volume={volume / 100} play={play} moves={moves} />
        )}
        {source !== OWN && playedAs === 'keys' && <Keys sounding={live} />}
        {progress !== null && <Progress percent={Math.round(100 * progress)} size="small" aria-label="Rendering" />}
        {failed && (
          <p className="failure" role="alert">
            {failed}
          </p>
        )}
        <p className="reason caution">
          Starts quietly, all variants at one level, with a limiter. Filters that sing are loud without warning:
          headphones off your ears first, loudspeakers low.
        </p>
      </section>
      {source !== OWN && playedAs === 'sequence' && <Sequencer />}
      {rendered.length > 0 && (
        <HeardPanel
          heard={rendered.map(({ variant: id, heard }) => ({ id, name: nameOf(id), heard }))}
          playing={playing}
          onPlay={(id) => void playBack(id)}
          onStop={() => (stopSound(), setPlaying(null))}
        />
      )}
      {rendered.length === 2 && (
        <BlindTest
          key={rendered.map((r) => r.variant).join()}
          sounds={rendered.map((r) => ({ id: r.variant, name: nameOf(r.variant), ...r.heard }))}
          volume={volume / 100}
          onVerdict={verdict}
        />
      )}
    </>
  );
}
