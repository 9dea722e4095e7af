import { must } from '../../result';
import { createDesign, createPlan } from '../making/create';
import { helperParts } from './helper-parts';
import type { Design } from '../document/schema';
import { designWay } from './stage-design';

let n = 0;
const design = (response: 'lowpass' | 'highpass', topology?: string): Design => {
  const made = createDesign(
    'h',
    (id) => {
      const plan = createPlan(id(), response, 'butterworth', 2, 100);
      return [topology ? { ...plan, topologies: { ...plan.topologies, second: topology } } : plan];
    },
    () => `h${n++}`,
  );
  return made;
};
const of = (d: Design) => {
  const [way] = d.variants[0].ways;
  return helperParts(d, way, must(designWay(way, d, [])).stages);
};
const codes = (d: Design) => of(d).map((p) => p.code);

test('a high-pass gives its op-amp’s input a DC path of its own, a low-pass leaves it to the source', () => {
  const [path] = of(design('highpass'));
  expect(path).toMatchObject({ code: 'dc-path', state: 'there', data: { part: 'R2' } });
  expect(codes(design('lowpass'))).toContain('dc-path-left-to-source');
});

test('a bare output is missed, one with a resistor is not', () => {
  const bare = design('lowpass');
  expect(codes(bare)).toContain('output-bare');
  const protectedOutput: Design = {
    ...bare,
    variants: bare.variants.map((v) => ({
      ...v,
      ways: v.ways.map((w) => ({ ...w, outputResistor: { ohm: 220 } })),
    })),
  };
  expect(of(protectedOutput).find((p) => p.code === 'output-protection')?.data.ohm).toBe(220);
  expect(codes(protectedOutput)).not.toContain('output-bare');
});

test('on one battery the output wants a capacitor, a decade below what must pass, and something that bleeds it', () => {
  const base = design('lowpass');
  const single: Design = {
    ...base,
    brief: {
      ...base.brief,
      supply: { kind: 'single', volts: 9, virtualGroundOhm: 10 },
      load: { name: 'l', ohm: 10e3 },
    },
  };
  const coupling = of(single).find((p) => p.code === 'output-coupling')!;
  expect(coupling.data.volts).toBe(4.5);
  // 10/(2π 20 Hz 10 kΩ) is 8 µF; the next of E6 is 10 µF.
  expect(coupling.data.farad).toBeCloseTo(10e-6, 12);
  expect(codes(single)).toContain('output-bleed');
  expect(codes(base)).not.toContain('output-coupling');
});

test('a path of passive parts has no op-amp to help', () => {
  const passive = createDesign(
    'p',
    (id) => [
      {
        ...createPlan(id(), 'lowpass', 'butterworth', 1, 100),
        topologies: {
          first: 'first-order-passive',
          second: 'sallen-key-unity-gain',
          notch: 'bainter',
        },
      },
    ],
    () => `h${n++}`,
  );
  expect(of(passive)).toEqual([]);
});
