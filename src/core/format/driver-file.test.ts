import { gathered, nominalOf, withCurves } from './driver-intake';
import { measuredDirectivity, pistonDirectivity } from '../loudspeaker/driver-response';
import { USUAL_FIGURES } from '../loudspeaker/driver-kinds';
import { driverSchema, type Curve, type Driver } from '../loudspeaker/driver';
import { must } from '../result';
import { readDriverFile } from './driver-file';

const LEVELS = '100 84.5\n1000 88\n10000 86.25\n';
const OHMS = '100 12 20\n1000 6.4 -3\n10000 9.5 31\n';

test.each<[name: string, text: string, kind: string, offDeg: number, driver: string]>([
  ['Alder 165.frd', LEVELS, 'response', 0, 'Alder 165'],
  ['Alder 165.zma', OHMS, 'impedance', 0, 'Alder 165'],
  ['alder_imp.txt', OHMS, 'impedance', 0, 'alder'],
  ['alder-response.txt', `* Hz\tdB\n${LEVELS}`, 'response', 0, 'alder'],
  ['export.csv', `Freq (Hz), SPL (dB)\n100,84.5\n1000,88\n`, 'response', 0, 'export'],
  ['export.csv', `Hz;ohm;deg\n100;12;20\n1000;6,4;-3\n`, 'impedance', 0, 'export'],
  // By what the numbers can be, where nothing is said.
  ['finch.txt', LEVELS, 'response', 0, 'finch'],
  ['finch.txt', OHMS, 'impedance', 0, 'finch'],
  ['finch.txt', '100 -3\n1000 0.2\n10000 -6\n', 'response', 0, 'finch'],
  // Angles in names of several habits.
  ['finch 30 deg.frd', LEVELS, 'response', 30, 'finch'],
  // The other side, and a whole turn, are the same again.
  ['finch 270 deg.frd', LEVELS, 'response', 90, 'finch'],
  ['finch 180 deg.frd', LEVELS, 'response', 180, 'finch'],
  ['finch 360 deg.frd', LEVELS, 'response', 0, 'finch'],
  ['finch_hor_45.frd', LEVELS, 'response', 45, 'finch'],
  ['finch_h15.txt', LEVELS, 'response', 15, 'finch'],
  ['finch-60°.frd', LEVELS, 'response', 60, 'finch'],
  ['Elm 260.frd', LEVELS, 'response', 0, 'Elm 260'],
])('%s is read for what it is', (name, text, kind, offDeg, driver) => {
  expect(must(readDriverFile(name, text))).toMatchObject({ kind, offDeg, driver });
});

test.each<[string, string, string, object]>([
  ['odd.txt', '100 48\n1000 52\n10000 41\n', 'which-curve', { name: 'odd.txt' }],
  ['elm.frd', `* measured\nHz ohm\n${OHMS}`, 'contradicting-file', { line: 2, says: 'response', heading: 'Hz ohm' }],
  ['elm.zma', `Hz dB\n${LEVELS}`, 'contradicting-file', { line: 1, says: 'impedance' }],
  ['elm-response.txt', 'freq mV\n100 12\n1000 15\n', 'not-decibels', { what: 'millivolts', line: 1 }],
  ['elm.frd', 'Hz, watts\n100,1.2\n1000,1.5\n', 'not-decibels', { what: 'watts', line: 1 }],
  ['elm_v30.frd', LEVELS, 'vertical-angle', { name: 'elm_v30.frd' }],
  ['elm 400 deg.frd', LEVELS, 'no-such-angle', { name: 'elm 400 deg.frd' }],
  ['elm.zma', '100 8\n200 -4\n', 'out-of-range', { line: 2, what: 'impedance in ohm' }],
  ['elm.frd', '100 84\n200 loud\n', 'bad-line', { line: 2 }],
  ['elm.frd', '\n', 'empty-file', {}],
])('%s with %j is refused: %s', (name, text, code, data) => {
  expect(readDriverFile(name, text)).toMatchObject({ ok: false, code, data });
});

test('a heading that says at what a response was taken is no unit', () => {
  expect(must(readDriverFile('a.txt', `Hz dB at 2.83 V\n${LEVELS}`)).kind).toBe('response');
});

test('a gap of more than half an octave is told, a smaller one is not', () => {
  const rows = [100, 130, 170, 400, 500].map((f) => `${f} 80`).join('\n');
  expect(must(readDriverFile('a.frd', rows)).gap).toEqual({ fromHz: 170, toHz: 400 });
  expect(must(readDriverFile('a.frd', '100 80\n141 81\n199 80\n')).gap).toBeNull();
});

test('a hundred thousand points are brought to what is kept, and say the same', () => {
  const many = 100_000;
  const level = (f: number) => 85 + 3 * Math.sin(Math.log(f));
  const phase = (f: number) => -360 * (f / 1000);
  const wrapped = (deg: number) => ((((deg + 180) % 360) + 360) % 360) - 180;
  const rows = Array.from({ length: many }, (_, i) => {
    const f = 20 * 1000 ** (i / (many - 1));
    return `${f.toFixed(6)}\t${level(f).toFixed(5)}\t${wrapped(phase(f)).toFixed(4)}`;
  });
  const { curve, points } = must(readDriverFile('long.frd', rows.join('\n')));
  expect(points).toBe(many);
  expect(curve.freqHz.length).toBeLessThanOrEqual(1900);
  expect(curve.freqHz.length).toBeGreaterThan(1500);
  curve.freqHz.forEach((f, i) => {
    expect(curve.values[i]).toBeCloseTo(level(f), 2);
    expect(Math.abs(wrapped(curve.phaseDeg![i] - phase(f)))).toBeLessThan(0.5);
    if (i > 0) expect(f).toBeGreaterThan(curve.freqHz[i - 1]);
  });
});

describe('several files of one driver', () => {
  const file = (name: string, text: string) => must(readDriverFile(name, text));
  const driver: Driver = {
    id: 'mine',
    name: 'mine',
    kind: 'tweeter',
    measuredImpedance: null,
    price: null,
    ...USUAL_FIGURES.tweeter,
  };

  test('the last of each counts, angles rise, the name is the response’s', () => {
    const curves = gathered([
      file('Wren 60 deg.frd', LEVELS),
      file('Wren.zma', OHMS),
      file('Wren 30 deg.frd', LEVELS),
      file('Wren dome.frd', LEVELS),
    ]);
    expect(curves.name).toBe('Wren dome');
    expect(curves.angles.map((a) => a.offDeg)).toEqual([30, 60]);
    const changed = { ...driver, ...withCurves(driver, curves, driver.impedance) };
    expect(driverSchema.safeParse(changed).error).toBeUndefined();
    expect(changed.nominalOhm).toBe(8);
    // One more angle is added; another response takes the angles that were beside the old one away.
    const more = { ...changed, ...withCurves(changed, gathered([file('Wren 15 deg.frd', LEVELS)]), null) };
    expect(more.angles!.map((a) => a.offDeg)).toEqual([15, 30, 60]);
    expect(more.measuredImpedance).toBe(changed.measuredImpedance);
    expect(withCurves(more, gathered([file('Wren.frd', LEVELS)]), null).angles).toEqual([]);
  });

  test.each([
    [6.4, 8],
    [6.25, 8],
    [6.22, 6],
    [3.2, 4],
    [1, 2],
    [13.1, 16],
  ])('the least of %d ohm is printed %d ohm', (lowest, nominal) => expect(nominalOf(lowest)).toBe(nominal));

  test('off its axis a driver is what was measured there, between in proportion, beyond as a piston goes on', () => {
    const curve = (db: number): Curve => ({ freqHz: [100, 20e3], values: [db, db], phaseDeg: null });
    const measured = {
      response: { kind: 'curve' as const, curve: curve(90) },
      angles: [
        { offDeg: 60, curve: curve(80) },
        { offDeg: 30, curve: curve(87) },
      ],
      radiusM: 0.03,
    };
    const freqHz = Float64Array.of(2000);
    const db = (deg: number) => 20 * Math.log10(measuredDirectivity(measured, freqHz, (deg * Math.PI) / 180)![0]);
    expect(db(0)).toBeCloseTo(0, 9);
    expect(db(15)).toBeCloseTo(-1.5, 9);
    expect(db(30)).toBeCloseTo(-3, 9);
    expect(db(45)).toBeCloseTo(-6.5, 9);
    expect(db(60)).toBeCloseTo(-10, 9);
    const k = (2 * Math.PI * 2000 * 0.03) / 343;
    const piston = (deg: number) => pistonDirectivity(k * Math.sin((deg * Math.PI) / 180));
    expect(db(80)).toBeCloseTo(-10 + 20 * Math.log10(piston(80) / piston(60)), 9);
    expect(measuredDirectivity({ ...measured, angles: [] }, freqHz, 1)).toBeNull();
  });
});
