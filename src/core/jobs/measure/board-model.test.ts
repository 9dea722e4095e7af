import { AcSolver } from '../../analysis/ac/solver';
import { demoDesigns } from '../../design/demo/demo';
import type { Design } from '../../design/document/schema';
import { logGrid } from '../../math/grid';
import { observationOf, SHARE_OFF } from '../../measure/observation';
import { differences } from '../../measure/posterior';
import { must } from '../../result';
import { builtVariant } from '../reading/built-variant';
import { BoardModel, type Seen } from './board-model';
import { placeAt, probesOf, responseAt } from './probes';

const solver = new AcSolver();
const designs = demoDesigns();
const named = (part: string): Design => designs.find((d) => d.title.includes(part)) ?? designs[0];

function modelOf(design: Design, place: string, uncalibrated = false) {
  const built = must(builtVariant(design, design.currentVariant));
  const probe = must(placeAt(design, built.variant, built, place));
  const freqHz = logGrid(30, 15e3, 50);
  const response = must(responseAt(built.circuit, probe, freqHz, solver));
  const curve = observationOf({
    freqHz,
    levelDb: freqHz.map((_, i) => 10 * Math.log10(response[2 * i] ** 2 + response[2 * i + 1] ** 2)),
    phaseDeg: freqHz.map((_, i) => (Math.atan2(response[2 * i + 1], response[2 * i]) * 180) / Math.PI),
    noiseDb: null,
  });
  const seen: Seen = { probe, built, curve, uncalibrated };
  return { model: new BoardModel(built, [seen], solver), built, probe };
}

test.each([
  ['Swell-box', 'out'],
  ['Swell-box', 'after stage 2'],
  ['Krummhorn', 'out'],
  ['Tone cabinet, two-way', 'sum'],
  ['Tone cabinet, two-way', 'Tweeter'],
])('slopes by the adjoint are the differences: %s at %s', (title, place) => {
  const { model } = modelOf(named(title), place);
  const residuals = model.residuals(SHARE_OFF);
  const state = Float64Array.from(model.beliefs, (_, i) => 0.01 * Math.sin(i + 1));
  const here = residuals(state);
  const exact = model.slopes(SHARE_OFF)(state);
  if (!here || !exact) throw new Error('no answer');
  const near = differences(residuals, here, state);
  expect(exact).toHaveLength(near.length);
  const size = Math.max(...near.map((row) => Math.max(...row.map(Math.abs))));
  exact.forEach((row, i) => row.forEach((v, k) => expect(Math.abs(v - near[i][k])).toBeLessThan(2e-3 * size)));
});

test('of circuits that bend there are none: differences are taken, the rest moving with the parts', () => {
  const { model } = modelOf(named('ladder'), 'out');
  const state = new Float64Array(model.beliefs.length);
  expect(model.slopes(SHARE_OFF)(state)).toBeNull();
  const here = model.residuals(SHARE_OFF)(state);
  expect(here && Math.max(...here.map(Math.abs))).toBeLessThan(0.5);
});

test('a board as designed leaves nothing, and every part has a number of its own', () => {
  const { model, built } = modelOf(named('Swell-box'), 'out');
  const left = model.residuals(SHARE_OFF)(new Float64Array(model.beliefs.length));
  expect(left && Math.max(...left.map(Math.abs))).toBeLessThan(0.02);
  const elements = new Set(built.parts.map(({ stageId, wayId, part }) => `${stageId ?? wayId}.${part}`));
  expect(new Set(model.parts.map((p) => p.element))).toEqual(elements);
  // Two numbers more for the level and delay of the one curve.
  expect(model.beliefs).toHaveLength(elements.size + 2);
});

test('a recording that no card was divided out of may be louder and later at no cost to speak of', () => {
  const shifted = (uncalibrated: boolean) => {
    const { model } = modelOf(named('Swell-box'), 'out', uncalibrated);
    const state = new Float64Array(model.beliefs.length);
    // Twice as loud, 30 µs late.
    state[state.length - 2] = Math.log(2);
    state[state.length - 1] = 3;
    return model.beliefs.reduce((sum, b, i) => sum + (state[i] / b.sigma) ** 2, 0);
  };
  expect(shifted(true)).toBeLessThan(1);
  expect(shifted(false)).toBeGreaterThan(1e4);
});

test('parts of one batch have what they share, and what is left to each', () => {
  const design = structuredClone(named('Swell-box'));
  const variant = design.variants.find((v) => v.id === design.currentVariant);
  const [first, second] = variant?.ways[0].stages ?? [];
  if (!variant || !first || !second) throw new Error('two stages are wanted');
  variant.batches = [
    { id: 'reel', name: 'reel', matchPct: 1, parts: [first, second].map(({ id }) => ({ stage: id, part: 'C1' })) },
  ];
  const { model } = modelOf(design, 'out');
  const reel = model.parts[model.indexOf('reel')];
  expect(reel.members).toEqual([`${first.id}.C1`, `${second.id}.C1`]);
  const own = model.parts[model.indexOf(`${first.id}.C1`)];
  expect(own.belief.most).toBeCloseTo(0.01, 9);
  expect((reel.belief.most ?? 0) + (own.belief.most ?? 0)).toBeCloseTo(
    (design.preferences.capacitorTolerancePct ?? 0) / 100,
    9,
  );
});

test('the output of a crossover is its first way’s end under one name: no other place to be mistaken for', () => {
  const design = named('Tone cabinet, two-way');
  const { built } = modelOf(design, 'sum');
  const probes = probesOf(design, built.variant, built);
  const out = must(placeAt(design, built.variant, built, 'out'));
  expect(probes.map((p) => p.id)).toContain(out.id);
  expect(out.name).toBe(built.variant.ways[0].name);
  expect(must(placeAt(design, built.variant, built, undefined)).id).toBe(out.id);
});

test('places have names of their own, and nodes answer to theirs in a deck', () => {
  const design = named('Swell-box');
  const { built } = modelOf(design, 'out');
  const ids = probesOf(design, built.variant, built).map((p) => p.id);
  expect(new Set(ids).size).toBe(ids.length);
  const joint = built.ways[0].joints[1];
  const inDeck = joint.replace(/[^\w.]/g, '_').toUpperCase();
  expect(must(placeAt(design, built.variant, built, inDeck)).terms[0].node).toBe(
    must(placeAt(design, built.variant, built, 'after stage 1')).terms[0].node,
  );
});
