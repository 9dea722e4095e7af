'use client';

import { calledIn } from '@/core/design/stages/designators';
import { findTopology } from '@/core/topology/index';
import type { Loop as LoopFacts } from '@/core/jobs/voice/loop';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { useDesign } from '@/store/document';
import { gridFor } from '@/store/questions/axis';
import { useDesignJob } from '@/store/use-design-job';
import { useSelectedStage } from '@/store/use-selected-stage';
import { decibelAxis, hertzAxis, minus, SmallChart } from '@/ui/chart/small-chart';

const POINTS = 241;

const SENSES: Record<LoopFacts['comesBack'], React.ReactNode> = {
  helping: <b>helps</b>,
  opposing: <b>opposes</b>,
  across: (
    <>
      <b>stands across</b>: it moves the frequency, and neither helps nor opposes
    </>
  ),
};

/** Once round the stage's loop: polarity from node to node, how much comes back, and whether it helps. */
export function Loop() {
  const { stage, facts } = useSelectedStage();
  const topology = stage && findTopology(stage.topology);
  const design = useDesign((d) => d);
  const { fromHz, toHz } = gridFor(design);
  const own = topology?.role === 'network' && stage ? topology.loop?.(stage.mode) : null;
  const loop = useDesignJob(
    'loop',
    own && stage ? { stageId: stage.id, grid: { fromHz, toHz, points: POINTS } } : null,
  );
  if (!own)
    return (
      <section className="panel">
        <p className="reason quiet">
          The stage in hand has no loop of its own in this form. Choose another on the path.
        </p>
      </section>
    );
  if (!loop || loop.part !== own.part) return null;
  return (
    <section className="panel" aria-label="Once round the loop" data-testid="loop">
      <h2>Once round the loop, through {calledIn(facts, loop.part)}</h2>
      <Chain loop={loop} />
      <p className="reason" data-testid="loop-verdict">
        At {formatQuantity(loop.atHz, 'frequency', { digits: 3 })} what comes back {SENSES[loop.comesBack]}.{' '}
        {loop.inStep ? (
          <>
            It comes back in step there with <b className="figures">{formatSigned(loop.inStep.gainDb, 'decibel', 1)}</b>
            :{' '}
            {loop.inStep.gainDb < 0
              ? `${formatFixed(Math.abs(loop.inStep.gainDb), 1)}\u202fdB more and this loop oscillates.`
              : 'this loop oscillates.'}
          </>
        ) : (
          <>It never comes back in step: this loop alone cannot make the circuit oscillate.</>
        )}{' '}
        {loop.oscillatesHz === null ? (
          <>The whole circuit, with all its loops, is stable.</>
        ) : (
          <>
            The whole circuit oscillates at{' '}
            <b className="figures">{formatQuantity(loop.oscillatesHz, 'frequency', { digits: 3 })}</b>
            {loop.inStep && loop.inStep.gainDb >= 0 ? '' : ', by another loop than the one cut here'}.
          </>
        )}
      </p>
      <SmallChart
        testId="loop-gain"
        height={140}
        lines={[{ name: 'gain', x: loop.freqHz, y: loop.gainDb }]}
        x={hertzAxis(fromHz, toHz)}
        y={decibelAxis([loop.gainDb], 80)}
        title="once round, dB"
        xUnit="Hz"
      />
      <SmallChart
        testId="loop-phase"
        height={130}
        lines={[{ name: 'phase', x: loop.freqHz, y: loop.phaseDeg }]}
        x={hertzAxis(fromHz, toHz)}
        y={{ from: -180, to: 180, labelled: [-180, -90, 0, 90, 180], format: minus }}
        title="phase, degrees; 0: in step"
        xUnit="Hz"
      />
    </section>
  );
}

/** Turned over when nearer to half a turn than to none. */
const sign = (phaseDeg: number): string => (Math.abs(phaseDeg) > 90 ? '−' : '+');

function Chain({ loop }: { loop: LoopFacts }) {
  return (
    <table className="sheet" data-testid="loop-steps">
      <thead>
        <tr>
          <th>from</th>
          <th>to</th>
          <th>turned</th>
          <th className="number">gain</th>
          <th className="number">phase</th>
        </tr>
      </thead>
      <tbody>
        {loop.steps.map((s) => (
          <tr key={s.from + s.to}>
            <td>{s.from}</td>
            <td>{s.to}</td>
            <td>{sign(s.phaseDeg)}</td>
            <td className="number">{formatSigned(s.gainDb, 'decibel', 1)}</td>
            <td className="number">{formatSigned(s.phaseDeg, 'degree', 0)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
