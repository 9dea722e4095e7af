import fc from 'fast-check';
import { assemble } from '../../circuit/structure';
import { levelsDb } from '../../analysis/curves/response';
import { AcSolver } from '../../analysis/ac/solver';
import { demoDesigns } from '../../design/demo/demo';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { designDeck } from '../../jobs/deck/deck-jobs';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { evaluateExpression } from './expression';
import { deckNumber } from './number';
import { readDeck } from './read-deck';
import { writeDeck } from './write-deck';
import { linearise } from '../../analysis/rest/linearise';
import { operatingPoint } from '../../analysis/rest/operating-point';
import { transient } from '../../analysis/time/transient';
import { ota } from '../../circuit/elements/ota';

const solve = (text: string, node = 'out', f = 1000) => {
  const [v] = must(new AcSolver().sweep(assemble(must(readDeck(text)).netlist), Float64Array.of(f), [node]));
  return Math.hypot(v[0], v[1]);
};

test.each([
  ['4.7k', 4700],
  ['10kohm', 1e4],
  ['2MEG', 2e6],
  ['5m', 5e-3],
  ['5M', 5e-3],
  ['1e-9', 1e-9],
  ['.5u', 5e-7],
  ['1T', 1e12],
  ['3g', 3e9],
  ['10pF', 1e-11],
  ['2f', 2e-15],
  ['-3', -3],
  ['1.5e3k', 1.5e6],
])('%s is %d', (text, value) => expect(deckNumber(text)).toBeCloseTo(value, 20));
test.each(['', 'k', '1..2', '4k7', 'abc', '1 2'])('%j is no number', (text) => expect(deckNumber(text)).toBeNull());

test.each([
  ['1+2*3', 7],
  ['-2^2', -4],
  ['2**3', 8],
  ['(1+2)*3', 9],
  ['sqrt(16)/2', 2],
  ['2*pi*a', 2 * Math.PI * 10],
  ['max(1, a)', 10],
  ['1k+1', 1001],
  ['a/-2', -5],
])('%s', (text, value) => expect(evaluateExpression(text, (n) => (n === 'a' ? 10 : undefined))).toBeCloseTo(value, 12));
test.each(['', '1+', '(1', 'b', 'f(1)', '1 2', 'constructor(1)', '1/0'])('%j is refused', (text) =>
  expect(() => evaluateExpression(text, () => undefined)).toThrow(),
);

describe('readDeck', () => {
  test('cards, comments, continuation, case and ground by name', () => {
    const deck =
      'a title is not a card\n* comment\nV1 IN gnd\n+ DC 0 AC 2 ; loud\nr1 in OUT 1k\nR2 out 0 1kohm ; ' +
      'half\n.ac dec 10 1 1k\n.end\nnonsense after the end';
    expect(solve(deck)).toBeCloseTo(1, 12);
    expect(must(readDeck(deck)).notes).toEqual(['line 7: .ac is read past']);
  });
  test('parameters, nested subcircuits with their own, and nodes inside them', () => {
    const deck = `t
.param ra=1k rb={2*ra}
.subckt half a b params: r=1k
Ra a b {r}
Rb b 0 {r}
.ends
.subckt two in out
X1 in m half r={rb}
E1 out 0 m 0 2
.ends
V1 in 0 AC 1
X9 in out two
R9 out 0 1k
.end`;
    expect(solve(deck)).toBeCloseTo(1, 12);
    expect(solve(deck, 'x9.m')).toBeCloseTo(0.5, 12);
  });
  test('controlled sources and coupled coils', () => {
    expect(solve('t\nV1 in 0 AC 1\nR0 in 0 1k\nG1 0 out in 0 2m\nR1 out 0 1k\n.end')).toBeCloseTo(2, 12);
    expect(solve('t\nV1 in 0 AC 1\nR0 in 0 1k\nH1 out 0 V1 500\nR1 out 0 1k\n.end')).toBeCloseTo(0.5, 12);
    expect(solve('t\nV1 in 0 AC 1\nR0 in 0 1k\nF1 0 out V1 3\nR1 out 0 1k\n.end')).toBeCloseTo(3, 12);
    expect(solve('t\nV1 a 0 AC 1\nL1 a 0 1m\nL2 out 0 4m\nK1 L1 L2 0.5\nR1 out 0 1g\n.end')).toBeCloseTo(1, 5);
  });
  test.each([
    ['', 'no cards'],
    ['t\nR1 a 0\n', 'line 2: R1 has no resistance'],
    ['t\nR1 a 0 1k\nZ1 a b c m\n', "line 3: 'Z1' is not understood"],
    ['t\nR1 a 0 0\n', 'line 2: R1 has a resistance of zero'],
    ['t\nC1 a 0 -1n\n', 'line 2: C1 has a negative capacitance'],
    ['t\nV1 a b AC 1\nR1 a b 1k\n', 'nothing is connected to ground'],
    ['t\nV1 a 0 AC 1\nR1 a 0 1k\nR2 x y 1k\n', "line 4: node 'x' is floating"],
    ['t\nV1 a 0 AC 1\nV2 a 0 AC 1\nR1 a 0 1\n', 'line 3: v2 closes a loop'],
    ['t\nV1 a 0 AC 1\nR1 a 0 {zz}\n', "line 3: R1: '{zz}' is no resistance: 'zz' is not a number or a parameter"],
    ['t\nX1 a 0 foo\n', "subcircuit 'foo', which is not in the deck"],
    ['t\n.subckt foo a\nX1 a foo\n.ends\nV1 a 0 AC 1\nX2 a foo\n', 'contain itself'],
    ['t\n.subckt foo a\nR1 a 0 1\n', 'has no .ends'],
    ['t\n.ends\n', '.ends without'],
    ['t\n.param a={b} b={a}\nR1 x 0 {a}\n', 'is defined by itself'],
    ['t\n.foo\nR1 a 0 1\n', "line 2: '.foo' is not understood"],
    ['t\nR1 a 0 1k junk\n', "line 2: R1: 'junk' does not belong there"],
    ['t\nR1 a 0 1k\nR1 a 0 1k\n', 'two elements are called R1'],
    ['t\nV1 a 0 AC 1\nF1 a 0 V9 1\nR1 a 0 1', "refers to 'v9'"],
    ['t\nL1 a 0 1\nK1 L1 L9 0.5\n', 'not a coil'],
    ['t\nL1 a 0 1\nL2 a 0 1\nK1 L1 L2 1.5\n', 'between 0 and 1'],
  ])('%j: %s', (text, message) => {
    const read = readDeck(text);
    expect(read.ok).toBe(false);
    if (!read.ok)
      expect(`${Number(read.data.line) > 0 ? `line ${read.data.line}: ` : ''}${read.data.message}`).toContain(message);
  });
  test('a runaway file is refused', () =>
    expect(readDeck(`t\n${'R1 a 0 1\n'.repeat(5001)}`)).toMatchObject({
      ok: false,
      data: { message: expect.stringContaining('5000') },
    }));
  test('mutations of a good deck give an answer or a plain error, never a crash', () => {
    const good =
      'fuzz\n.param a=2k\n.subckt s x y\nR1 x y {a}\nC1 y 0 10n\n.ends\nV1 in 0 AC 1\nX1 in out s\nE1 o2 0 ' +
      'out 0 2\nR2 o2 0 1k\n.end\n';
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.nat(good.length - 1),
            fc.constantFrom('', '0', ' ', '\n', '{', '}', '=', 'R1', '-', '.', '+', 'X', '(', 'é', '9e999'),
            fc.nat(4),
          ),
          { minLength: 1, maxLength: 6 },
        ),
        (edits) => {
          let text = good;
          for (const [at, insert, drop] of edits) text = text.slice(0, at) + insert + text.slice(at + drop);
          const read = readDeck(text);
          if (!read.ok) return expect(typeof read.data.message).toBe('string');
          const solved = new AcSolver().sweep(
            assemble(read.value.netlist),
            Float64Array.of(1000),
            read.value.netlist.elements[0]?.nodes.slice(0, 1) ?? [],
          );
          if (solved.ok) expect(levelsDb(solved.value[0])[0]).not.toBeNaN();
        },
      ),
      { numRuns: 1500 },
    );
  });
});

test('a deck of every card, written out and read back, is the same circuit in rest, in AC and in time', () => {
  const text = `all of them
.param r=1k
Vcc vcc 0 12
Vin in 0 DC 0.1 AC 1 30 SIN(0 50m 2k 10u 100 45)
Vp p 0 PULSE(0 1 5u 1u 2u 20u 50u)
Iw 0 w PWL(0 0 10u 1m 30u -1m)
Rw w 0 {r}
Rp p q 2k
Cq q 0 1n
L1 q 0 1m
L2 s 0 2m
K1 L1 L2 0.7
Rs s 0 500
C1 in b 1u
R1 vcc b 47k
R2 b 0 10k
R3 vcc c 4.7k
R4 e 0 1k
Rtiny e x 1u
Rx x 0 100k
Q1 c b e qn
Q2 y c vcc qp
Ry y 0 10k
D1 y z dz
Rz z 0 33k
E1 f 0 c e 2
Rf f 0 1k
G1 0 g f 0 1m
Rg g 0 1k
F1 0 h Vin 3
Rh h 0 1k
H1 k 0 Vin 50
Rk k out 1k
Ro out z 1k
.model qn NPN(IS=2e-15 BF=120 VAF=70 CJE=6p CJC=3p TF=0.4n RB=80 RE=0.5)
.model qp PNP(IS=1e-15 BF=60 VAR=20)
.model dz D(IS=3e-14 N=1.1 RS=4)
.end
`;
  const first = must(readDeck(text)).netlist;
  const second = must(readDeck(must(writeDeck(first, { title: 'again', rename: {} })))).netlist;
  const [a, b] = [assemble(first), assemble(second)];
  const rests = [a, b].map((c) => must(operatingPoint(c)));
  const named = (c: typeof a, x: Float64Array, node: string) => x[c.structure.nodeOf(node) as number];
  const nodes = ['out', 'c', 'y', 'z', 'q', 's', 'w', 'k', 'x'];
  for (const node of nodes) expect(named(b, rests[1], node)).toBeCloseTo(named(a, rests[0], node), 9);
  const [h, g] = [a, b].map((c, i) => must(new AcSolver().sweep(linearise(c, rests[i]), logGrid(10, 1e7, 13), nodes)));
  nodes.forEach((_, k) => h[k].forEach((v, i) => expect(Math.abs(g[k][i] - v)).toBeLessThan(1e-8 * (1 + Math.abs(v)))));
  const [t, u] = [a, b].map((c) => must(transient(c, { stopS: 100e-6, stepS: 2e-6 })).unknowns);
  for (const node of nodes)
    for (let i = 0; i < 50; i++)
      expect(
        Math.abs(
          t[i * a.structure.size + (a.structure.nodeOf(node) as number)] -
            u[i * b.structure.size + (b.structure.nodeOf(node) as number)],
        ),
      ).toBeLessThan(1e-6);
});

test('what a deck cannot say is refused by name', () => {
  const amp = {
    name: 'Ugm',
    definition: ota,
    nodes: ['a', '0', 'b', '0', '0', '0'],
    values: [1e-3, 1e-3],
  };
  expect(writeDeck({ elements: [amp], merged: [] }, { title: 't', rename: {} })).toMatchObject({
    ok: false,
    code: 'not-in-a-deck',
    data: { element: 'Ugm', kind: 'ota' },
  });
});

describe('devices and waves in decks', () => {
  test.each([
    ['t\nV1 a 0 1\nD1 a 0 dd\n', "line 3: D1 asks for model 'dd', which is not in the deck"],
    ['t\nV1 a 0 1\nD1 a 0 q\n.model q NPN\n', 'is a model of another kind, NPN'],
    ['t\nV1 a 0 1\nQ1 a 0\n', 'line 3: Q1 has too few fields'],
    ['t\nV1 a 0 1\nR1 a 0 1\n.model m JFET(x=1)\n', "line 4: model m: 'JFET' is none of D"],
    ['t\nV1 a 0 1\nR1 a 0 1\n.model m D(IS=-1)\n', 'line 4: model m: IS must be positive'],
    ['t\nV1 a 0 SIN(0 1)\nR1 a 0 1\n', 'line 2: V1 has no frequency'],
    ['t\nV1 a 0 PWL(0 0 2 1 1 1)\nR1 a 0 1\n', 'line 2: V1: the times of PWL go back at 1'],
    ['t\nV1 a 0 PWL(0 0 2)\nR1 a 0 1\n', 'line 2: V1: PWL takes pairs'],
    ['t\nV1 a 0 PULSE(0 1 0 1u 1u 5u 2u)\nR1 a 0 1\n', 'are longer than its period'],
    ['t\nV1 a 0 PULSE(0 1 0 -1u)\nR1 a 0 1\n', 'cannot be negative'],
    ['t\nQ1 a b c m\nR1 a 0 1\nV1 x 0 1\nR2 x 0 1\n.model m NPN\n', ''],
  ])('%j: %s', (text, message) => {
    const read = readDeck(text);
    if (message === '') return expect(read.ok).toBe(true);
    expect(read.ok).toBe(false);
    if (!read.ok)
      expect(`${Number(read.data.line) > 0 ? `line ${read.data.line}: ` : ''}${read.data.message}`).toContain(message);
  });
  test(
    'models in subcircuits are their own, parameters reach into them, and what has no part in the ' +
      'equations is named',
    () => {
      const read = must(
        readDeck(`t
.param big=150
.subckt stage in out vcc
.model q NPN(BF={big} XTF=2 VJE=0.7)
Q1 out in 0 q
R1 vcc out 1k
.ends
V1 v 0 5
X1 a b v stage
X2 b c v stage
Ra v a 100k
Rc c 0 1k
`),
      );
      expect(read.notes).toEqual(['line 4: model q: XTF, VJE unknown here, left out']);
      expect(read.netlist.elements.find((e) => e.name === 'x2.q1')?.values[1]).toBe(150);
    },
  );
});

test.each(demoDesigns().map((d) => [d.title, d] as const))(
  '%s written as a deck and read back gives the same curve',
  (_, design) => {
    const variant = design.variants[0];
    const grid = logGrid(10, 100e3, 41);
    const solver = new AcSolver();
    const compiled = must(compile(design, variant, AS_BUILT));
    const { deck } = must(designDeck(design, variant, AS_BUILT));
    const direct = levelsDb(must(solver.sweep(compiled.circuit, grid, [compiled.ways[0].output]))[0]);
    const read = assemble(must(readDeck(deck)).netlist);
    const again = levelsDb(
      must(solver.sweep(compiled.live ? linearise(read, must(operatingPoint(read))) : read, grid, ['out']))[0],
    );
    direct.forEach((level, i) => expect(again[i]).toBeCloseTo(level, precisionOf(deck)));
  },
);

/**
 * Places that a deck's curve agrees to: of an OTA it has a pair of transistors, whose junctions leak a picosiemens;
 * of a
 * measured impedance the circuit that is fitted to it.
 */
function precisionOf(deck: string): number {
  if (deck.includes('.subckt ota')) return 4;
  return deck.includes('measurement is not in this netlist') ? 2 : 6;
}
