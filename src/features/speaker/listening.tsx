'use client';

import { USUAL_LISTENING } from '@/core/jobs/loudspeaker/speaker-system';
import { formatFixed } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { setListening } from '@/store/speaker-edits';
import { QuantityInput } from '@/ui/quantity-input';

/** Where it is listened to, and what range, level and load count. */
export function Listening() {
  const listening = useDesign((d) => currentVariantOf(d).listening) ?? USUAL_LISTENING;
  const level = useAnswer(ACOUSTICS, (a) => a.targetLevelDb);
  return (
    <section className="panel" aria-label="Where it is listened to">
      <h2>Where it is listened to, and what counts</h2>
      <div className="field-row">
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
      </div>
      <div className="field-row">
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
          label="to the side"
          kind="degree"
          step={1}
          value={listening.acrossDeg}
          min={-90}
          max={90}
          onChange={(v) => v !== null && edit(setListening({ acrossDeg: v }))}
        />
        <QuantityInput
          label="up"
          kind="degree"
          step={1}
          value={listening.upDeg}
          min={-90}
          max={90}
          onChange={(v) => v !== null && edit(setListening({ upDeg: v }))}
        />
      </div>
    </section>
  );
}
