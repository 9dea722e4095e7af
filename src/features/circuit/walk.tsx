'use client';

import { Button } from 'antd';
import { useState } from 'react';
import { calledIn } from '@/core/design/stages/designators';
import type { DeskStage } from '@/core/jobs/desk/desk-types';
import type { WalkStep } from '@/core/jobs/network/walk';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import { useDesignJob } from '@/store/use-design-job';
import styles from './circuit.module.css';

const turned = (phaseDeg: number): string => (Math.abs(phaseDeg) > 90 ? 'turned over' : 'as it was');

/** The signal from part to part: where it goes, what it does there, what comes back. Each step lights up. */
export function Walk({ facts, onPoint }: { facts: DeskStage; onPoint: (parts: readonly string[]) => void }) {
  const walk = useDesignJob('walk', { stageId: facts.id });
  const [at, setAt] = useState(0);
  if (!walk) return <p className="reason quiet">Nothing leads from its input to its output as it stands.</p>;
  const here = Math.min(at, walk.steps.length - 1);
  const go = (to: number) => {
    setAt(to);
    onPoint(partsOf(walk.steps[to]));
  };
  return (
    <div data-testid="walk">
      <p className="reason">
        At {formatQuantity(walk.atHz, 'frequency', { digits: 3 })}, {walk.steps.length} steps from input to output:{' '}
        <b className="figures">{formatSigned(walk.gainDb, 'decibel', 1)}</b>, {turned(walk.phaseDeg)} (
        {formatSigned(walk.phaseDeg, 'degree', 0)}).
      </p>
      <div className="listen-row">
        <Button size="small" disabled={here === 0} onClick={() => go(here - 1)}>
          step back
        </Button>
        <Button size="small" disabled={here === walk.steps.length - 1} onClick={() => go(here + 1)}>
          step on
        </Button>
      </div>
      <ol className={styles.walk} aria-label="Steps of the signal">
        {walk.steps.map((step, k) => (
          <li key={`${step.through}${step.to}`} aria-current={k === here ? 'step' : undefined}>
            <button
              type="button"
              className="plain"
              onClick={() => go(k)}
              onFocus={() => onPoint(partsOf(step))}
              onBlur={() => onPoint([])}
            >
              <b>{calledIn(facts, step.through)}</b>
              {step.role ? `, ${step.role}` : step.device ? `, ${step.device}` : ''}
            </button>{' '}
            {words(step)}
            {k === here && step.besides.length > 0 && <Besides step={step} facts={facts} />}
          </li>
        ))}
      </ol>
    </div>
  );
}

const partsOf = (step: WalkStep): string[] => [step.through, ...step.besides.map((b) => b.part)];

const words = ({ gainDb, phaseDeg }: WalkStep): string =>
  gainDb === null || phaseDeg === null
    ? 'a point that stands still: currents add there'
    : `${formatSigned(gainDb, 'decibel', 1)}, ${turned(phaseDeg)} (${formatSigned(phaseDeg, 'degree', 0)})`;

function Besides({ step, facts }: { step: WalkStep; facts: DeskStage }) {
  return (
    <ul>
      {step.besides.map(({ part, role, from }) => (
        <li key={part}>
          {calledIn(facts, part)}
          {role ? `, ${role}` : ''}: {from === null ? 'to what stands still' : `comes back from ${from}`}
        </li>
      ))}
    </ul>
  );
}
