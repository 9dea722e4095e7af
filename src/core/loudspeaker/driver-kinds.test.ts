import { driverSchema, type Driver } from './driver';
import { asKind, USUAL_FIGURES } from './driver-kinds';

const KINDS = Object.keys(USUAL_FIGURES) as Driver['kind'][];
const of = (kind: Driver['kind']): Driver => ({
  id: 'd',
  name: 'D',
  kind,
  measuredImpedance: null,
  price: null,
  ...USUAL_FIGURES[kind],
});

test.each(KINDS)('a usual %s is one that the schema takes, and safe where it resonates or above', (kind) => {
  const driver = driverSchema.parse(of(kind));
  const [{ freqHz }] = driver.impedance.resonances;
  if (driver.response.kind !== 'model') throw new Error('no model');
  expect(driver.response.lowHz).toBe(freqHz);
  expect(driver.safeFromHz).toBeGreaterThan(0.6 * freqHz);
});

test('what is larger gives up sooner', () => {
  const bySize = KINDS.map(of).sort((a, b) => b.radiusM - a.radiusM);
  const tops = bySize.map((d) => (d.response.kind === 'model' ? d.response.topHz : NaN));
  expect(tops).toEqual([...tops].sort((a, b) => a - b));
});

test('what was never touched follows the kind', () => {
  for (const from of KINDS) for (const to of KINDS) expect({ ...of(from), ...asKind(of(from), to) }).toEqual(of(to));
});

test('what was set or measured stays', () => {
  const curve = { freqHz: [100, 1000], values: [80, 90], phaseDeg: null };
  const own: Driver = { ...of('woofer'), radiusM: 0.1, response: { kind: 'curve', curve } };
  const turned = { ...own, ...asKind(own, 'tweeter') };
  expect(turned).toMatchObject({ kind: 'tweeter', radiusM: 0.1, response: own.response, safeFromHz: 1800 });
});
