'use client';

import { Checkbox, Select } from 'antd';
import type { Variant } from '@/core/design/document/schema';
import { SOUND_SOURCES, type SoundSource } from '@/core/jobs/sound/sound-source';
import { setView, useView, type PlayedAs } from '@/store/view';
import { QuantityInput } from '@/ui/quantity-input';
import { CLEFS, isByNotes, isOwn, movedControl, NO_CONTROL, OWN_S, SUM, type OwnSound, type Wanted } from './wanted';
import styles from './listen.module.css';

export const SOURCE_NAMES: Record<SoundSource, string> = {
  saw: 'saw',
  square: 'square',
  noise: 'noise',
  reed: 'reed-like pulse',
  drone: 'cluster of drones',
  plucked: 'plucked string',
  drum: 'drum',
};
const OWN = 'own';
const PLAYED_AS: { value: PlayedAs; label: string }[] = [
  { value: 'notes', label: 'notes in turn' },
  { value: 'sequence', label: 'a sequence' },
  { value: 'keys', label: 'from keys' },
];

interface Fields {
  readonly variant: Variant;
  readonly wanted: Wanted;
  readonly change: (patch: Partial<Wanted>) => void;
}

/** What goes into the circuit: a source, notes or a sequence, how loud. */
export function SourceFields({ wanted, own, change }: Fields & { readonly own: OwnSound | null }) {
  const playedAs = useView((s) => s.playedAs);
  const { source, clef, noteS, volts } = wanted;
  const made = !isOwn(source);
  return (
    <div className={`field-row ${styles.listenFields}`}>
      <div className="field wide">
        <span className="label">source</span>
        <Select
          aria-label="Source of the sound"
          value={made ? source : OWN}
          popupMatchSelectWidth={false}
          options={[
            ...SOUND_SOURCES.map((value) => ({ value, label: SOURCE_NAMES[value] })),
            ...(own ? [{ value: OWN, label: own.name }] : []),
          ]}
          onChange={(value: SoundSource | typeof OWN) =>
            value === OWN ? own && change({ source: own }) : change({ source: value })
          }
        />
      </div>
      {made && (
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
      {made && source !== 'noise' && isByNotes(wanted, playedAs) && (
        <div className="field wide">
          <span className="label">notes</span>
          <Select
            aria-label="Notes"
            value={clef}
            popupMatchSelectWidth={false}
            options={CLEFS.map(({ value, label }) => ({ value, label }))}
            onChange={(value) => change({ clef: value })}
          />
        </div>
      )}
      {made && isByNotes(wanted, playedAs) && (
        <QuantityInput
          label="each lasts"
          kind="time"
          value={noteS}
          min={0.1}
          max={4}
          onChange={(v) => v !== null && change({ noteS: v })}
        />
      )}
      <QuantityInput
        label="peak at the input"
        kind="voltage"
        value={volts}
        min={1e-3}
        max={20}
        onChange={(v) => v !== null && change({ volts: v })}
        testId="listen-volts"
      />
    </div>
  );
}

/** What is listened to of a crossover, and how a recording goes on. */
export function HeardFields({ variant, wanted, change }: Fields) {
  return (
    <>
      {variant.join === 'acoustic' && variant.ways.length > 1 && (
        <div className={`field-row ${styles.listenFields}`}>
          <div className="field wide">
            <span className="label">what is heard</span>
            <Select
              aria-label="What of the crossover is heard"
              value={variant.ways.find((w) => w.name === wanted.part)?.name ?? SUM}
              options={[
                { value: SUM, label: 'all drivers, from where one listens' },
                ...variant.ways.map((w) => ({ value: w.name, label: `${w.name} by itself` })),
              ]}
              popupMatchSelectWidth={false}
              onChange={(value) => change({ part: value })}
            />
          </div>
        </div>
      )}
      {isOwn(wanted.source) && (
        <Checkbox checked={wanted.looped} onChange={(e) => change({ looped: e.target.checked })}>
          again from its beginning, for {OWN_S}&#8239;s
        </Checkbox>
      )}
    </>
  );
}

/** What moves at every note, how far and how fast. */
export function NoteEnvelope({ variant, wanted, change }: Fields) {
  const moved = movedControl(variant, wanted);
  const { shape } = wanted;
  const reshape = (patch: Partial<Wanted['shape']>) => change({ shape: { ...shape, ...patch } });
  return (
    <div className={`field-row ${styles.listenFields}`}>
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
          onChange={(value) => change({ control: value })}
        />
      </div>
      {moved && (
        <>
          <QuantityInput
            label="by, of travel"
            kind="percent"
            step={1}
            value={shape.depth}
            min={-100}
            max={100}
            onChange={(v) => v !== null && reshape({ depth: v })}
          />
          <QuantityInput
            label="up in"
            kind="time"
            value={shape.attackS}
            min={5e-4}
            max={3}
            onChange={(v) => v !== null && reshape({ attackS: v })}
          />
          <QuantityInput
            label="down in"
            kind="time"
            value={shape.decayS}
            min={5e-3}
            max={5}
            onChange={(v) => v !== null && reshape({ decayS: v })}
          />
        </>
      )}
    </div>
  );
}
