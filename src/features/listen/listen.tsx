'use client';

import { Button, Progress, Slider } from 'antd';
import { useState } from 'react';
import { playSound, stopSound } from '@/ui/audio';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { addLogEntry } from '@/store/edits/record-edits';
import { useLive } from '@/store/live-sound';
import { useView } from '@/store/view';
import { BlindTest } from './blind-test';
import { HeardPanel } from './heard';
import { Keys } from './keys';
import { Live } from './live';
import { Moves } from './moves';
import { Sequencer } from './sequencer';
import { takeRecording } from './take-recording';
import { useRendering, type Rendered } from './use-rendering';
import {
  FIRST_WANTED,
  isByNotes,
  isOwn,
  listenRequest,
  movesOf,
  notesOf,
  playOf,
  type OwnSound,
  type Wanted,
} from './wanted';
import { HeardFields, NoteEnvelope, SOURCE_NAMES, SourceFields } from './what-is-played';
import styles from './listen.module.css';

/**
 * Hears the very circuit: a source through every part of it, sample by sample, with a control moved as it plays; and
 * one variant against another, blind.
 */
export function Listen() {
  const design = useDesign((d) => d);
  const variant = currentVariantOf(design);
  const playedAs = useView((s) => s.playedAs);
  const live = useLive((s) => s.state === 'sounding');
  const [wanted, setWanted] = useState<Wanted>({ ...FIRST_WANTED, volts: design.brief.signalVolts });
  const [own, setOwn] = useState<OwnSound | null>(null);
  const [volume, setVolume] = useState(25);
  const rendering = useRendering();
  const { progress, failed, rendered, setFailed, start } = rendering;
  const { source } = wanted;
  const change = (patch: Partial<Wanted>) => setWanted((now) => ({ ...now, ...patch }));
  const take = async () => {
    const taken = await takeRecording();
    if (taken === null) return;
    if (typeof taken === 'string') return setFailed(taken);
    setFailed(null);
    setOwn(taken);
    change({ source: taken });
  };
  const fields = { variant, wanted, change };
  return (
    <>
      <section className="panel" aria-label="What is played" data-testid="listen">
        <h2>Hear the circuit</h2>
        <SourceFields {...fields} own={own} />
        <HeardFields {...fields} />
        {variant.join !== 'acoustic' && <Moves />}
        {variant.controls.length > 0 && isByNotes(wanted, playedAs) && <NoteEnvelope {...fields} />}
        <div className="listen-row">
          <Transport
            rendering={rendering}
            volume={volume}
            onRender={() =>
              void start(design.variants, (which) => listenRequest(design, which, variant, wanted, playedAs))
            }
          />
          <Button onClick={() => void take()}>A recording of yours</Button>
          <div className={styles.listenVolume}>
            <span className="label">loudness</span>
            <Slider min={0} max={100} value={volume} ariaLabelForHandle="Loudness" onChange={setVolume} />
          </div>
        </div>
        {!isOwn(source) && (
          <Live
            source={source}
            hz={notesOf(wanted)[0]}
            volts={wanted.volts}
            volume={volume / 100}
            play={playOf(variant, playedAs)}
            moves={movesOf(variant)}
          />
        )}
        {!isOwn(source) && playedAs === 'keys' && <Keys sounding={live} />}
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
      {!isOwn(source) && playedAs === 'sequence' && <Sequencer />}
      <Compared
        rendered={rendered}
        volume={volume / 100}
        heardOf={isOwn(source) ? source.name : SOURCE_NAMES[source]}
      />
    </>
  );
}

interface TransportProps {
  readonly rendering: ReturnType<typeof useRendering>;
  /** Per cent. */
  readonly volume: number;
  readonly onRender: () => void;
}

/** Begins a rendering and ends it, and lets it be heard while it is made. */
function Transport({ rendering: { progress, hearing, stop, hear }, volume, onRender }: TransportProps) {
  const several = useDesign((d) => d.variants.length > 1);
  return (
    <>
      {progress === null ? (
        <Button type="primary" onClick={onRender}>
          Render {several ? 'every variant' : 'it'}
        </Button>
      ) : (
        <Button onClick={stop}>Stop</Button>
      )}
      {(progress !== null || hearing) && (
        <Button
          title="from its beginning; where it is made more slowly than it plays, it waits for more"
          onClick={() => hear(hearing ? null : volume / 100)}
        >
          {hearing ? 'Silence' : 'Hear it as it comes'}
        </Button>
      )}
    </>
  );
}

/** What was rendered, to be heard beside one another and told apart blind. */
function Compared({
  rendered,
  volume,
  heardOf,
}: {
  rendered: readonly Rendered[];
  volume: number;
  /** What it was played with. */
  heardOf: string;
}) {
  const variants = useDesign((d) => d.variants);
  const [playing, setPlaying] = useState<string | null>(null);
  const nameOf = (id: string) => {
    const v = variants.find((x) => x.id === id);
    return v ? `${v.name}${v.label ? ` · ${v.label}` : ''}` : '';
  };
  const playBack = async (id: string) => {
    const found = rendered.find((r) => r.variant === id);
    if (!found) return;
    setPlaying(id);
    await playSound(found.heard.samples, found.heard.rateHz, volume);
    setPlaying((now) => (now === id ? null : now));
  };
  const verdict = (winner: string, loser: string) =>
    edit(
      addLogEntry({
        at: new Date().toISOString(),
        text: `Heard blind and at one level (${heardOf}): ${nameOf(winner)} preferred to ${nameOf(loser)}.`,
        snapshot: null,
      }),
    );
  if (rendered.length === 0) return null;
  return (
    <>
      <HeardPanel
        heard={rendered.map(({ variant: id, heard }) => ({ id, name: nameOf(id), heard }))}
        playing={playing}
        onPlay={(id) => void playBack(id)}
        onStop={() => (stopSound(), setPlaying(null))}
      />
      {rendered.length === 2 && (
        <BlindTest
          key={rendered.map((r) => r.variant).join()}
          sounds={rendered.map((r) => ({ id: r.variant, name: nameOf(r.variant), ...r.heard }))}
          volume={volume}
          onVerdict={verdict}
        />
      )}
    </>
  );
}
