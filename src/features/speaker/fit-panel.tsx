'use client';

import { Button, Checkbox, Progress, Segmented } from 'antd';
import { useState } from 'react';
import type { Outcome } from '@/core/jobs/loudspeaker/optimise';
import { formOf, specsOf, stageName } from '@/core/design/stage-design';
import { stageTopology } from '@/core/design/stage-topology';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { formatQuantity, formatFixed } from '@/core/units/quantity';
import { failureWords } from '@/ui/words/failures';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { FIT } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { takeFitted } from '@/store/speaker-edits';
import { useDesignators } from '@/store/use-designators';

type Much = 'no' | 'some' | 'much';
const MUCH: { value: Much; label: string }[] = [
  { value: 'no', label: 'no' },
  { value: 'some', label: 'some' },
  { value: 'much', label: 'much' },
];
const WAYS: Record<Much, number> = { no: 0, some: 0.2, much: 0.6 };
const LOAD: Record<Much, number> = { no: 0, some: 0.3, much: 1 };
const COST: Record<Much, number> = { no: 0, some: 0.15, much: 0.6 };

/**
 * Moves all parts at once until the sum is nearest to its target: what may move, what counts, and before and after to
 * choose between.
 */
export function FitPanel() {
  const heard = useDesign((d) => currentVariantOf(d).join === 'acoustic');
  const ways = useAnswer(ACOUSTICS, (a) => a.ways);
  const { progress, running, result, stale, failure } = useLongJob(FIT);
  const design = useDesign((d) => d);
  const [held, setHeld] = useState<ReadonlySet<string>>(new Set());
  const [weights, setWeights] = useState<{ ways: Much; load: Much; cost: Much }>({
    ways: 'some',
    load: 'much',
    cost: 'no',
  });
  const called = useDesignators();
  // What may move is read from the document: the answers are a moment behind what was just added.
  const all = currentVariantOf(design).ways.flatMap((way) =>
    way.stages
      .filter((stage) => !stage.bypassed)
      .flatMap((stage) =>
        specsOf(stageTopology(stage, way), formOf(way, stage))
          .filter((spec) => !spec.given && !stage.parts[spec.name]?.leftOut)
          .map((spec) => ({
            way: way.name,
            stage: stage.id,
            stageName: stageName(way, stage),
            part: spec.name,
            kind: spec.kind,
            key: `${stage.id} ${spec.name}`,
          })),
      ),
  );
  if (!heard || !ways || all.every((p) => p.kind !== 'inductor')) return null;
  const moving = all.filter((p) => !held.has(p.key));
  const fit = () =>
    FIT.run({
      parts: moving.map(({ stage, part }) => ({ stage, part })),
      weights: { ways: WAYS[weights.ways], load: LOAD[weights.load], cost: COST[weights.cost] },
    });
  const fitted = stale ? null : result?.value;
  const stages = [...new Map(all.map((p) => [p.stage, { id: p.stage, name: `${p.way}: ${p.stageName}` }])).values()];
  const toggle = (keys: readonly string[], move: boolean) =>
    setHeld((before) => {
      const next = new Set(before);
      for (const k of keys)
        if (move) next.delete(k);
        else next.add(k);
      return next;
    });
  return (
    <section className="panel" aria-label="Fit to the sound" data-testid="fit-panel">
      <header>
        <h2>Fit to the sound</h2>
        {!running ? (
          <Button size="small" type="primary" disabled={moving.length === 0} onClick={() => void fit()}>
            Fit {moving.length} parts
          </Button>
        ) : (
          <Button size="small" onClick={FIT.cancel}>
            Stop
          </Button>
        )}
      </header>
      {progress !== null && <Progress percent={Math.round(100 * progress)} size="small" aria-label="Fitting" />}
      <details>
        <summary>what may move, and what counts</summary>
        {stages.map((stage) => {
          const own = all.filter((p) => p.stage === stage.id);
          return (
            <div key={stage.id} className="fit-row">
              <span className="quiet">{stage.name}</span>
              {own.map((p) => (
                <Checkbox key={p.key} checked={!held.has(p.key)} onChange={(e) => toggle([p.key], e.target.checked)}>
                  {called(p.stage, p.part)}
                </Checkbox>
              ))}
            </div>
          );
        })}
        <div className="field-row">
          {(
            [
              ['ways', 'each way’s slope'],
              ['load', 'least load'],
              ['cost', 'price'],
            ] as const
          ).map(([key, label]) => (
            <div key={key} className="field">
              <span className="label">{label}</span>
              <Segmented
                size="small"
                aria-label={`How much counts: ${label}`}
                value={weights[key]}
                options={MUCH}
                onChange={(v) => setWeights({ ...weights, [key]: v })}
              />
            </div>
          ))}
        </div>
      </details>
      {failure && (
        <p className="failure" role="alert">
          {failureWords(failure)}
        </p>
      )}
      {fitted && (
        <>
          <table className="sheet speaker-figures" data-testid="fit-result">
            <thead>
              <tr>
                <th />
                <th className="number">off the target</th>
                <th className="number">least load</th>
                <th className="number">price</th>
              </tr>
            </thead>
            <tbody>
              <OutcomeRow name="as it was" outcome={fitted.before} />
              <OutcomeRow name="before rounding" outcome={fitted.best} />
              <OutcomeRow name="with values to be had" outcome={fitted.after} />
            </tbody>
          </table>
          <p className="reason figures">
            {fitted.parts
              .map((p) => `${called(p.stage, p.part)} ${formatQuantity(p.value, unitOf(p.part), { digits: 2 })}`)
              .join(' · ')}
          </p>
          <Button
            size="small"
            onClick={() => {
              edit(takeFitted(fitted.parts));
              FIT.stillHolds();
            }}
          >
            Take these values
          </Button>
        </>
      )}
      {!fitted && !running && (
        <p className="reason quiet">
          Coils, capacitors and resistors move together until the sum, on these drivers and from this place, is nearest
          to what the plans ask. The values are then the nearest good ones of the series; what is on the desk stays
          until they are taken.
        </p>
      )}
    </section>
  );
}

const unitOf = (part: string) =>
  PART_UNITS[part.startsWith('L') ? 'inductor' : part.startsWith('C') ? 'capacitor' : 'resistor'];

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
