'use client';

import { Button, Progress } from 'antd';
import { useState } from 'react';
import type { Choice, Optimised, Outcome } from '@/core/jobs/loudspeaker/optimise';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { failureWords } from '@/ui/words/failures';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { FIT } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { takeFitted } from '@/store/edits/speaker-edits';
import { useDesignators } from '@/store/use-designators';
import { FitFrontier } from './fit-frontier';
import { FitSettings, USUAL_FIT, weightsOf, type FitWishes } from './fit-settings';
import { fittedPartsOf } from './fitted-parts';

/**
 * Moves all parts at once until the sum is nearest to its target: what may move, what counts, the best so far while it
 * looks, and what less money would give.
 */
export function FitPanel() {
  const variant = useDesign(currentVariantOf);
  const { progress, running, result, soFar, stale, failure } = useLongJob(FIT);
  const [wishes, setWishes] = useState<FitWishes>(USUAL_FIT);
  // What may move is read from the document: the answers are a moment behind what was just added.
  const all = fittedPartsOf(variant);
  if (variant.join !== 'acoustic' || all.every((p) => p.kind !== 'inductor')) return null;
  const moving = all.filter((p) => !wishes.held.has(p.key));
  const fit = (untilStopped: boolean) =>
    void FIT.run({
      parts: moving.map(({ stage, part, key }) => ({ stage, part, ...wishes.ranges.get(key) })),
      weights: weightsOf(wishes),
      holdLoad: wishes.holdLoad,
      untilStopped,
    });
  const shown = running ? soFar?.value : stale ? undefined : result?.value;
  return (
    <section className="panel" aria-label="Fit to the sound" data-testid="fit-panel">
      <header>
        <h2>Fit to the sound</h2>
        {running ? (
          <Button size="small" onClick={FIT.cancel}>
            Stop
          </Button>
        ) : (
          <span>
            <Button
              size="small"
              type="text"
              disabled={moving.length === 0}
              title="Goes on for better ones until it is stopped; the best so far is kept"
              onClick={() => fit(true)}
            >
              until stopped
            </Button>
            <Button size="small" type="primary" disabled={moving.length === 0} onClick={() => fit(false)}>
              Fit {moving.length} parts
            </Button>
          </span>
        )}
      </header>
      {progress !== null && <Progress percent={Math.round(100 * progress)} size="small" aria-label="Fitting" />}
      <FitSettings parts={all} wishes={wishes} change={setWishes} />
      {failure && (
        <p className="failure" role="alert">
          {failureWords(failure)}
        </p>
      )}
      {!running && stale && (
        <p className="reason" role="status">
          What was fitted is of the circuit, target or polarity as it was: fit again.
        </p>
      )}
      {shown && <Fitted found={shown} running={running} />}
      {!shown && !running && !stale && (
        <p className="reason quiet">
          Coils, capacitors and resistors move together, among the values of the series, until the sum on these drivers
          and from this place is nearest to what the plans ask. What is on the desk stays until they are taken.
        </p>
      )}
    </section>
  );
}

/** Before and after, the values, and what other money gives. */
function Fitted({ found, running }: { found: Optimised; running: boolean }) {
  const called = useDesignators();
  const take = (values: readonly number[]) => {
    FIT.cancel();
    edit(takeFitted(found.parts.map(({ stage, part }, i) => ({ stage, part, value: values[i] }))));
    FIT.stillHolds();
  };
  return (
    <>
      <table className="sheet speaker-figures" data-testid="fit-result">
        <thead>
          <tr>
            <th>{running ? 'so far' : null}</th>
            <th className="number">off the target</th>
            <th className="number">least load</th>
            <th className="number">price</th>
          </tr>
        </thead>
        <tbody>
          <OutcomeRow name="as it was" outcome={found.before} />
          <OutcomeRow name="any values" outcome={found.best} />
          <OutcomeRow name="with values to be had" outcome={found.after} />
        </tbody>
      </table>
      <p className="reason figures">
        {found.parts
          .map((p) => `${called(p.stage, p.part)} ${formatQuantity(p.value, PART_UNITS[p.kind], { digits: 2 })}`)
          .join(' · ')}
      </p>
      <Button size="small" onClick={() => take(found.parts.map((p) => p.value))}>
        Take these values
      </Button>
      <FitFrontier choices={found.frontier} taken={found.after} take={(choice: Choice) => take(choice.values)} />
    </>
  );
}

function OutcomeRow({ name, outcome }: { name: string; outcome: Outcome }) {
  return (
    <tr>
      <td>{name}</td>
      <td className="number">±{formatFixed(outcome.offDb, 2)}&#8239;dB</td>
      <td className="number">
        {outcome.lowestOhm === null ? '–' : formatQuantity(outcome.lowestOhm, 'resistance', { digits: 3 })}
      </td>
      <td className="number">{formatFixed(outcome.price, 2)}</td>
    </tr>
  );
}
