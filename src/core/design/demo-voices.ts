import { otaCascade } from '../topology/ota-cascade';
import { optocouplerGate } from '../topology/optocoupler-gate';
import { transistorLadder } from '../topology/transistor-ladder';
import type { NetworkTopology } from '../topology/define-topology';
import { createDesign, createNetwork, type MakeId } from './create';
import type { Control, Design, Stage } from './schema';

/** A voltage-controlled circuit with its control named and set. */
function voiced(topology: NetworkTopology, makeId: MakeId, given: { form?: string; parameters: Readonly<Record<string, number>> }, { name, position }: { name: string; position: number }): { stage: Stage; controls: Control[] } {
  const { stage, controls } = createNetwork(topology, makeId, given);
  return { stage, controls: controls.map((c) => ({ ...c, name, position })) };
}

/** The workshop's small synthesizer voice: a transistor ladder, and beside it four OTAs. */
export function reedVoice(makeId: MakeId): Design {
  const base = createDesign('Reed voice, ladder filter', () => [], makeId);
  const [variant] = base.variants;
  const ladder = voiced(transistorLadder, makeId, { parameters: { cutoffHz: 900, feedback: 2.6 } }, { name: 'Cutoff CV', position: 0.5 });
  const cascade = voiced(otaCascade, makeId, { parameters: { cutoffHz: 900, feedback: 2.6 } }, { name: 'Cutoff CV', position: 0.5 });
  return {
    ...base,
    family: 'voltage-controlled',
    brief: { ...base.brief, note: 'A voice for the pedal board that a reed cannot be: a saw through four poles, swept by the swell. Two candidates to hear against one another.', signalVolts: 1, source: { name: 'Oscillator', ohm: 100 }, load: { name: 'Swell mixer', ohm: 47e3 } },
    variants: [
      { ...variant, label: 'transistor ladder', controls: ladder.controls, ways: variant.ways.map((way) => ({ ...way, stages: [ladder.stage] })) },
      { ...variant, id: makeId(), name: 'B', label: 'OTA cascade', controls: cascade.controls, ways: variant.ways.map((way) => ({ ...way, id: makeId(), stages: [cascade.stage] })) },
    ],
  };
}

/** Two cells and a lamp: pluck and it closes like wood. */
export function pluckGate(makeId: MakeId): Design {
  const base = createDesign('Plucked stop, optocoupler gate', () => [], makeId);
  const gate = voiced(optocouplerGate, makeId, { form: 'both at once', parameters: { cellOhm: 12e3, cutoffHz: 900, q: 1, shuntOhm: 10e3 } }, { name: 'Lamp', position: 0.55 });
  return {
    ...base,
    family: 'voltage-controlled',
    brief: { ...base.brief, note: 'A stop that is struck, not blown: a lamp flashes at two cells, and the tone opens and closes as they do.', signalVolts: 1, source: { name: 'Rank', ohm: 100 }, load: { name: 'Swell mixer', ohm: 47e3 } },
    variants: base.variants.map((v) => ({ ...v, label: 'gate and filter', controls: gate.controls, ways: v.ways.map((way) => ({ ...way, stages: [gate.stage] })) })),
  };
}
