'use client';

import { useMemo } from 'react';
import { levelAt } from '@/core/analysis/marks';
import { limitSpan } from '@/core/filter/brief-mask';
import { usePlot } from '@/ui/chart/chart-frame';
import { Band, Clipped, Trace } from '@/ui/chart/trace-layer';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits';
import { useResults } from '@/store/results';
import { useView } from '@/store/view';
import { differenceOf } from './axes';
import { markName } from './mark-words';
import { placeLabels } from './label-places';
import { useSpreadBand, useShownTraces } from './use-shown';

/** All level curves of the response view. */
export function LevelTraces() {
  const traces = useShownTraces();
  return traces.map((t) => (
    <Trace key={t.key} x={t.freqHz} y={t.levelDb} className={t.kind} testId={`trace-${t.kind}`} />
  ));
}

export function PhaseTraces() {
  const traces = useShownTraces();
  return traces.map((t) =>
    t.phaseDeg ? <Trace key={t.key} x={t.freqHz} y={t.phaseDeg} className={`phase ${t.kind}`} /> : null,
  );
}

export function DelayTraces() {
  const traces = useShownTraces();
  return traces.map((t) =>
    t.delayS ? (
      <Trace key={t.key} x={t.freqHz} y={Float64Array.from(t.delayS, (s) => 1000 * s)} className={t.kind} />
    ) : null,
  );
}

export function SpreadBand() {
  const spread = useSpreadBand();
  const on = useView((s) => s.shown.spread);
  if (!spread || !on) return null;
  const { freqHz, p05Db, p95Db, minDb, maxDb } = spread.band;
  const stale = spread.stale ? ' stale' : '';
  return (
    <g data-testid="spread-band">
      <Band x={freqHz} low={minDb} high={maxDb} className={`spread-band outer${stale}`} />
      <Band x={freqHz} low={p05Db} high={p95Db} className={`spread-band${stale}`} />
    </g>
  );
}

/** The curves over the whole rotation of the control in hand, faint, so that the one at its position stands out. */
export function FamilyTraces() {
  const turn = useResults((s) => s.turn);
  const on = useView((s) => s.shown.family);
  const controls = useDesign((d) => currentVariantOf(d).controls);
  if (!on || !turn || !controls.some((c) => c.id === turn.controlId)) return null;
  return (
    <g data-testid="family">
      {turn.family.map((f) => (
        <Trace key={f.position} x={turn.freqHz} y={f.levelDb} className="family" />
      ))}
    </g>
  );
}

/** All bands of a bank, faint, and their sum. */
export function BankTraces() {
  const bank = useResults((s) => s.bank);
  const on = useView((s) => s.shown.bank);
  if (!bank || !on) return null;
  return (
    <g data-testid="bank-traces">
      {bank.bands.map((b) => (
        <Trace key={b.wayId} x={bank.freqHz} y={b.levelDb} className="family" />
      ))}
      <Trace x={bank.freqHz} y={bank.sumDb} className="taps" testId="trace-sum" />
    </g>
  );
}

/** What would meet the brief, faint; the one pointed at stands out. */
export function MatchTraces() {
  const matches = useResults((s) => s.matches);
  const pointed = useView((s) => s.pointedMatch);
  const onBrief = useView((s) => s.task === 'brief');
  if (!matches || !onBrief) return null;
  return (
    <g data-testid="match-traces">
      {matches.matches.map((m, i) => (
        <Trace key={i} x={matches.freqHz} y={m.levelDb} className={i === pointed ? 'ghost' : 'family'} />
      ))}
    </g>
  );
}

export function DifferenceTrace() {
  const desk = useResults((s) => s.desk);
  const difference = useMemo(() => (desk ? differenceOf(desk) : null), [desk]);
  return desk && difference ? (
    <Trace x={desk.freqHz} y={difference} className="asBuilt" testId="trace-difference" />
  ) : null;
}

/** What the brief forbids, shaded, with its edge dashed. */
export function BriefLimits() {
  const mask = useDesign((d) => d.brief.mask);
  const referenceDb = useResults((s) => s.desk?.passLevelDb ?? 0);
  const verdicts = useResults((s) => s.desk?.brief);
  const on = useView((s) => s.shown.brief);
  if (!on) return null;
  return (
    <Clipped>
      {(plot, clip) => (
        <g clipPath={clip} data-testid="brief-limits">
          {mask.map((limit) => {
            const edge = plot.x(limit.freqHz);
            const level = plot.y(referenceDb - limit.db);
            const end = limitSpan(limit, mask)[limit.side === 'below' ? 0 : 1];
            const far = end === 0 ? plot.area.x : end === Infinity ? plot.area.x + plot.area.width : plot.x(end);
            const [x0, x1] = [Math.min(edge, far), Math.max(edge, far)];
            const [y0, y1] = limit.kind === 'at-most' ? [level, plot.area.y + plot.area.height] : [plot.area.y, level];
            const missed = verdicts?.find((v) => v.limitId === limit.id)?.met === false;
            return (
              <g key={limit.id} className={missed ? 'limit missed' : 'limit'}>
                <rect x={x0} y={y0} width={Math.max(0, x1 - x0)} height={Math.max(0, y1 - y0)} />
                <path d={`M${x0} ${level}H${x1}M${edge} ${y0}V${y1}`} />
              </g>
            );
          })}
        </g>
      )}
    </Clipped>
  );
}

const LABEL_HEIGHT = 14;
const LETTER = 6.7;

/** Cutoff, slope and peak find themselves on the as-built curve. */
export function MarkLayer() {
  const desk = useResults((s) => s.desk);
  const on = useView((s) => s.shown.asBuilt);
  const flipped = useView((s) => s.flipped && s.ghostVariant !== null);
  const plot = usePlot();
  if (!plot || !desk || !on || flipped) return null;
  const { area } = plot;
  const inView = desk.marks.filter(
    (m) =>
      plot.x(m.freqHz) >= area.x &&
      plot.x(m.freqHz) <= area.x + area.width &&
      plot.y(m.levelDb) <= area.y + area.height &&
      plot.y(m.levelDb) >= area.y,
  );
  const span = desk.freqHz;
  const inked = (px: number): number[] => {
    const f = span[0] * (span[span.length - 1] / span[0]) ** ((px - area.x) / area.width);
    return [desk.asBuilt.levelDb, desk.ideal.levelDb].map((levels) => plot.y(levelAt(span, levels, f)));
  };
  const texts = inView.map(markName);
  const places = placeLabels(
    inView.map((m, i) => ({
      key: `${i}`,
      x: plot.x(m.freqHz),
      y: plot.y(m.levelDb),
      width: texts[i].length * LETTER,
      height: LABEL_HEIGHT,
      side: 'falling' in m && !m.falling ? 'left' : 'right',
    })),
    area,
    inked,
  );
  return (
    <g className="marks" aria-hidden="true">
      {inView.map((mark, i) => (
        <g key={i} data-testid={`mark-${mark.kind}`}>
          {mark.kind !== 'slope' && <circle cx={plot.x(mark.freqHz)} cy={plot.y(mark.levelDb)} r={3} />}
          <text x={places[i].x} y={places[i].y + 4}>
            {texts[i]}
          </text>
        </g>
      ))}
    </g>
  );
}
