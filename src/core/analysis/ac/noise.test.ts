import { assemble } from '../../circuit/structure';
import { C, idealAmp, onePoleAmp, R } from '../../circuit/build';
import { diode } from '../../circuit/elements/diode';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { NPN, source } from '../../testing/circuits';
import { BOLTZMANN, thermalVoltageAt } from '../rest/equations';
import { demoDesigns } from '../../design/demo/demo';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { ComplexLu } from '../elimination/dense-lu';
import { aWeighting, noiseSpectrum, totalNoise } from './noise';
import { PlanReplay } from './replay';
import { operatingPoint } from '../rest/operating-point';

const KT4 = 4 * BOLTZMANN * 300.15;
const Q = 1.602176634e-19;

function spectrum(elements: Parameters<typeof assemble>[0]['elements'], freqHz: Float64Array, name = 'V') {
  const circuit = assemble({ elements, merged: [] });
  const rest = must(operatingPoint(circuit));
  return must(
    noiseSpectrum(circuit, rest, {
      freqHz,
      output: [circuit.structure.nodeOf('out') as number, -1],
      source: name,
    }),
  );
}
const input = source('V', 'in', '0', { dc: 0 }, 1);

test('an RC low-pass: 4kTR rolled off, kT/C altogether', () => {
  const grid = logGrid(1e-1, 1e9, 4001);
  const { output, input: referred } = spectrum([input, R('R', 'in', 'out', 1e4), C('C', 'out', '0', 1e-9)], grid);
  const corner = 1 / (2 * Math.PI * 1e-5);
  output.forEach((v, i) => expect(v / Math.sqrt((KT4 * 1e4) / (1 + (grid[i] / corner) ** 2))).toBeCloseTo(1, 10));
  // Referred to the input the roll-off is divided out again.
  referred.forEach((v) => expect(v / Math.sqrt(KT4 * 1e4)).toBeCloseTo(1, 9));
  expect(totalNoise(grid, output) / Math.sqrt((BOLTZMANN * 300.15) / 1e-9)).toBeCloseTo(1, 3);
});

test('parts add in power, each with its own gain', () => {
  const { output, byPart } = spectrum(
    [input, R('R1', 'in', 'm', 1e3), R('R2', 'm', 'out', 1e4), idealAmp('U', '0', 'm', 'out')],
    Float64Array.of(1000),
  );
  expect(byPart.get('R1')?.[0]).toBeCloseTo(KT4 * 1e3 * 100, 22);
  expect(byPart.get('R2')?.[0]).toBeCloseTo(KT4 * 1e4, 22);
  expect(output[0] ** 2).toBeCloseTo(KT4 * 1e5 + KT4 * 1e4, 22);
});

test(
  'op-amp noise: its voltage at the noise gain, its current through the source resistance, 1/f below ' + 'the corner',
  () => {
    const [en, corner, current] = [10e-9, 100, 1e-12];
    const amp = onePoleAmp('U', 'p', 'm', 'out', 1e12, 1e12, [en, corner, current, 0]);
    const { byPart } = spectrum(
      [input, R('RS', 'in', 'p', 1e4), R('R1', 'm', '0', 1e3), R('R2', 'm', 'out', 9e3), amp],
      Float64Array.of(10, 1000),
    );
    const expected = (f: number) =>
      (en * 10) ** 2 * (1 + corner / f) + (current * 1e4 * 10) ** 2 + (current * 9e3) ** 2;
    [10, 1000].forEach((f, i) => expect((byPart.get('U')?.[i] ?? 0) / expected(f)).toBeCloseTo(1, 6));
  },
);

test('a diode biased by a resistor: shot noise 2qI across its slope', () => {
  const { byPart } = spectrum(
    [
      source('V', 'in', '0', { dc: 10 }, 1),
      R('R', 'in', 'out', 1e5),
      { name: 'D', definition: diode, nodes: ['out', '0'], values: [1e-14, 1, 0] },
    ],
    Float64Array.of(1000),
  );
  const circuit = assemble({
    elements: [
      source('V', 'in', '0', { dc: 10 }, 1),
      R('R', 'in', 'out', 1e5),
      { name: 'D', definition: diode, nodes: ['out', '0'], values: [1e-14, 1, 0] },
    ],
    merged: [],
  });
  const volts = must(operatingPoint(circuit))[circuit.structure.nodeOf('out') as number];
  const amps = (10 - volts) / 1e5;
  const slope = 1 / (amps / thermalVoltageAt({}) + 1e-5);
  expect((byPart.get('D')?.[0] ?? 0) / (2 * Q * amps * slope ** 2)).toBeCloseTo(1, 5);
});

test('a transistor: collector and base shot noise at the collector', () => {
  const elements = [
    source('Vcc', 'vcc', '0', { dc: 10 }),
    source('V', 'b', '0', { dc: 0.65 }, 1),
    R('RC', 'vcc', 'out', 1e3),
    NPN('Q', 'out', 'b', '0'),
  ];
  const { byPart } = spectrum(elements, Float64Array.of(1000));
  const circuit = assemble({ elements, merged: [] });
  const collector = (10 - must(operatingPoint(circuit))[circuit.structure.nodeOf('out') as number]) / 1e3;
  // The base is driven stiffly, so only the collector's noise is heard, across RC beside the output resistance.
  const forward = 1e-14 * Math.exp(0.65 / thermalVoltageAt({}));
  const ohm = 1 / (1e-3 + forward / 80);
  expect((byPart.get('Q')?.[0] ?? 0) / (2 * Q * collector * ohm ** 2)).toBeCloseTo(1, 4);
});

test('A-weighting at its tabled frequencies, and an unknown source', () => {
  // IEC 61672-1, table 3.
  for (const [f, db] of [
    [31.5, -39.4],
    [100, -19.1],
    [1000, 0],
    [4000, 1.0],
    [16000, -6.6],
  ])
    expect(10 * Math.log10(aWeighting(10 ** (Math.round(10 * Math.log10(f)) / 10)))).toBeCloseTo(db, 0);
  const circuit = assemble({ elements: [input, R('R', 'in', 'out', 1)], merged: [] });
  expect(
    noiseSpectrum(circuit, new Float64Array(circuit.structure.size), {
      freqHz: Float64Array.of(1),
      output: [0, -1],
      source: 'Vx',
    }),
  ).toMatchObject({ ok: false, code: 'no-such-source' });
});

test('of a bank of bands the adjoint follows the plan, and says what pivots of its own say', () => {
  const bank = demoDesigns().find((d) => d.title.startsWith('Formant bank'))!;
  const { circuit, ways } = must(compile(bank, bank.variants[0], AS_BUILT));
  const rest = new Float64Array(circuit.structure.size);
  const output = [circuit.structure.nodeOf(ways[0].output)!, -1] as const;
  const dense = jest.spyOn(ComplexLu.prototype, 'solve');
  const freqHz = logGrid(20, 20e3, 60);
  const planned = must(noiseSpectrum(circuit, rest, { freqHz, output, source: 'Vin' }));
  expect(dense).not.toHaveBeenCalled();
  // As if no plan were ever good enough.
  jest.spyOn(PlanReplay.prototype, 'transposedError').mockReturnValue(1);
  const few = freqHz.filter((_, i) => i % 12 === 0);
  const own = must(noiseSpectrum(circuit, rest, { freqHz: few, output, source: 'Vin' }));
  expect(dense).toHaveBeenCalledTimes(few.length);
  few.forEach((_, i) => {
    expect(planned.output[12 * i] / own.output[i]).toBeCloseTo(1, 9);
    expect(planned.input[12 * i] / own.input[i]).toBeCloseTo(1, 9);
  });
  jest.restoreAllMocks();
});
