import { AcSolver } from '../../analysis/ac/solver';
import { levelsDb } from '../../analysis/curves/response';
import { smallSignalElements } from '../../analysis/rest/small-signal';
import { AS_BUILT, compile, compileStage } from '../../design/compiled/compile';
import { createDesign } from '../../design/making/create';
import { readDesign } from '../../design/document/migrate';
import type { Design, Stage } from '../../design/document/schema';
import { designStage } from '../../design/stages/stage-design';
import { deskOf } from '../../testing/desk-of';
import { runResponse } from '../../jobs/deck/deck-analyses';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { drawingFaults } from '../../topology/testing/drawing-faults';
import { deckNodes, deckTopology, type DeckStage } from './deck-topology';
import { readDeck } from './read-deck';

const solver = new AcSolver();
let made = 0;
const makeId = () => `d${made++}`;
const bridged = `Bridged T
Vin in 0 AC 1
R1 in a 10k
R2 a out 10k
C1 in out 10n
C2 a 0 22n
R3 out 0 100k
`;
const amplifier = `One transistor
Vcc cc 0 9
Vin in 0 AC 1
C1 in b 1u
R1 cc b 68k
R2 b 0 12k
Q1 c b e small
R3 cc c 4.7k
R4 e 0 1k
C2 c out 10u
R5 out 0 47k
.model small npn(IS=1e-14 BF=200 CJC=4p TF=0.4n)
`;
const coils = `Two coils that see one another
Vin in 0 AC 1
L1 in a 2.2m
L2 a out 1.1m
K1 L1 L2 0.3
C1 out 0 10u
R1 out 0 8
E1 tap 0 out 0 2
R2 tap 0 1k
`;

const stageOf = (deck: DeckStage, parts: Stage['parts'] = {}): Stage => ({
  id: 'deck-1',
  topology: 'deck',
  target: { kind: 'deck', ...deck },
  parts,
  device: 'ideal',
  output: 'out',
  mode: 'normal',
  bypassed: false,
});

function designWith(deck: DeckStage, parts: Stage['parts'] = {}): Design {
  const design = createDesign('deck', () => [], makeId);
  return {
    ...design,
    brief: { ...design.brief, source: { name: 's', ohm: 0 }, load: { name: 'l', ohm: null } },
    variants: design.variants.map((v) => ({
      ...v,
      ways: v.ways.map((way) => ({ ...way, stages: [stageOf(deck, parts)] })),
    })),
  };
}

test.each([
  ['parts only', bridged],
  ['a transistor', amplifier],
  ['coupled coils and a controlled source', coils],
])('as a stage, a deck with %s does what it does by itself', async (_, text) => {
  const freqHz = logGrid(10, 100e3, 41);
  const alone = must(await runResponse({ kind: 'response', deck: text, probe: 'out', freqHz }, solver));
  const deck = { text, input: 'in', output: 'out' };
  const designed = must(
    designStage(
      stageOf(deck),
      null,
      createDesign('', () => [], makeId),
    ),
  );
  const [response] = must(
    solver.sweep(compileStage(designWith(deck), designed, { values: 'exact', devices: 'ideal' }), freqHz, ['out']),
  );
  levelsDb(response).forEach((level, i) => expect(level).toBeCloseTo(alone.levelDb[i], 6));
});

test('it takes part in the desk: loaded, checked, drawn, with its parts to choose', () => {
  const deck = { text: bridged, input: 'in', output: 'out' };
  const values = { R1: { use: { kind: 'single' as const, values: [12e3] } } };
  const design = designWith(deck, values);
  expect(readDesign(JSON.parse(JSON.stringify(design)))).toMatchObject({ ok: true });
  const desk = deskOf(design);
  expect(desk.stages[0].name).toBe('Bridged T');
  expect(desk.stages[0].parts.map((p) => [p.name, p.exact])).toEqual([
    ['R1', 10e3],
    ['R2', 10e3],
    ['C1', 10e-9],
    ['C2', 22e-9],
    ['R3', 100e3],
  ]);
  expect(desk.stages[0].parts[0].chosen).toBe(12e3);
  const built = must(compile(design, design.variants[0], AS_BUILT));
  expect(built.netlist.elements.filter((e) => e.name.startsWith('deck-1.'))).toHaveLength(5);
});

test('its drawing shows every part once, with no label on another', () => {
  for (const text of [bridged, amplifier, coils]) {
    const topology = must(deckTopology({ text, input: 'in', output: 'out' }));
    const values = Object.fromEntries(topology.parts('normal').map((p) => [p.name, 47.5e3]));
    expect(
      drawingFaults(
        topology.drawing('normal', values),
        topology.parts('normal').map((spec) => ({ spec })),
        values,
      ),
    ).toEqual([]);
  }
  expect(must(deckTopology({ text: amplifier, input: 'in', output: 'out' })).drawing('normal', {}).devices).toEqual([
    expect.objectContaining({ name: 'Q1', symbol: 'npn' }),
  ]);
  expect(must(deckTopology({ text: amplifier, input: 'in', output: 'out' })).cautions[0]).toContain(
    'VCC (voltage-source)',
  );
});

test('a coil that is left out takes its coupling with it', () => {
  const deck = { text: coils, input: 'in', output: 'out' };
  const design = designWith(deck, { L2: { leftOut: true } });
  const built = must(compile(design, design.variants[0], AS_BUILT));
  expect(built.netlist.elements.some((e) => e.definition.kind === 'coupling')).toBe(false);
  expect(solver.sweep(built.circuit, Float64Array.of(1000), [built.ways[0].output]).ok).toBe(true);
});

test.each([
  ['no such node', bridged, 'in', 'nowhere', 0, /no node 'nowhere'/],
  ['one node for both', bridged, 'a', 'a', 0, /same node/],
  ['a card that is not understood', 'x\nR1 in out 1k\nZ1 a b 3', 'in', 'out', 3, /Z1/],
  ['no parts', 'x\nE1 out 0 in 0 2\nE2 in 0 out 0 1', 'in', 'out', 0, /no resistor/],
  [
    'a steering source at the input',
    'x\nVin in 0 AC 1\nR1 in 0 1k\nF1 0 out Vin 2\nR2 out 0 1k',
    'in',
    'out',
    4,
    /gives way/,
  ],
  ['a long name', 'x\nRthatgoesonandonandon in out 1k\nR2 out 0 1k', 'in', 'out', 2, /longer than/],
])('refuses %s, with the line where there is one', (_, text, input, output, line, says) => {
  const made = deckTopology({ text, input, output });
  expect(made.ok).toBe(false);
  if (!made.ok) {
    expect(String(made.data.message)).toMatch(says);
    if (line === 3 || line === 4) expect(made.data.line).toBe(line);
  }
});

test('a document with a broken deck is refused at the door, with its line', () => {
  const design = designWith({ text: bridged, input: 'in', output: 'out' });
  const broken = JSON.parse(JSON.stringify(design)) as Design;
  const target = broken.variants[0].ways[0].stages[0].target as { text: string };
  target.text = 'title\nR1 in';
  expect(readDesign(broken)).toMatchObject({
    ok: false,
    code: 'broken-design',
    data: { issues: [expect.stringMatching(/target\.text: line 2/)] },
  });
});

test('nodes are offered in the order of the deck, ground not among them', () => {
  expect(must(deckNodes(bridged))).toEqual(['in', 'a', 'out']);
});

test('the small-signal circuit of a diode is its slope at rest', () => {
  const { netlist } = must(readDeck('d\nV1 a 0 0.6\nD1 a 0 m\n.model m D(IS=1e-14)'));
  const elements = must(smallSignalElements(netlist));
  const slope = elements.find((e) => e.definition.kind === 'vccs')?.values[0] ?? NaN;
  // g = (Is/Vt) exp(V/Vt) at 27 degrees: Vt = 25.8649 mV; 1e-12 S across the junction is lost in it.
  const vt = (1.380649e-23 * 300.15) / 1.602176634e-19;
  expect(slope / ((1e-14 / vt) * Math.exp(0.6 / vt))).toBeCloseTo(1, 6);
});
