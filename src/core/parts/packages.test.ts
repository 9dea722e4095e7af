import { assignPackages } from './packages';

const units = (count: number, name: string) =>
  Array.from({ length: count }, (_, i) => ({ reference: `U1.${i + 1}`, name }));

test('five units in duals are three packages with one spare, neighbours together', () => {
  const packages = assignPackages(units(5, 'quiet'), 2);
  expect(packages.map((p) => p.units.map((u) => u.reference))).toEqual([
    ['U1.1', 'U1.2'],
    ['U1.3', 'U1.4'],
    ['U1.5', null],
  ]);
  expect(packages.map((p) => p.name)).toEqual(['IC1', 'IC2', 'IC3']);
});

test('unlike op-amps never share a package; every unit is placed once', () => {
  const mixed = [...units(3, 'quiet'), ...units(2, 'quick').map((u) => ({ ...u, reference: `${u.reference}q` }))];
  for (const size of [1, 2, 4] as const) {
    const packages = assignPackages(mixed, size);
    expect(packages.flatMap((p) => p.units).filter((u) => u.reference !== null)).toHaveLength(5);
    expect(packages.filter((p) => p.opAmp === 'quiet')).toHaveLength(Math.ceil(3 / size));
    for (const p of packages) expect(p.units).toHaveLength(size);
  }
});
