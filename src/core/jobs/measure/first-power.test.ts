import { demoDesigns } from '../../design/demo/demo';
import type { Design } from '../../design/document/schema';
import { must } from '../../result';
import { variantDeck } from '../deck/variant-deck';
import { AS_BUILT } from '../../design/compiled/compile';
import { builtVariant } from '../reading/built-variant';
import { JobRunner, type JobAnswers } from '../run-job';
import { designVerb } from '../shell/design-verb';

const runner = new JobRunner();
type Power = JobAnswers['first-power'];

const powerOf = async (design: Design): Promise<Power> =>
  must(await runner.run<'first-power'>({ kind: 'first-power', design, variantId: design.currentVariant }));

const made = (path: Parameters<typeof designVerb>[0]['path'], supply: 'dual' | 'single' = 'dual'): Design =>
  JSON.parse(
    must(
      designVerb({
        path,
        sourceOhm: 0,
        loadOhm: null,
        rails: supply === 'dual' ? 12 : 9,
        supply,
        resistors: 'E24',
        capacitors: 'E6',
        opAmp: 'jfet-audio-3mhz',
      }),
    ),
  ) as Design;
const feedback = (supply: 'dual' | 'single' = 'dual') =>
  made({ topology: 'multiple-feedback', form: 'lowpass', wanted: { freqHz: 1000, q: 0.7 } }, supply);
const wah = () => demoDesigns().find((d) => /wah/i.test(d.title)) as Design;

const chosenOf = (design: Design): Map<string, number> =>
  new Map(
    must(builtVariant(design, design.currentVariant))
      .ways.flatMap((w) => w.stages)
      .flatMap((s) => s.parts.map((p) => [p.spec.name, p.chosen] as const)),
  );

test('an op-amp’s output rests at ground, as near as its offset times its noise gain and the meter allow', async () => {
  const design = feedback();
  const { expected, from, supplyAmps } = await powerOf(design);
  expect(expected).toEqual([expect.objectContaining({ name: 'U1 out', volts: 0 })]);
  expect(from).toBe('ground');
  expect(supplyAmps).toBeCloseTo(1.4e-3, 6);
  // R1 from the source, R2 from the output to their joint, no direct current beyond it: noise gain 1 + R2/R1.
  const chosen = chosenOf(design);
  const gain = 1 + (chosen.get('R2') ?? NaN) / (chosen.get('R1') ?? NaN);
  expect(expected[0].withinVolts / 1.96).toBeCloseTo(Math.hypot(0.002, 0.003 * gain), 4);
});

test('of a single supply all is counted from its minus', async () => {
  const { expected, from } = await powerOf(feedback('single'));
  expect(from).toBe('lower rail');
  expect(expected[0].volts).toBeCloseTo(4.5, 9);
});

test('a circuit that nothing supplies has nothing to be read', async () => {
  const power = await powerOf(made({ topology: 'twin-t', form: undefined, wanted: { notchHz: 1000 } }));
  expect(power).toMatchObject({ expected: [], supplyAmps: null });
});

const deckOf = (design: Design): string =>
  must(variantDeck(design, must(builtVariant(design, design.currentVariant)).variant, AS_BUILT));
/** V from signal ground at every node of a deck, by its name there. */
const restOfDeck = async (deck: string) =>
  must(await runner.run<'operating-point'>({ kind: 'operating-point', deck })).nodes;
const inDeck = (node: string): string => node.replace(/[^\w.]/g, '_').toLowerCase();

test('nodes of a transistor stage are what its deck rests at, a meter’s load apart', async () => {
  const design = wah();
  const rest = await restOfDeck(deckOf(design));
  const { expected } = await powerOf(design);
  const told = expected.filter(({ node }) => inDeck(node) in rest);
  expect(told.length).toBeGreaterThan(5);
  for (const { node, volts, withinVolts } of told) {
    // Of a battery of 9 V: counted from its minus.
    const there = rest[inDeck(node)] + 4.5;
    expect(Math.abs(volts - there)).toBeLessThan(0.01 * there + 1e-3);
    // The meter itself is no better; a node that junctions hold is known less well than one that is tied.
    expect(withinVolts / 1.96).toBeGreaterThanOrEqual(0.002);
    if (there > 0.3) expect(withinVolts / 1.96).toBeGreaterThan(0.02);
  }
});

type Asked = Parameters<typeof runner.run<'rank-faults'>>[0];
const rank = async (design: Design, readings: { node: string; volts: number }[], measured: Asked['measured'] = []) =>
  must(
    await runner.run<'rank-faults'>({
      kind: 'rank-faults',
      design,
      variantId: design.currentVariant,
      measured,
      readings,
    }),
  );

test('an output at its rail is a dead op-amp or lost feedback; one near ground is nothing', async () => {
  const design = feedback();
  const [{ node }] = (await powerOf(design)).expected;
  expect((await rank(design, [{ node, volts: 0.004 }])).healthy).toBeGreaterThan(0.5);
  const { healthy, ranked } = await rank(design, [{ node, volts: 10.6 }]);
  expect(healthy).toBeLessThan(0.01);
  // R2 is its only path for direct current.
  expect(
    ranked
      .slice(0, 2)
      .map(({ kind, parts }) => [kind, ...parts].join(' '))
      .sort(),
  ).toEqual(['dead U1', 'open R2']);
});

/** A part, and those that cannot be told from it. */
const named = ({ parts, sameAs }: JobAnswers['rank-faults']['ranked'][number]) => [parts[0], ...sameAs];

/** A wah whose deck has one resistor wrong: what a meter reads of it, and what a sweep at its output gives. */
async function wrongWah(part: string, factor: number) {
  const design = wah();
  const deck = deckOf(design).replace(
    new RegExp(`^(${part} \\S+ \\S+) (\\S+)$`, 'm'),
    (_, card: string, ohm: string) => `${card} ${Number(ohm) * factor}`,
  );
  const rest = await restOfDeck(deck);
  const nodes = (await powerOf(design)).expected.map((e) => e.node);
  const freqHz = Array.from({ length: 121 }, (_, i) => 20 * 10 ** (i / 40));
  const heard = must(
    await runner.run<'response'>({ kind: 'response', deck, probe: 'out', freqHz: Float64Array.from(freqHz) }),
  );
  return {
    design,
    readings: nodes.flatMap((node) => (inDeck(node) in rest ? [{ node, volts: rest[inDeck(node)] }] : [])),
    measured: [
      {
        probe: 'out',
        freqHz,
        levelDb: [...heard.levelDb],
        phaseDeg: [...heard.phaseDeg],
        noiseDb: null,
        uncalibrated: false,
      },
    ],
  };
}

test('a wah with a wrong bias resistor is found from volts alone, with the one that does the same', async () => {
  const { design, readings } = await wrongWah('R3', 3.3);
  const { healthy, ranked, values } = await rank(design, readings);
  expect(healthy).toBeLessThan(1e-3);
  // R3 feeds the base and R4 takes from it: a wrong ratio is all that volts have of them.
  expect(named(ranked[0]).sort()).toEqual(['R3', 'R4']);
  const own = ranked.find((r) => r.parts[0] === 'R3');
  const chosen = values.find((v) => v.designator === 'R3')?.chosen ?? NaN;
  expect(Math.abs((own?.value ?? NaN) / chosen / 3.3 - 1)).toBeLessThan(0.03);
});

test('what volts alone leave open a sweep decides: emitter’s resistor or collector’s', async () => {
  const { design, readings, measured } = await wrongWah('R7', 2.2);
  expect(named((await rank(design, readings)).ranked[0])).toEqual(expect.arrayContaining(['R6', 'R7']));
  const { ranked, values } = await rank(design, readings, measured);
  expect(named(ranked[0])).toEqual(['R7']);
  expect(ranked[0].probability).toBeGreaterThan(0.95);
  const chosen = values.find((v) => v.designator === 'R7')?.chosen ?? NaN;
  expect(Math.abs((ranked[0].value ?? NaN) / chosen / 2.2 - 1)).toBeLessThan(0.03);
});
