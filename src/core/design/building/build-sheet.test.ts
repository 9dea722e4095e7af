import { must } from '../../result';
import { lonePath, withStages } from '../../testing/lone-path';
import type { Design, PartChoice } from '../document/schema';
import { buildSheet } from './build-sheet';
import { stripParts } from './strip-parts';

const RC = lonePath({ topology: 'first-order-passive' }, {});
const withResistor = (design: Design, choice: PartChoice): Design =>
  withStages(design, ({ parts }) => ({ parts: { ...parts, R1: choice } }));

/** Its resistor is a pot that is turned to its end, where nothing is left of it. */
const turnedToItsEnd = (): Design => {
  const [variant] = RC.variants;
  const knob = { id: 'knob', name: 'Knob', kind: 'pot', position: 0, taper: 'linear' } as const;
  return withResistor(
    { ...RC, variants: [{ ...variant, controls: [knob] }] },
    { control: { kind: 'rheostat', control: 'knob', totalOhm: 10e3, endOhm: 0, mismatchPct: 0 } },
  );
};

test('a pot that is turned to its end is soldered in all the same, each lead to a net of its own', () => {
  const design = turnedToItsEnd();
  const sheet = must(buildSheet(design, design.variants[0]));
  const netOf = (pin: string) => sheet.connections.find((c) => c.pins.includes(pin))?.net;
  expect(netOf('R1 a')).toBeDefined();
  expect(netOf('R1 b')).toBeDefined();
  expect(netOf('R1 a')).not.toBe(netOf('R1 b'));
  expect(must(stripParts(design, design.variants[0])).parts.map((p) => p.reference)).toContain('R1');
});

test('a part that is left out meets nothing', () => {
  const design = withResistor(RC, { leftOut: true });
  const pins = must(buildSheet(design, design.variants[0])).connections.flatMap((c) => c.pins);
  expect(pins.some((pin) => pin.startsWith('R1 '))).toBe(false);
  expect(pins.some((pin) => pin.startsWith('C1 '))).toBe(true);
});
