import { assemble } from '../../circuit/structure';
import { C, E, idealAmp, L, R } from '../../circuit/build';
import { diode } from '../../circuit/elements/diode';
import { nJunctionFet, pJunctionFet } from '../../circuit/elements/junction-fet';
import { limitedOpAmp } from '../../circuit/elements/op-amp';
import { optocoupler } from '../../circuit/elements/optocoupler';
import { ota } from '../../circuit/elements/ota';
import type { ElementInstance } from '../../circuit/netlist';
import { must } from '../../result';
import { NPN, source, transistorLadder } from '../../testing/circuits';
import { thermalVoltageAt } from './equations';
import { comeDown, operatingPoint } from './operating-point';

const VT = thermalVoltageAt({});
const D = (name: string, a: string, k: string, is = 1e-14): ElementInstance => ({
  name,
  definition: diode,
  nodes: [a, k],
  values: [is, 1, 0],
});

function rest(elements: ElementInstance[], temperatureC?: number) {
  const circuit = assemble({ elements, merged: [] });
  const x = must(operatingPoint(circuit, { temperatureC }));
  return (name: string) => x[circuit.structure.unknowns.indexOf(name)];
}

test('kT/q at 27 °C is 25.865 mV', () => expect(VT).toBeCloseTo(0.025864926, 8));

test('a diode through a resistor satisfies its own equation', () => {
  for (const volts of [0.3, 1, 5, 400, -400]) {
    const at = rest([source('V', 'in', '0', { dc: volts }), R('R', 'in', 'a', 1e3), D('D', 'a', '0')]);
    const v = at('a');
    const amps = 1e-14 * (Math.exp(v / VT) - 1) + 1e-12 * v;
    expect(amps / ((volts - v) / 1e3)).toBeCloseTo(1, 6);
  }
});

test('a bridge of diodes on a stiff source, and fifty diodes in a row', () => {
  const at = rest([
    source('V', 'p', 'm', { dc: 20 }),
    D('D1', 'p', 'out'),
    D('D2', '0', 'p'),
    D('D3', 'm', 'out'),
    D('D4', '0', 'm'),
    R('RL', 'out', '0', 1e3),
  ]);
  const v = at('out');
  expect(20 - v).toBeCloseTo(2 * VT * Math.log(v / 1e3 / 1e-14 + 1), 6);
  const row = Array.from({ length: 50 }, (_, i) => D(`D${i}`, `n${i}`, i === 49 ? '0' : `n${i + 1}`));
  const chain = rest([source('V', 'in', '0', { dc: 40 }), R('R', 'in', 'n0', 1e3), ...row]);
  expect(chain('n0') - chain('n1')).toBeCloseTo(chain('n0') / 50, 9);
});

test('a transistor stage: currents follow Ebers and Moll, and sum to nothing', () => {
  const at = rest([
    source('Vcc', 'vcc', '0', { dc: 12 }),
    R('R1', 'vcc', 'b', 47e3),
    R('R2', 'b', '0', 10e3),
    R('RC', 'vcc', 'c', 4.7e3),
    R('RE', 'e', '0', 1e3),
    NPN('Q', 'c', 'b', 'e'),
  ]);
  const [vbe, vbc] = [at('b') - at('e'), at('b') - at('c')];
  const [forward, reverse] = [1e-14 * (Math.exp(vbe / VT) - 1), 1e-14 * (Math.exp(vbc / VT) - 1)];
  const collector = (forward - reverse) * (1 - vbc / 80) - reverse / 2 - 1e-12 * vbc;
  expect((12 - at('c')) / 4.7e3 / collector).toBeCloseTo(1, 7);
  const base = forward / 150 + reverse / 2 + 1e-12 * (vbe + vbc);
  expect((12 - at('b')) / 47e3 - at('b') / 10e3).toBeCloseTo(base, 11);
  expect(at('e') / 1e3).toBeCloseTo(collector + base, 10);
});

test('a ladder of ten transistors settles, its two sides alike but for the input resistor', () => {
  const circuit = transistorLadder();
  const x = must(operatingPoint(circuit));
  const at = (name: string) => x[circuit.structure.unknowns.indexOf(name)];
  for (let s = 0; s < 4; s++) expect(Math.abs(at(`a${s}`) - at(`d${s}`))).toBeLessThan(2e-3);
  expect(at('a4')).toBeLessThan(12);
});

test('a bistable pair settles in one of its states; a latch of current sources and sinks does too', () => {
  const at = rest([
    source('Vcc', 'vcc', '0', { dc: 5 }),
    R('R1', 'vcc', 'c1', 1e3),
    R('R2', 'vcc', 'c2', 1.01e3),
    R('R3', 'c1', 'b2', 10e3),
    R('R4', 'c2', 'b1', 10e3),
    NPN('Q1', 'c1', 'b1', '0'),
    NPN('Q2', 'c2', 'b2', '0'),
  ]);
  const residual = (5 - at('c1')) / 1e3 - (at('c1') - at('b2')) / 10e3;
  expect(residual).toBeGreaterThan(-1e-6);
  expect(Math.max(at('c1'), at('c2'))).toBeGreaterThan(Math.min(at('c1'), at('c2')) - 1e-12);
  // Each base takes what Ebers and Moll say of its two junctions, and no other current reaches it.
  for (const [base, collector, feed] of [
    ['b1', 'c1', 'c2'],
    ['b2', 'c2', 'c1'],
  ]) {
    const [vbe, vbc] = [at(base), at(base) - at(collector)];
    const junction = (v: number) => 1e-14 * (Math.exp(v / VT) - 1);
    const amps = junction(vbe) / 150 + junction(vbc) / 2 + 1e-12 * (vbe + vbc);
    expect((at(feed) - at(base)) / 10e3).toBeCloseTo(amps, 11);
  }
});

test('nodes that only capacitors hold, and loops of coils, rest at zero', () => {
  const at = rest([
    source('V', 'in', '0', { dc: 3 }),
    C('C1', 'in', 'a', 1e-6),
    C('C2', 'a', '0', 1e-6),
    L('L1', 'in', 'b', 1e-3),
    L('L2', 'in', 'b', 1e-3),
    R('R', 'b', '0', 10),
  ]);
  expect(at('a')).toBeCloseTo(0, 9);
  expect(at('b')).toBeCloseTo(3, 8);
  expect(at('i(L1)')).toBeCloseTo(at('i(L2)'), 6);
});

test('ideal amplifiers of every size', () => {
  expect(
    rest([
      source('V', 'in', '0', { dc: 0.1 }),
      R('R1', 'in', 'm', 1e3),
      R('R2', 'm', 'out', 1e4),
      idealAmp('U', '0', 'm', 'out'),
    ])('out'),
  ).toBeCloseTo(-1, 12);
  expect(
    rest([
      source('V', 'in', '0', { dc: 0.1 }),
      R('R1', 'in', 'm', 1e3),
      R('R2', 'm', 'out', 1e4),
      E('E1', 'out', '0', '0', 'm', 1e9),
    ])('out'),
  ).toBeCloseTo(-1, 7);
});

test('junction FETs: square law in saturation, either polarity, and a self-biased stage', () => {
  const values = [-2, 1e-3, 0, 1e-14, 0, 0];
  const n = rest([
    source('V', 'd', '0', { dc: 10 }),
    { name: 'J', definition: nJunctionFet, nodes: ['d', '0', 's'], values },
    R('RS', 's', '0', 1e3),
  ]);
  const v = n('s');
  expect(v / 1e3).toBeCloseTo(1e-3 * (2 - v) ** 2, 9);
  const p = rest([
    source('V', 'd', '0', { dc: -10 }),
    { name: 'J', definition: pJunctionFet, nodes: ['d', '0', 's'], values },
    R('RS', 's', '0', 1e3),
  ]);
  expect(p('s')).toBeCloseTo(-v, 9);
});

test('a transconductance amplifier gives Ibias tanh(v / 2Vt)', () => {
  for (const volts of [0.001, 0.02, 0.3, -0.3]) {
    const at = rest([
      source('V', 'p', '0', { dc: volts }),
      { name: 'G', definition: ota, nodes: ['p', '0', 'out', '0', '0', '0'], values: [1e-3, 0] },
      R('RL', 'out', '0', 1e3),
    ]);
    expect(at('out')).toBeCloseTo(Math.tanh(volts / (2 * VT)), 9);
  }
});

test('an op-amp with limits follows its input inside its swing and stops at it', () => {
  const follower = (volts: number) =>
    rest([
      source('V', 'in', '0', { dc: volts }),
      {
        name: 'U',
        definition: limitedOpAmp,
        nodes: ['in', 'out', 'out', 'pole'],
        values: [1e5, 2e7, 13e6, 10, -9, 0, 0, 0, 0],
      },
      R('RL', 'out', '0', 1e4),
    ])('out');
  expect(follower(1)).toBeCloseTo(1 / (1 + 1e-5), 6);
  expect(follower(30)).toBeCloseTo(10, 2);
  expect(follower(-30)).toBeCloseTo(-9, 2);
});

test('a lit cell: its conductance is the sum of dark and light', () => {
  const at = rest([
    source('V', 'in', '0', { dc: 5 }),
    R('R1', 'in', 'lamp', 1e3),
    source('Vc', 'top', '0', { dc: 1 }),
    R('R2', 'top', 'cell', 1e3),
    {
      name: 'O',
      definition: optocoupler,
      nodes: ['lamp', '0', 'cell', '0', 'light'],
      values: [1e-18, 2, 2e3, 0.8, 1e7, 1e-3, 1e-2],
    },
  ]);
  const milliamps = 5 - at('lamp');
  expect(at('light')).toBeCloseTo(milliamps, 6);
  const ohm = 1 / (1 / 1e7 + milliamps ** 0.8 / 2e3);
  expect(at('cell')).toBeCloseTo(ohm / (1e3 + ohm), 9);
});

test(
  'hotter junctions drop less: −2 mV a degree or so at constant current with a fixed saturation ' + 'current is +',
  () => {
    const at = (t: number) =>
      rest([source('V', 'in', '0', { dc: 5 }), R('R', 'in', 'a', 1e3), D('D', 'a', '0')], t)('a');
    // With IS held, v = N·Vt·ln(I/IS) grows with absolute temperature.
    expect(at(77) / at(27)).toBeCloseTo(350.15 / 300.15, 2);
  },
);

test('what cannot settle names a node', () => {
  const circuit = assemble({
    elements: [source('V', 'a', '0', { dc: 1 }), source('W', 'a', '0', { dc: 2 }), R('R', 'a', '0', 1)],
    merged: [],
  });
  expect(operatingPoint(circuit)).toMatchObject({
    ok: false,
    code: 'no-unique-solution',
    data: { unknown: expect.any(String) },
  });
});

test('a value is come down to by strides as long as can be taken, and always from where it has come to', () => {
  for (const longest of [1.08, 1.4, 3, 20]) {
    let [reached, tries] = [0, 0];
    const arrived = comeDown(0.1, 1e-14, (value) => {
      tries++;
      if (reached !== 0) expect(value).toBeLessThan(reached);
      if (reached !== 0 && reached / value > longest) return false;
      reached = value;
      return true;
    });
    // Thirty nepers by strides of ln 1.08 are more than four hundred.
    expect([longest, arrived, tries <= 402]).toEqual([longest, longest > 1.1, true]);
  }
  expect(comeDown(0.1, 1e-14, () => false)).toBe(false);
  expect(comeDown(0.1, 1e-14, (v) => v > 1e-6)).toBe(false);
});
