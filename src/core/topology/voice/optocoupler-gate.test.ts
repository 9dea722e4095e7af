import { AS_BUILT, compile } from '../../design/compiled/compile';
import { createDesign, createNetwork } from '../../design/making/create';
import type { Design } from '../../design/document/schema';
import { bruteCurve } from '../../testing/brute-curve';
import { deskOf } from '../../testing/desk-of';
import { withStages } from '../../testing/lone-path';
import { must } from '../../result';
import { optocouplerGate } from './optocoupler-gate';

let made = 0;
const makeId = () => `g${made++}`;
const base = createDesign('gate', () => [], makeId);

function gate(form: string): Design {
  const { stage, controls } = createNetwork(optocouplerGate, makeId, {
    form,
    parameters: { cellOhm: 9e3, cutoffHz: 1100, q: 1.4, shuntOhm: 5600 },
  });
  return {
    ...base,
    brief: { ...base.brief, source: { name: '', ohm: 0 }, load: { name: '', ohm: null } },
    variants: base.variants.map((v) => ({
      ...v,
      controls,
      ways: v.ways.map((w) => ({ ...w, stages: [{ ...stage, device: 'ideal' }] })),
    })),
  };
}
const without = (design: Design, part: string): Design =>
  withStages(design, ({ parts }) => ({ parts: { ...parts, [part]: { ...parts[part], leftOut: true } } }));

/** Level at DC, dB, and where half of that power is left, Hz, by the dense solver and halving. */
function halfPower(design: Design): { dcDb: number; hz: number; at: (hz: number) => number } {
  const { circuit, ways } = must(compile(design, design.variants[0], AS_BUILT));
  const brute = bruteCurve(circuit, ways[0].output, 1, 3e6);
  const dcDb = brute.levelAt(0.1);
  const falls = brute.crossings(dcDb - 10 * Math.log10(2)).filter((c) => c.falling);
  return { dcDb, hz: falls[0].freqHz, at: brute.levelAt };
}

describe.each(['filter', 'gate', 'combined', 'compensated'])('%s', (form) => {
  const design = gate(form);
  const figure = (label: string) => deskOf(design).stages[0].network!.figures.find((f) => f.label === label)!.value;

  test(
    'its half-power figure is where its curve has fallen to half, and C3 moves that by what leaving it ' + 'out does',
    () => {
      const [whole, bare] = [halfPower(design), halfPower(without(design, 'C3'))];
      expect(figure('half power, as switched') / whole.hz).toBeCloseTo(1, 4);
      expect(figure('C3 moves that')).toBeCloseTo(100 * (whole.hz / bare.hz - 1), 2);
    },
  );

  test('its working says what the open gate passes, and what the larger capacitor takes at 1 kHz', () => {
    const { values } = deskOf(design).stages[0];
    const lines = optocouplerGate.working(form, values, { cellOhm: 9e3, cutoffHz: 1100, q: 1.4, shuntOhm: 5600 });
    const said = (says: string) => {
      const line = lines.find((l) => l.says === says);
      return line && Number.parseFloat(line.value.replace('−', '-'));
    };
    const whole = halfPower(design);
    const open = said('open, with the doubled gain');
    if (open !== undefined) expect(open).toBeCloseTo(whole.dcDb, 2);
    const takes = said('C2 takes at 1 kHz');
    const feedback = form === 'filter' || form === 'compensated';
    expect([open === undefined, takes === undefined]).toEqual([form === 'filter' || form === 'combined', feedback]);
    if (takes !== undefined) expect(takes).toBeCloseTo(whole.at(1000) - halfPower(without(design, 'C2')).at(1000), 2);
  });
});

test('levels are balanced: at half way the doubled gate passes what its divider leaves, the filter all', () => {
  // 2 · 5.6/(5.6 + 18) with the bleed of ten megohms beside the shunt; the cells at their 9 kΩ.
  const shunt = 1 / (1 / 5600 + 1 / 10e6);
  const exact = (form: string) =>
    halfPower({ ...gate(form), preferences: { ...base.preferences, resistorSeries: 'E192' } });
  expect(exact('gate').dcDb).toBeCloseTo(20 * Math.log10((2 * shunt) / (shunt + 18e3)), 1);
  expect(exact('filter').dcDb).toBeCloseTo(20 * Math.log10(10e6 / (10e6 + 18e3)), 2);
});
