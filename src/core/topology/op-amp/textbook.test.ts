import { must } from '../../result';
import { DesignContext, type DesignChoices } from '../kit/design-context';
import type { SectionTopology } from '../kit/define-topology';
import { SECTION_TOPOLOGIES } from '../index';
import type { PartValues } from '../kit/part';

const sectionTopology = (id: string): SectionTopology => {
  const found = SECTION_TOPOLOGIES.find((t) => t.id === id);
  if (!found) throw new Error(id);
  return found;
};

/** Takes whatever is wanted as it is, so that the design equations themselves are seen. */
const exact = (patch: Partial<DesignChoices> = {}): DesignContext =>
  new DesignContext({
    chooseFirst: 'capacitors',
    pinned: {},
    pick: (_kind, wanted) => wanted,
    ...patch,
  });

const second = (response: 'lowpass' | 'highpass', freqHz: number, q: number, gain = 1) => ({
  response,
  order: 2 as const,
  freqHz,
  q,
  gain,
});

function design(
  id: string,
  target: Parameters<SectionTopology['design']>[0],
  pinned: PartValues,
  chooseFirst: DesignChoices['chooseFirst'] = 'capacitors',
): PartValues {
  return must(sectionTopology(id).design(target, exact({ pinned, chooseFirst })));
}

describe('Sallen-Key at unity gain', () => {
  test('Butterworth at 1 kHz from 20 n and 10 n: both resistors R = 1/(ω √(C1 C2))', () => {
    // At C1 = 2 C2 and Q = 1/√2 the square root of the design equation vanishes: equal resistors of 11.25 k.
    const parts = design('sallen-key-unity-gain', second('lowpass', 1000, Math.SQRT1_2), {
      C1: 20e-9,
      C2: 10e-9,
    });
    const r = 1 / (2 * Math.PI * 1000 * Math.sqrt(200e-18));
    expect(parts.R1).toBeCloseTo(r, 3);
    expect(parts.R2).toBeCloseTo(r, 3);
    expect(r).toBeCloseTo(11253.95, 2);
  });

  test('high-pass from two 10 n: R1 = 1/(2 Q ω C), R2 = 2 Q/(ω C)', () => {
    const parts = design('sallen-key-unity-gain', second('highpass', 1000, Math.SQRT1_2), {
      C1: 10e-9,
      C2: 10e-9,
    });
    expect(parts.R1).toBeCloseTo(11253.95, 2);
    expect(parts.R2).toBeCloseTo(22507.91, 2);
  });

  test('a capacitor ratio under 4Q² is refused, with the ratio it would take', () => {
    const result = sectionTopology('sallen-key-unity-gain').design(
      second('lowpass', 1000, 2),
      exact({ pinned: { C1: 100e-9, C2: 10e-9 } }),
    );
    expect(result).toMatchObject({
      ok: false,
      code: 'capacitor-ratio',
      data: { larger: 'C1', smaller: 'C2', needed: 16 },
    });
  });

  test('half the gain is taken by an input divider whose legs in parallel are the old R1', () => {
    const whole = design('sallen-key-unity-gain', second('lowpass', 1000, 1), {
      C1: 47e-9,
      C2: 10e-9,
    });
    const halved = design('sallen-key-unity-gain', second('lowpass', 1000, 1, 0.5), {
      C1: 47e-9,
      C2: 10e-9,
    });
    expect(halved.R1).toBeCloseTo(2 * whole.R1, 6);
    expect(halved.R1b).toBeCloseTo(2 * whole.R1, 6);
    expect(halved.R2).toBeCloseTo(whole.R2, 6);
  });

  test('resistors first: C2 = 1/(2 Q ω R), C1 = 2 Q/(ω R)', () => {
    const parts = design('sallen-key-unity-gain', second('lowpass', 1000, 1), { R1: 10e3, R2: 10e3 }, 'resistors');
    expect(parts.C1 * 1e9).toBeCloseTo(31.831, 3);
    expect(parts.C2 * 1e9).toBeCloseTo(7.958, 3);
  });
});

describe('Sallen-Key with equal parts', () => {
  test.each([
    [Math.SQRT1_2, 1.5858],
    [1, 2],
    [2.5629, 2.6098],
  ])('Q %d wants a gain of %d', (q, gain) => {
    const topology = sectionTopology('sallen-key-equal-parts');
    const natural = topology.gainRange({ response: 'lowpass', order: 2, freqHz: 1000, q }).natural;
    const parts = design('sallen-key-equal-parts', second('lowpass', 1000, q, natural), {
      C1: 10e-9,
    });
    expect(1 + parts.Rb / parts.Ra).toBeCloseTo(gain, 4);
    expect(parts.R1).toBeCloseTo(15915.49, 2);
    expect(parts.R2).toBe(parts.R1);
    expect(parts.C2).toBe(parts.C1);
  });

  test('at Q 0.5 the gain is one and the gain resistors are not there', () => {
    const parts = design('sallen-key-equal-parts', second('lowpass', 1000, 0.5), { C1: 10e-9 });
    expect(Object.keys(parts).sort()).toEqual(['C1', 'C2', 'R1', 'R2']);
  });

  test('surplus gain is taken by an input divider', () => {
    const parts = design('sallen-key-equal-parts', second('lowpass', 1000, 1, 1), { C1: 10e-9 });
    expect(parts.R1b / (parts.R1 + parts.R1b)).toBeCloseTo(0.5, 12);
  });

  test('a Q under one half is refused', () => {
    expect(sectionTopology('sallen-key-equal-parts').design(second('lowpass', 1000, 0.4), exact())).toMatchObject({
      code: 'q-too-low',
    });
  });
});

describe('multiple feedback', () => {
  test('low-pass of gain one from C1 = 8Q² C2: R1 = R2, R3 = R2/2', () => {
    const parts = design('multiple-feedback', second('lowpass', 1000, 1), { C1: 80e-9, C2: 10e-9 });
    // At the bound the root vanishes: R2 = 1/(2 Q ω C2).
    expect(parts.R2).toBeCloseTo(7957.75, 2);
    expect(parts.R1).toBeCloseTo(parts.R2, 6);
    expect(parts.R3).toBeCloseTo(parts.R2 / 2, 3);
  });

  test('high-pass of gain one from three 10 n: R1 = 1/(3 Q ω C), R2 = 3 Q/(ω C)', () => {
    const parts = design('multiple-feedback', second('highpass', 1000, 1), {
      C2: 10e-9,
      C3: 10e-9,
    });
    expect(parts.C1).toBeCloseTo(10e-9, 20);
    expect(parts.R1).toBeCloseTo(5305.16, 2);
    expect(parts.R2).toBeCloseTo(47746.48, 2);
  });
});

describe('first order', () => {
  const first = (gain = 1) => ({
    response: 'lowpass' as const,
    order: 1 as const,
    freqHz: 1000,
    q: 0.5,
    gain,
  });

  test.each(['first-order-buffered', 'first-order-passive'])('%s: 10 n at 1 kHz wants 15.92 k', (id) => {
    expect(design(id, first(), { C1: 10e-9 }).R1).toBeCloseTo(15915.49, 2);
  });

  test('gain three is made by the buffer, 1 + Rb/Ra', () => {
    const parts = design('first-order-buffered', first(3), { C1: 10e-9 });
    expect(parts.Rb / parts.Ra).toBeCloseTo(2, 12);
  });

  test('both parts pinned elsewhere than the cutoff cannot be', () => {
    const result = sectionTopology('first-order-passive').design(first(), exact({ pinned: { C1: 10e-9, R1: 10e3 } }));
    expect(result).toMatchObject({
      ok: false,
      code: 'over-pinned',
      data: { pinned: ['C1', 'R1'] },
    });
  });
});

test('a coil and a capacitor into 8 Ω, Butterworth at 2 kHz: 0.9 mH and 7.03 µF', () => {
  const parts = design('coil-capacitor', second('lowpass', 2000, Math.SQRT1_2), {});
  expect(parts.L1 * 1e3).toBeCloseTo(0.9003, 4);
  expect(parts.C1 * 1e6).toBeCloseTo(7.0337, 3);
});

test('a buffer with gain is 1 + Rb/Ra; without, one part gives its input the DC path', () => {
  const flat = { response: 'lowpass' as const, order: 0 as const, freqHz: 1000, q: 0.5 };
  expect(Object.keys(design('buffer', { ...flat, gain: 1 }, {}))).toEqual(['R1']);
  const parts = design('buffer', { ...flat, gain: 4 }, {});
  expect(parts.Rb / parts.Ra).toBeCloseTo(3, 12);
});

const OMEGA = 2 * Math.PI * 1000;
const of = (response: Parameters<SectionTopology['design']>[0]['response'], q: number, gain = 1, zeroHz?: number) => ({
  response,
  order: 2 as const,
  freqHz: 1000,
  q,
  gain,
  ...(zeroHz === undefined ? {} : { zeroHz }),
});

test(
  'multiple feedback band-pass, Q 10, gain 1, from two 10 n: R2 = 2Q/(ωC), R1 = Q/(ωC), R1b = Q/((2Q² ' + '− 1)ωC)',
  () => {
    const parts = design('multiple-feedback-band-pass', of('bandpass', 10), { C1: 10e-9, C2: 10e-9 });
    const unit = 1 / (OMEGA * 10e-9);
    expect(parts.R2).toBeCloseTo(20 * unit, 2);
    expect(parts.R1).toBeCloseTo(10 * unit, 2);
    expect(parts.R1b).toBeCloseTo((10 / 199) * unit, 3);
    expect(unit).toBeCloseTo(15915.49, 2);
  },
);

test('Sallen-Key band-pass with equal parts: R = √2/(ωC), K = 4 − √2/Q, gain K/(4 − K)', () => {
  const gain = ((4 - Math.SQRT2 / 3) * 3) / Math.SQRT2;
  const parts = design('sallen-key-band-pass', of('bandpass', 3, gain), { C1: 10e-9, C2: 10e-9 });
  for (const name of ['R1', 'R2', 'R3']) expect(parts[name]).toBeCloseTo(Math.SQRT2 / (OMEGA * 10e-9), 2);
  expect(1 + parts.Rb / parts.Ra).toBeCloseTo(4 - Math.SQRT2 / 3, 9);
});

test('Tow-Thomas: R4 = R5 = 1/(ωC), R2 = Q R4; a null of twice the frequency from C3 = C1 takes R6 = R5/4', () => {
  const low = design('tow-thomas', of('lowpass', 5, 2), { C1: 10e-9, C2: 10e-9 });
  expect(low.R4).toBeCloseTo(15915.49, 2);
  expect(low.R2 / low.R4).toBeCloseTo(5, 9);
  expect(low.R4 / low.R1).toBeCloseTo(2, 9);
  const notch = design('tow-thomas', of('notch', 1, 4, 2000), { C1: 10e-9, C2: 10e-9 });
  expect(notch.C3).toBeCloseTo(10e-9, 15);
  expect(notch.R5 / notch.R6).toBeCloseTo(4, 9);
});

test('state variable with equal resistors and unity gain: 1/Q = 3 R5/(R4 + R5)', () => {
  const parts = design('state-variable', of('lowpass', 4), { C1: 10e-9, C2: 10e-9, R2: 10e3 });
  expect([parts.R1, parts.R3]).toEqual([10e3, 10e3]);
  expect((3 * parts.R5) / (parts.R4 + parts.R5)).toBeCloseTo(1 / 4, 9);
  expect(parts.R6).toBeCloseTo(15915.49, 2);
});

test('bootstrapped twin-T: R = 1/(ωC), doubles and halves, Q = 1/(4(1 − k))', () => {
  const parts = design('twin-t-bootstrapped', of('notch', 5), { C1: 10e-9 });
  expect(parts.R1).toBeCloseTo(15915.49, 2);
  expect([parts.C3 / parts.C1, parts.R1 / parts.R3]).toEqual([2, 2]);
  expect(1 / (4 * (1 - parts.Rb / (parts.Ra + parts.Rb)))).toBeCloseTo(5, 9);
});

test('Bainter, null at twice the frequency: DC passes with the ratio’s square, R4 R5 and R3 in that ratio', () => {
  const parts = design('bainter', of('notch', 2, 4, 2000), { C1: 10e-9, C2: 10e-9 });
  expect(parts.R5).toBeCloseTo(2 * 15915.49, 1);
  expect(parts.R4).toBeCloseTo(15915.49 / 2, 1);
  expect(parts.R4 / parts.R3).toBeCloseTo(4, 9);
  expect(parts.C3).toBeUndefined();
});

test('impedance converter: equal parts of 1/(ωC), Rq = Q R, of itself a gain of two', () => {
  const parts = design('impedance-converter', of('bandpass', 20, 2), { C1: 10e-9, C2: 10e-9 });
  for (const name of ['R1', 'R3', 'R4', 'R5']) expect(parts[name]).toBeCloseTo(15915.49, 2);
  expect(parts.Rq / parts.R1).toBeCloseTo(20, 9);
});
