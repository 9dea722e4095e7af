'use client';

import { App, Button } from 'antd';
import type { Listening as ListeningSpec } from '@/core/design/document/schema';
import { readDriverCurve } from '@/core/format/response-text';
import { USUAL_LISTENING } from '@/core/design/document/usual-listening';
import { formatFixed } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { setListening } from '@/store/edits/speaker-edits';
import { pickTextFile } from '@/ui/download';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';

/** Where it is listened to, and what range, level and load count. */
export function Listening() {
  const listening = useDesign((d) => currentVariantOf(d).listening) ?? USUAL_LISTENING;
  return (
    <section className="panel" aria-label="Where it is listened to">
      <h2>Where it is listened to, and what counts</h2>
      <div className="field-row">
        <WhatCounts listening={listening} />
      </div>
      <div className="field-row">
        <FromWhere listening={listening} />
      </div>
      <House />
    </section>
  );
}

function WhatCounts({ listening }: { listening: ListeningSpec }) {
  const level = useAnswer(ACOUSTICS, (a) => a.targetLevelDb);
  return (
    <>
      <QuantityInput
        label="from"
        kind="frequency"
        value={listening.fromHz}
        min={10}
        max={1e5}
        onChange={(v) => v !== null && edit(setListening({ fromHz: v }))}
        testId="counts-from"
      />
      <QuantityInput
        label="to"
        kind="frequency"
        value={listening.toHz}
        min={10}
        max={1e5}
        onChange={(v) => v !== null && edit(setListening({ toHz: v }))}
      />
      <QuantityInput
        label="level"
        kind="decibel"
        step={0.5}
        allowEmpty
        placeholder={level === null ? 'as can be' : `${formatFixed(level, 1)}\u202fdB`}
        value={listening.levelDb}
        min={40}
        max={140}
        onChange={(v) => edit(setListening({ levelDb: v }))}
      />
      <QuantityInput
        label="least load"
        kind="resistance"
        value={listening.lowestOhm}
        min={0.5}
        max={100}
        onChange={(v) => v !== null && edit(setListening({ lowestOhm: v }))}
        testId="least-load"
      />
    </>
  );
}

function FromWhere({ listening }: { listening: ListeningSpec }) {
  const angle = { kind: 'degree', step: 1, min: -90, max: 90 } as const;
  return (
    <>
      <QuantityInput
        label="metres away"
        kind="ratio"
        step={0.5}
        value={listening.distanceM}
        min={0.3}
        max={20}
        onChange={(v) => v !== null && edit(setListening({ distanceM: v }))}
      />
      <QuantityInput
        {...angle}
        label="to the side"
        value={listening.acrossDeg}
        onChange={(v) => v !== null && edit(setListening({ acrossDeg: v }))}
      />
      <QuantityInput
        {...angle}
        label="up"
        value={listening.upDeg}
        onChange={(v) => v !== null && edit(setListening({ upDeg: v }))}
      />
    </>
  );
}

const LEVEL = { tiltDb: 0, curve: null };

/** What the sum is to be instead of level: a tilt, or a curve from a file. */
function House() {
  const house = useDesign((d) => currentVariantOf(d).listening?.house);
  const { notification } = App.useApp();
  const { tiltDb, curve } = house ?? LEVEL;
  const set = (patch: Partial<NonNullable<ListeningSpec['house']>>) => {
    const next = { tiltDb, curve, ...patch };
    edit(setListening({ house: next.tiltDb === 0 && next.curve === null ? undefined : next }));
  };
  const read = async () => {
    const file = await pickTextFile('.frd,.txt,.csv');
    if (!file) return;
    const found = readDriverCurve(file.text, 'response');
    if (found.ok) {
      const { freqHz, values } = found.value;
      set({ curve: { freqHz, values, phaseDeg: null } });
    } else notification.error({ title: `${file.name} was not taken`, description: failureWords(found), duration: 0 });
  };
  return (
    <div className="field-row">
      <QuantityInput
        label="tilt, dB an octave"
        kind="ratio"
        step={0.1}
        value={tiltDb}
        min={-3}
        max={3}
        onChange={(v) => v !== null && set({ tiltDb: v })}
        testId="house-tilt"
      />
      <div className="field wide">
        <span className="label">target curve of your own</span>
        {curve ? (
          <Button size="small" onClick={() => set({ curve: null })}>
            put away its {curve.freqHz.length} points
          </Button>
        ) : (
          <Button size="small" onClick={() => void read()}>
            from a file
          </Button>
        )}
      </div>
    </div>
  );
}
