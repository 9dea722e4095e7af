import { AcSolver } from '../../analysis/ac/solver';
import { levelsDb } from '../../analysis/curves/response';
import { linearise } from '../../analysis/rest/linearise';
import { operatingPoint } from '../../analysis/rest/operating-point';
import { assemble } from '../../circuit/structure';
import { readDeck } from '../../format/deck/read-deck';
import { variantDeck } from '../../jobs/deck/variant-deck';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { controlledDesign } from '../../testing/controlled-design';
import { lonePath } from '../../testing/lone-path';
import { NETWORK_TOPOLOGIES } from '../../topology/index';
import { usualChain } from '../../topology/voice/control/index';
import { buildSheet } from './build-sheet';
import { stripParts } from './strip-parts';
import { AS_BUILT, compile } from '../compiled/compile';
import { designatorsOf } from '../stages/designators';
import type { Design } from '../document/schema';
import { valuesOf } from '../stages/stage-design';
import { drawingOf } from '../stages/stage-drawing';
import { stageTopology } from '../stages/stage-topology';

const VOICES = NETWORK_TOPOLOGIES.filter((t) => t.family === 'voltage-controlled' && !t.oneTransistor);
const designOf = (topology: (typeof VOICES)[number]): Design => {
  const chain = usualChain(topology, topology.modes[0]);
  return chain ? controlledDesign(topology, chain.id) : lonePath({ topology: topology.id }, {});
};

const DEVICES = /^(npn|pnp|n-jfet|diode|ota|ota-with-pin|optocoupler|.*op-amp)$/;

test('there are ten voices and more', () => expect(VOICES.length).toBeGreaterThanOrEqual(10));

describe.each(VOICES.map((topology) => ({ id: topology.id, topology })))('$id', ({ topology }) => {
  const design = designOf(topology);
  const [variant] = design.variants;
  const compiled = must(compile(design, variant, AS_BUILT));
  const [designed] = compiled.ways[0].stages;
  const names = designatorsOf(compiled.ways);
  const sheet = must(buildSheet(design, variant));
  const called = (part: string) => names.get(`${designed.stage.id}.${part}`)!;

  test('every part is on the list, in the drawing and in the deck, by one designator', () => {
    const listed = sheet.parts.flatMap((line) => line.references);
    const drawing = drawingOf(
      stageTopology(designed.stage, { plans: [] }),
      designed.form,
      valuesOf(designed, 'chosen'),
    );
    const drawn = new Set([
      ...drawing.parts.map((p) => p.part),
      ...drawing.opAmps.map((o) => o.name),
      ...(drawing.devices ?? []).map((d) => d.name),
    ]);
    const deck = must(variantDeck(design, variant, AS_BUILT)).toLowerCase();
    const carded = (name: string) => new RegExp(`^(?:[a-z]_)?${name.toLowerCase()}[ab]?(?=[ _.])`, 'm');
    for (const { spec } of designed.parts) {
      expect(drawn).toContain(spec.name);
      // In halves, a and b, where it is two parts in one place.
      if (!spec.given) expect(listed).toContainEqual(expect.stringMatching(`^${called(spec.name)}[ab]?$`));
      if (spec.kind !== 'current') expect(deck).toMatch(carded(called(spec.name)));
    }
    // Op-amps, OTAs and transistors too.
    const devices = compiled.netlist.elements.flatMap(({ name, definition }) =>
      name.startsWith(`${designed.stage.id}.`) && DEVICES.test(definition.kind)
        ? [name.slice(designed.stage.id.length + 1).split('.')[0]]
        : [],
    );
    for (const device of new Set(devices)) {
      expect(listed).toContain(called(device));
      expect(drawn).toContain(device);
      expect(deck).toMatch(carded(called(device)));
    }
  });

  test('the deck read back gives the circuit’s own curve', () => {
    const grid = logGrid(20, 20e3, 21);
    const solver = new AcSolver();
    const direct = levelsDb(must(solver.sweep(compiled.circuit, grid, [compiled.ways[0].output]))[0]);
    const read = assemble(must(readDeck(must(variantDeck(design, variant, AS_BUILT)))).netlist);
    const small = compiled.live ? linearise(read, must(operatingPoint(read))) : read;
    const again = levelsDb(must(solver.sweep(small, grid, ['out']))[0]);
    direct.forEach((level, i) => expect(again[i]).toBeCloseTo(level, 4));
  });

  test('jacks and sockets, supply and its capacitors are listed besides; a board has every lead', () => {
    const said = sheet.besides.map((b) => b.name).join('; ');
    expect(said).toContain('jack');
    expect(said).toMatch(/supply connector|battery/);
    const jacks = sheet.besides.find((b) => b.name.includes('switched'))?.count ?? 0;
    expect(jacks).toBe(designed.parts.filter((p) => p.spec.kind === 'voltage').length);
    const { parts, leaving } = must(stripParts(design, variant));
    const leads = new Set([...parts.map((p) => p.reference), ...leaving.map((l) => l.label.split(' ')[0])]);
    for (const { spec, choice } of designed.parts)
      if (!choice.leftOut && spec.kind !== 'current') expect(leads).toContain(called(spec.name));
  });
});

test('one battery is halved by two resistors and held by what its impedance asks for', () => {
  const ladder = VOICES.find((t) => t.id === 'transistor-ladder')!;
  const design = controlledDesign(ladder, 'exponential-converter', {
    supply: { kind: 'single', volts: 9, virtualGroundOhm: 10 },
  });
  const { besides } = must(buildSheet(design, design.variants[0]));
  // 1/(2π 20 Hz 10 Ω) is 796 µF, and the next that can be had 1000 µF.
  expect(besides.find((b) => b.why.startsWith('holds'))?.name).toMatch(/^1\smF|^1000\sµF/);
  expect(besides.find((b) => b.why.startsWith('halve'))?.count).toBe(2);
});
