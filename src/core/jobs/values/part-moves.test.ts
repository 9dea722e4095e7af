import { AcSolver } from '../../analysis/ac/solver';
import { demoDesigns } from '../../design/demo/demo';
import type { Design } from '../../design/document/schema';
import { must } from '../../result';
import { lonePath, typedInto } from '../../testing/lone-path';
import { runHeldBy, runPartMoves } from './part-moves';

const solver = new AcSolver();
const GRID = { fromHz: 20, toHz: 20e3, points: 61 };
const ask = (design: Design) => ({ design, variantId: design.currentVariant });
const rc = typedInto(
  lonePath({ topology: 'first-order-passive', form: 'lowpass', wanted: { freqHz: 1000 } }, { device: 'ideal' }),
  { R1: 1e4, C1: 15e-9 },
);
const [rcStage] = rc.variants[0].ways[0].stages;
const names = Object.keys(rcStage.parts);
const { source, load } = rc.brief;

/** |H| of source resistance and R into C beside the load, dB, by its formula. */
function levelOf(f: number, ohm: number, farad: number): number {
  const series = ohm + source.ohm;
  const dc = load.ohm === null ? 1 : load.ohm / (load.ohm + series);
  return 20 * Math.log10(dc / Math.hypot(1, 2 * Math.PI * f * series * dc * farad));
}

test('an RC’s curve is moved by each part as its formula says, down and up', () => {
  expect(names.sort()).toEqual(['C1', 'R1']);
  for (const [part, level] of [
    ['R1', (f: number, by: number) => levelOf(f, 1e4 * by, 15e-9)],
    ['C1', (f: number, by: number) => levelOf(f, 1e4, 15e-9 * by)],
  ] as const) {
    const moves = must(
      runPartMoves({ kind: 'part-moves', ...ask(rc), stageId: rcStage.id, part, pct: 20, grid: GRID }, solver),
    );
    moves.freqHz.forEach((f, i) => {
      expect(moves.lessDb[i]).toBeCloseTo(level(f, 0.8), 6);
      expect(moves.moreDb[i]).toBeCloseTo(level(f, 1.2), 6);
    });
  }
});

test('what holds a level is what its derivative says: nothing far below the cutoff, both parts alike far above', () => {
  const at = (freqHz: number) => must(runHeldBy({ kind: 'held-by', ...ask(rc), freqHz }, solver));
  for (const holder of at(1)) expect(Math.abs(holder.dbPerPct)).toBeLessThan(0.002);
  // 20 log10 of 1 % more C, where the level falls as 1/C: 0.0869 dB.
  const c1 = at(50e3).find((h) => h.part === 'C1')!;
  expect(c1.dbPerPct).toBeCloseTo(-20 / Math.LN10 / 100, 4);
  const slope = (levelOf(1000, 1e4, 15e-9 * 1.0001) - levelOf(1000, 1e4, 15e-9 * 0.9999)) / 0.02;
  expect(at(1000).find((h) => h.part === 'C1')!.dbPerPct).toBeCloseTo(slope, 5);
});

test('the part that moves most comes first, of whichever stage', () => {
  const design = demoDesigns().find((d) => d.title.startsWith('Swell-box'))!;
  const [way] = design.variants[0].ways;
  const holders = must(runHeldBy({ kind: 'held-by', ...ask(design), freqHz: 4000 }, solver));
  const sizes = holders.map((h) => Math.abs(h.dbPerPct));
  expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
  // At the upper cutoff the low-pass stages hold it, and the high-pass stages an octave of octaves below do not.
  const upper = new Set(way.stages.slice(2).map((s) => s.id));
  expect(holders.slice(0, 4).every((h) => upper.has(h.stageId))).toBe(true);
  expect(new Set(holders.map((h) => `${h.stageId} ${h.part}`)).size).toBe(holders.length);
});

test('a transistor that rests on a resistor is brought to rest anew', () => {
  const stage = lonePath({ topology: 'common-emitter', form: 'divider', wanted: {} });
  const [{ id }] = stage.variants[0].ways[0].stages;
  const holders = must(runHeldBy({ kind: 'held-by', ...ask(stage), freqHz: 1000 }, solver));
  const of = (part: string) => holders.find((h) => h.stageId === id && h.part === part)!.dbPerPct;
  // From a stiff source the base divider carries no signal that counts; what it moves, it moves through the current:
  // more below the base is more current and gain, more above it is less.
  expect(of('R2')).toBeGreaterThan(1e-4);
  expect(of('R1')).toBeLessThan(-1e-4);
});

test('a part that is not there is said', () => {
  const asked = { kind: 'part-moves' as const, ...ask(rc), stageId: rcStage.id, part: 'R9', pct: 10, grid: GRID };
  expect(runPartMoves(asked, solver)).toMatchObject({ ok: false, code: 'no-such-part', data: { part: 'R9' } });
  expect(runHeldBy({ kind: 'held-by', design: rc, variantId: 'none', freqHz: 1 }, solver)).toMatchObject({ ok: false });
});
