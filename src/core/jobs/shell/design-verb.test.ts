import type { Design } from '../../design/document/schema';
import { must } from '../../result';
import { designVerb } from './design-verb';

const supplied = (topology: string, rails: number | null, supply: string | null): Design['brief']['supply'] =>
  (
    JSON.parse(
      must(
        designVerb({
          path: { topology, wanted: {} },
          sourceOhm: 0,
          loadOhm: null,
          rails,
          supply,
          resistors: 'E24',
          capacitors: 'E6',
          opAmp: 'jfet-audio-3mhz',
        }),
      ),
    ) as Design
  ).brief.supply;

test.each([
  // What is not said is as is usual for the circuit: a pedal's battery with its middle, or two rails.
  ['wah-inductor', null, null, { kind: 'single', volts: 9, virtualGroundOhm: 10 }],
  ['wah-inductor', 12, null, { kind: 'single', volts: 12, virtualGroundOhm: 10 }],
  ['wah-inductor', null, 'dual', { kind: 'dual', volts: 12 }],
  ['twin-t', null, null, { kind: 'dual', volts: 12 }],
  ['twin-t', 15, null, { kind: 'dual', volts: 15 }],
  ['twin-t', null, 'single', { kind: 'single', volts: 12, virtualGroundOhm: 10 }],
] as const)('%s with rails of %s and a supply of %s', (topology, rails, supply, expected) => {
  expect(supplied(topology, rails, supply)).toEqual(expected);
});
