'use client';

import { Button } from 'antd';
import type { Remedy, Shaping } from '@/core/jobs/network/shaping';
import { QuantityInput } from '@/ui/quantity-input';
import { documentStore, edit } from '@/store/document';
import { currentWayOf } from '@/store/edits/edits';
import { setForm, setParameter } from '@/store/edits/network-edits';
import { holdDecided } from '@/store/edits/part-edits';
import { setView, useView } from '@/store/view';
import { db, hz } from './shaping-figures';

const REMEDY: Record<Remedy['id'], string> = {
  capacitor: 'one capacitor',
  'first-order': 'RC, follower',
  'second-order': '2nd order',
};

/** From what is to be kept and lost to the corner that does it, and what else would. */
export function TheOtherWay({ stageId, shaping }: { stageId: string; shaping: Shaping }) {
  const { answer } = shaping;
  return (
    <section className="panel" aria-label="The other way round">
      <h2>The other way round</h2>
      <Goal gainDb={shaping.gainDb} apply={'hz' in answer ? () => setCorner(stageId, answer) : null} />
      <p className="reason" data-testid="shaping-answer">
        {'hz' in answer
          ? `A corner at ${hz(answer.hz)} does it.`
          : `One capacitor cannot: the shelf’s floor lies ${db(answer.mostDb)} down, and is never quite reached.`}
      </p>
      <Remedies remedies={shaping.remedies} />
    </section>
  );
}

/** Sets what answers the question, around the values that the maker has typed. */
function setCorner(stageId: string, { parameter, hz: corner }: Extract<Shaping['answer'], { hz: number }>): void {
  const { design } = documentStore.getState();
  const mode = design && currentWayOf(design).stages.find((s) => s.id === stageId)?.mode;
  const edge = parameter === 'topHz' ? 'top' : 'bottom';
  const form = mode === 'both' || mode === edge ? mode : mode === 'plain' ? edge : 'both';
  edit((draft) => {
    setForm(stageId, form)(draft);
    holdDecided(stageId)(draft);
    setParameter(stageId, parameter, Number(corner.toPrecision(4)))(draft);
  });
}

/** The question as a sentence; `apply` sets what answers it, where anything does. */
function Goal({ gainDb, apply }: { gainDb: number; apply: (() => void) | null }) {
  const goal = useView((s) => s.shapingGoal);
  const change = (patch: Partial<typeof goal>) => setView({ shapingGoal: { ...goal, ...patch } });
  const frequency = { hideLabel: true, small: true, kind: 'frequency', min: 1e-3, max: 1e9 } as const;
  return (
    <div className="sentence">
      <span>keep {db(gainDb)} at</span>
      <QuantityInput
        {...frequency}
        label="keep at"
        value={goal.keepHz}
        onChange={(v) => v !== null && change({ keepHz: v })}
      />
      <span>lose</span>
      <QuantityInput
        label="lose"
        hideLabel
        small
        kind="decibel"
        step={1}
        value={goal.loseDb}
        min={0.1}
        max={100}
        onChange={(v) => v !== null && change({ loseDb: v })}
        testId="lose-db"
      />
      <span>by</span>
      <QuantityInput
        {...frequency}
        label="lose by"
        value={goal.loseHz}
        onChange={(v) => v !== null && change({ loseHz: v })}
        testId="lose-hz"
      />
      <Button size="small" disabled={!apply} onClick={() => apply?.()}>
        Set it so
      </Button>
    </div>
  );
}

function Remedies({ remedies }: Pick<Shaping, 'remedies'>) {
  const keepHz = useView((s) => s.shapingGoal.keepHz);
  return (
    <table className="sheet">
      <thead>
        <tr>
          <th>remedy</th>
          <th className="number">corner</th>
          <th className="number">costs at {hz(keepHz)}</th>
          <th className="number">takes</th>
          <th className="number">parts</th>
        </tr>
      </thead>
      <tbody>
        {remedies.map((r) => (
          <tr key={r.id}>
            <td>{REMEDY[r.id]}</td>
            <td className="number">{hz(r.cutoffHz)}</td>
            <td className="number">{db(r.keepLossDb)}</td>
            <td className="number">{db(r.loseDb)}</td>
            <td className="number">
              {r.parts}
              {r.opAmps > 0 ? ' + op-amp' : ''}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
