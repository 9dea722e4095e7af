'use client';

import { levelAt } from '@/core/analysis/curves/marks';
import { limitSpan, upOf } from '@/core/filter/brief-mask';
import { formatSigned } from '@/core/units/quantity';
import { usePlot } from '@/ui/chart/chart-frame';
import { Band, Clipped, Trace } from '@/ui/chart/trace-layer';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { BANK, DESK, MOVED_PCT, PART_MOVES, TURN } from '@/store/questions/live';
import { LATE_OPACITY } from '@/ui/late-note';
import { useLiveAnswer, useIsLate } from '@/store/questions/question';
import { MATCH } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { useDesignators } from '@/store/use-designators';
import { useComparison } from '@/store/curves/comparison';
import { useHeldBy } from '@/store/curves/use-held-by';
import { useView } from '@/store/view';
import { markName } from './mark-words';
import { placeLabels } from './label-places';
import { useSpreadBand, useShownTraces } from '@/store/curves/use-shown';

/** All level curves of the response view. */
export function LevelTraces() {
  const traces = useShownTraces();
  return traces.map((t) => (
    <Trace key={t.key} x={t.freqHz} y={t.levelDb} className={t.look ?? t.kind} testId={`trace-${t.kind}`} />
  ));
}

export function PhaseTraces() {
  const traces = useShownTraces();
  return traces.map((t) =>
    t.phaseDeg ? <Trace key={t.key} x={t.freqHz} y={t.phaseDeg} className={`phase ${t.look ?? t.kind}`} /> : null,
  );
}

export function DelayTraces() {
  const traces = useShownTraces();
  return traces.map((t) =>
    t.delayS ? (
      <Trace key={t.key} x={t.freqHz} y={Float64Array.from(t.delayS, (s) => 1000 * s)} className={t.look ?? t.kind} />
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

/** px: how far the words stand from the cursor's line, and from the foot of the chart. */
const BESIDE_PX = 6;
/** px: from the top of the chart to its first line of words. */
const LINE_PX = 16;

/** What the part that is pointed at moves: where the curve goes with it so much smaller and larger. */
export function PartMovesBand() {
  const moves = useLiveAnswer(PART_MOVES);
  const pointed = useView((s) => s.pointed);
  const called = useDesignators();
  const plot = usePlot();
  if (!moves || !pointed || !plot) return null;
  const { area } = plot;
  return (
    <g data-testid="part-moves">
      <Band x={moves.freqHz} low={moves.lessDb} high={moves.moreDb} className="spread-band" />
      <Trace x={moves.freqHz} y={moves.lessDb} className="ghost" />
      <Trace x={moves.freqHz} y={moves.moreDb} className="family" />
      <g className="marks">
        <text x={area.x + area.width - BESIDE_PX} y={area.y + LINE_PX} textAnchor="end">
          {called(pointed.stageId, pointed.parts[0])} ± {MOVED_PCT}&#8239;%, smaller dashed
        </text>
      </g>
    </g>
  );
}

/** px: advance of one glyph of the figures' face at the size of a mark. */
const GLYPH_PX = 6.6;

/** What one per cent of each part does to the level under the cursor: beside the cursor's line, inside the chart. */
export function HeldBy() {
  const holders = useHeldBy();
  const called = useDesignators();
  const cursor = useView((s) => s.cursor);
  const plot = usePlot();
  if (!plot || cursor === null || holders.length === 0) return null;
  const { area } = plot;
  const each = holders.map((h) => `${called(h.stageId, h.part)} ${formatSigned(h.dbPerPct, 'ratio', 2)}`).join(', ');
  const words = `per 1\u202f%: ${each}\u202fdB`;
  const wide = words.length * GLYPH_PX;
  const at = plot.x(cursor);
  const [first, last] = [area.x + BESIDE_PX, area.x + area.width - BESIDE_PX - wide];
  const beside = at > area.x + area.width / 2 ? at - BESIDE_PX - wide : at + BESIDE_PX;
  return (
    <g className="marks">
      <text x={Math.max(first, Math.min(beside, last))} y={area.y + area.height - BESIDE_PX} data-testid="held-by">
        {words}
      </text>
    </g>
  );
}

/** Shades from one end of a rotation to the other. */
const ALONG_STEPS = 10;
const SHADE_PX = 8;
/** px: a narrower chart has room for the scale alone. */
const NAMED_PX = 480;

/** Which shade stands for which end of the control. */
function RotationScale({ name }: { name: string }) {
  const plot = usePlot();
  if (!plot) return null;
  const { area } = plot;
  const width = (ALONG_STEPS + 1) * SHADE_PX;
  const [right, y] = [area.x + area.width - 34, area.y + BESIDE_PX + 4];
  return (
    <g className="marks" aria-hidden="true" data-testid="rotation-scale">
      <text x={right - width - BESIDE_PX} y={y + 7} textAnchor="end">
        {area.width < NAMED_PX ? '' : name} 0
      </text>
      {Array.from({ length: ALONG_STEPS + 1 }, (_, i) => (
        <rect
          key={i}
          className={`along-${i}`}
          x={right - width + i * SHADE_PX}
          y={y}
          width={SHADE_PX}
          height={SHADE_PX}
        />
      ))}
      <text x={right + BESIDE_PX - 2} y={y + 7}>
        1
      </text>
    </g>
  );
}

/** The curves over the whole rotation of the control in hand, faint, so that the one at its position stands out. */
export function FamilyTraces() {
  const turn = useLiveAnswer(TURN);
  const late = useIsLate(TURN);
  const on = useView((s) => s.shown.family);
  const controls = useDesign((d) => currentVariantOf(d).controls);
  if (!on || !turn || !controls.some((c) => c.id === turn.controlId)) return null;
  return (
    <g data-testid="family" opacity={late ? LATE_OPACITY : undefined}>
      {turn.family.map((f) => (
        <Trace
          key={f.position}
          x={turn.freqHz}
          y={f.levelDb}
          className={`family along-${Math.round(ALONG_STEPS * f.position)}`}
        />
      ))}
      <RotationScale name={controls.find((c) => c.id === turn.controlId)?.name ?? ''} />
    </g>
  );
}

/** All bands of a bank, faint, and their sum. */
export function BankTraces() {
  const bank = useLiveAnswer(BANK);
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
  const matches = useLongJob(MATCH).result?.value;
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
  const comparison = useComparison();
  return comparison ? (
    <Trace x={comparison.freqHz} y={comparison.differenceDb} className="asBuilt" testId="trace-difference" />
  ) : null;
}

/** What the brief forbids, shaded, with its edge dashed. */
export function BriefLimits() {
  const mask = useDesign((d) => d.brief.mask);
  const referenceDb = useLiveAnswer(DESK, (d) => d.passLevelDb) ?? 0;
  const verdicts = useLiveAnswer(DESK, (d) => d.brief);
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
            const missed = verdicts?.find((v) => v.limitId === limit.id)?.met === false;
            const bottom = plot.area.y + plot.area.height;
            // A pass limit forbids what lies under its corridor and what lies over it; a stop limit what lies over it.
            const forbidden =
              limit.kind === 'at-most'
                ? [
                    { level, to: bottom },
                    { level: plot.y(referenceDb + upOf(limit)), to: plot.area.y },
                  ]
                : [{ level, to: plot.area.y }];
            return (
              <g key={limit.id} className={missed ? 'limit missed' : 'limit'}>
                {forbidden.map(({ level: at, to }) => (
                  <g key={to}>
                    <rect x={x0} y={Math.min(at, to)} width={Math.max(0, x1 - x0)} height={Math.abs(to - at)} />
                    <path d={`M${x0} ${at}H${x1}M${edge} ${at}V${to}`} />
                  </g>
                ))}
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
  const desk = useLiveAnswer(DESK);
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
          {places[i].free && (
            <text x={places[i].x} y={places[i].y + 4}>
              {texts[i]}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}
