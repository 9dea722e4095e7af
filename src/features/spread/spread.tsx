'use client';

import { Button, Progress } from 'antd';
import { useState } from 'react';
import { Bar, BarChart, XAxis, YAxis } from 'recharts';
import type { SpreadResult } from '@/core/jobs/values/spread';
import { quantile } from '@/core/analysis/tolerance/spread';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { useSize } from '@/ui/use-size';
import { failureWords } from '@/ui/words/failures';
import { useDesign } from '@/store/document';
import { currentWayOf } from '@/store/edits/edits';
import { Outlook } from './outlook';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { drawParts, SPREAD } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { useDesignators } from '@/store/use-designators';

/** What the parts' tolerances do: a band on the curve, the scatter of each cutoff, and which part makes most of it. */
export function Spread() {
  const preferences = useDesign((d) => d.preferences);
  const { progress, result, failure, stale } = useLongJob(SPREAD);
  const [seed, setSeed] = useState(1);
  const [runs, setRuns] = useState(500);
  return (
    <>
      <section className="panel" aria-label="Run">
        <div className="field-row">
          <QuantityInput
            label="builds"
            kind="ratio"
            integer
            min={20}
            max={20000}
            value={runs}
            onChange={(v) => v !== null && setRuns(v)}
          />
          <QuantityInput
            label="seed"
            kind="ratio"
            integer
            min={0}
            max={2147483647}
            value={seed}
            onChange={(v) => v !== null && setSeed(v)}
          />
          <div className="field">
            <span className="label">&nbsp;</span>
            {progress === null ? (
              <Button type="primary" onClick={() => void drawParts(seed, runs)}>
                Run tolerances
              </Button>
            ) : (
              <Button onClick={SPREAD.cancel}>Stop</Button>
            )}
          </div>
        </div>
        {progress !== null && <Progress percent={Math.round(progress * 100)} size="small" aria-label="Builds drawn" />}
        {failure && (
          <p className="failure" role="alert">
            {failureWords(failure)}
          </p>
        )}
        <p className="reason quiet">
          Every part is drawn evenly within its tolerance, resistors ± {preferences.resistorTolerancePct}&#8239;%,
          capacitors ± {preferences.capacitorTolerancePct}&#8239;%; the same seed draws the same parts.
        </p>
      </section>
      {stale && (
        <p className="reason quiet" role="status" data-testid="spread-stale">
          The figures below are from before the last change; the band on the curve follows it, with fewer builds. Draw
          parts again for the figures.
        </p>
      )}
      {result && <Outcome result={result.value} />}
      <Outlook seed={seed} runs={runs} />
    </>
  );
}

function Outcome({ result }: { result: SpreadResult }) {
  const way = useDesign((d) => currentWayOf(d));
  const desk = useAnswer(DESK);
  const called = useDesignators();
  const nameOf = (stageId: string | null, part: string) =>
    stageId === null
      ? 'output R'
      : `${called(stageId, part)}, ${desk?.stages.find((s) => s.id === stageId)?.name ?? 'stage'}`;
  return (
    <>
      {result.cutoffs.map((cutoff) => (
        <section
          key={cutoff.nominalHz}
          className="panel"
          aria-label="Scatter of the cutoff"
          data-testid="cutoff-histogram"
        >
          <h2>
            −3 dB at <span className="figures">{formatQuantity(cutoff.nominalHz, 'frequency')}</span>
          </h2>
          <Histogram draws={cutoff.drawsHz} />
        </section>
      ))}
      <section className="panel" aria-label="Which part matters most">
        <h2>
          Which part matters most
          {result.cutoffs[0] ? `, for ${formatQuantity(result.cutoffs[0].nominalHz, 'frequency', { digits: 3 })}` : ''}
        </h2>
        <table className="sheet blame">
          <tbody>
            {result.blame
              .filter((b) => b.stageId === null || way.stages.some((s) => s.id === b.stageId))
              .slice(0, 6)
              .map(({ stageId, part, share }) => (
                <tr key={`${stageId}${part}`}>
                  <td>{nameOf(stageId, part)}</td>
                  <td className="share">
                    <span style={{ width: `${Math.round(share * 100)}%` }} />
                  </td>
                  <td className="number">{formatFixed(share * 100, 0)}&#8239;%</td>
                </tr>
              ))}
          </tbody>
        </table>
      </section>
    </>
  );
}

const BINS = 25;

function Histogram({ draws }: { draws: Float64Array }) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  const sorted = Float64Array.from(draws.filter(Number.isFinite)).sort();
  if (sorted.length < 2) return <p className="quiet">Too few builds have this corner at all.</p>;
  const [low, high] = [sorted[0], sorted[sorted.length - 1]];
  const bins = Array.from({ length: BINS }, (_, i) => ({ at: low + ((i + 0.5) * (high - low)) / BINS, count: 0 }));
  for (const f of sorted) bins[Math.min(BINS - 1, Math.floor(((f - low) / (high - low || 1)) * BINS))].count++;
  const [p05, p50, p95] = [0.05, 0.5, 0.95].map((p) => quantile(sorted, p));
  return (
    <div ref={ref}>
      {width > 0 && (
        <BarChart
          width={width}
          height={104}
          data={bins}
          margin={{ top: 6, right: 10, bottom: 0, left: 0 }}
          barCategoryGap={1}
          accessibilityLayer={false}
        >
          <XAxis
            dataKey="at"
            type="number"
            domain={[low, high]}
            ticks={[low, p50, high]}
            tickFormatter={(v: number) => formatQuantity(v, 'frequency', { digits: 4 })}
            tick={{ fill: 'var(--quiet)', fontSize: 11 }}
            interval="preserveStartEnd"
            height={18}
            tickLine={false}
          />
          <YAxis hide />
          <Bar dataKey="count" fill="var(--band)" isAnimationActive={false} />
        </BarChart>
      )}
      <p className="reason">
        Nine builds in ten lie between <b className="figures">{formatQuantity(p05, 'frequency')}</b> and{' '}
        <b className="figures">{formatQuantity(p95, 'frequency')}</b>,{' '}
        {formatSigned(100 * (p05 / p50 - 1), 'percent', 1)} and {formatSigned(100 * (p95 / p50 - 1), 'percent', 1)} of
        the middle.
      </p>
    </div>
  );
}
