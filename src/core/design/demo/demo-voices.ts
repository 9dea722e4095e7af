import { commonEmitter } from '../../topology/voice/stage/common-emitter';
import { diodeLegs } from '../../topology/voice/diode-legs';
import { emitterFollower } from '../../topology/voice/stage/emitter-follower';
import { otaCascade } from '../../topology/voice/ota-cascade';
import { optocouplerGate } from '../../topology/voice/optocoupler-gate';
import { transistorLadder } from '../../topology/voice/transistor-ladder';
import { wahInductor } from '../../topology/voice/wah-inductor';
import { wahInductorless } from '../../topology/voice/wah-inductorless';
import type { NetworkTopology } from '../../topology/kit/define-topology';
import { exponentialConverter } from '../../topology/voice/control/exponential-converter';
import { must } from '../../result';
import { withControlChain } from '../making/control-chain';
import { singleSupply } from '../making/single-supply';
import { createDesign, createNetwork, type MakeId } from '../making/create';
import { FIRST_SEQUENCE } from '../document/played';
import type { Control, Design, Stage } from '../document/schema';

/** A voltage-controlled circuit with its control named and set. */
function voiced(
  topology: NetworkTopology,
  makeId: MakeId,
  given: { form?: string; parameters: Readonly<Record<string, number>> },
  { name, position }: { name: string; position: number },
): { stage: Stage; controls: Control[] } {
  const { stage, controls } = createNetwork(topology, makeId, given);
  return { stage, controls: controls.map((c) => ({ ...c, name, position })) };
}

/** The workshop's small synthesizer voice: a transistor ladder, and beside it four OTAs. */
export function reedVoice(makeId: MakeId): Design {
  const base = createDesign('Reed voice, ladder filter', () => [], makeId);
  const [variant] = base.variants;
  const ladder = voiced(
    transistorLadder,
    makeId,
    { parameters: { cutoffHz: 900, feedback: 2.6 } },
    { name: 'Cutoff CV', position: 0.5 },
  );
  const cascade = voiced(
    otaCascade,
    makeId,
    { parameters: { cutoffHz: 900, feedback: 2.6 } },
    { name: 'Cutoff CV', position: 0.5 },
  );
  return {
    ...base,
    family: 'voltage-controlled',
    brief: {
      ...base.brief,
      note:
        'A voice for the pedal board that a reed cannot be: a saw through four poles, swept by the swell. ' +
        'Two candidates to hear against one another.',
      signalVolts: 1,
      source: { name: 'Oscillator', ohm: 100 },
      load: { name: 'Swell mixer', ohm: 47e3 },
    },
    variants: [
      {
        ...variant,
        label: 'transistor ladder',
        controls: ladder.controls,
        ways: variant.ways.map((way) => ({ ...way, stages: [ladder.stage] })),
      },
      {
        ...variant,
        id: makeId(),
        name: 'B',
        label: 'OTA cascade',
        controls: cascade.controls,
        ways: variant.ways.map((way) => ({ ...way, id: makeId(), stages: [cascade.stage] })),
      },
    ],
  };
}

/** Four OTAs on a chain of their own, in volts an octave, with a run to hear them by. */
export function drone(makeId: MakeId): Design {
  const base = createDesign('Drone in tune, volts an octave', () => [], makeId);
  const bare = createNetwork(otaCascade, makeId, { parameters: { cutoffHz: 500, feedback: 3.1 } });
  const brief = {
    ...base.brief,
    note:
      'The drone’s filter follows the keyboard: a volt an octave, so that what rings in it is in tune with what is ' +
      'played. Cutoff by knob and jack, modulation by the bellows.',
    source: { name: 'Drone bank', ohm: 100 },
    load: { name: 'Swell mixer', ohm: 47e3 },
  };
  const { stage, controls } = must(withControlChain(bare.stage, exponentialConverter, { ...base, brief }, makeId));
  const pitch = controls.find((c) => c.name === 'Pitch CV') ?? controls[0];
  return {
    ...base,
    family: 'voltage-controlled',
    brief,
    variants: base.variants.map((v) => ({
      ...v,
      label: 'OTA cascade',
      controls,
      played: {
        sequence: FIRST_SEQUENCE,
        moves: [
          { controlId: pitch.id, depth: 0.3, by: { kind: 'envelope', attackS: 0.004, decayS: 0.2, accent: 0.6 } },
        ],
      },
      ways: v.ways.map((way) => ({ ...way, stages: [stage] })),
    })),
  };
}

/** Two cells and a lamp: pluck and it closes like wood. */
export function pluckGate(makeId: MakeId): Design {
  const base = createDesign('Plucked stop, optocoupler gate', () => [], makeId);
  const gate = voiced(
    optocouplerGate,
    makeId,
    { form: 'compensated', parameters: { cellOhm: 12e3, cutoffHz: 900, q: 1, shuntOhm: 6.8e3 } },
    { name: 'Lamp', position: 0.55 },
  );
  return {
    ...base,
    family: 'voltage-controlled',
    brief: {
      ...base.brief,
      note: 'A stop that is struck, not blown: a lamp flashes at two cells, and the tone opens and closes as they do.',
      signalVolts: 1,
      source: { name: 'Rank', ohm: 100 },
      load: { name: 'Swell mixer', ohm: 47e3 },
    },
    variants: base.variants.map((v) => ({
      ...v,
      label: 'gate and filter',
      controls: gate.controls,
      ways: v.ways.map((way) => ({ ...way, stages: [gate.stage] })),
    })),
  };
}

/** One block battery. */
const BATTERY = singleSupply(9);

/**
 * Two sections on diode legs and the stage that makes up for them: first as everybody builds it, and too quiet; then
 * with its bias bootstrapped; then behind a follower.
 */
export function stoppedFlute(makeId: MakeId): Design {
  const base = createDesign('Stopped flute, diode legs', () => [], makeId);
  const [variant] = base.variants;
  const variantOf = (
    name: string,
    label: string,
    stages: (id: MakeId) => { stage: Stage; controls: Control[] }[],
    id: string,
  ) => {
    const made = stages(makeId);
    return {
      ...variant,
      id,
      name,
      label,
      controls: made.flatMap((m) => m.controls),
      ways: variant.ways.map((way) => ({ ...way, id: makeId(), stages: made.map((m) => m.stage) })),
    };
  };
  const legs = (id: MakeId) =>
    voiced(
      diodeLegs,
      id,
      { form: 'low-pass', parameters: { padDb: -20, cutoffHz: 500, shelfDb: -30 } },
      { name: 'Damper CV', position: 0.35 },
    );
  const maker = (form: string) => (id: MakeId) =>
    createNetwork(commonEmitter, id, {
      form,
      parameters: { collectorAmps: 0.5e-3, emitterVolts: 1, gain: 8, stiffness: 12, lowestHz: 30, loadOhm: 47e3 },
    });
  const follower = (id: MakeId) =>
    createNetwork(emitterFollower, id, {
      form: 'bootstrapped',
      parameters: { collectorAmps: 0.5e-3, emitterVolts: 4, stiffness: 10, lowestHz: 30, loadOhm: 12e3 },
    });
  return {
    ...base,
    family: 'voltage-controlled',
    brief: {
      ...base.brief,
      note:
        'A pedal that closes the flute like its stopper: two sections on diodes, from one battery. Its ' +
        'make-up stage takes most of the level away again.',
      signalVolts: 0.3,
      supply: BATTERY,
      source: { name: 'Flute pickup', ohm: 1000 },
      load: { name: 'Swell mixer', ohm: 47e3 },
    },
    variants: [
      variantOf('A', 'as first built', (id) => [legs(id), maker('divider')(id)], variant.id),
      variantOf('B', 'bias bootstrapped', (id) => [legs(id), maker('bootstrapped')(id)], makeId()),
      variantOf('C', 'behind a follower', (id) => [legs(id), follower(id), maker('divider')(id)], makeId()),
    ],
  };
}

/** The swell pedal as a wah: with a coil, and without. */
export function swellWah(makeId: MakeId): Design {
  const base = createDesign('Swell pedal wah', () => [], makeId);
  const [variant] = base.variants;
  const coil = voiced(
    wahInductor,
    makeId,
    { parameters: { heelHz: 420, toeHz: 2100, q: 7 } },
    { name: 'Pedal', position: 0.4 },
  );
  const plain = voiced(
    wahInductorless,
    makeId,
    { parameters: { heelHz: 420, toeHz: 1800, q: 1.6, gain: 2 } },
    { name: 'Pedal', position: 0.4 },
  );
  return {
    ...base,
    family: 'voltage-controlled',
    brief: {
      ...base.brief,
      note:
        'The swell shoe moves a peak instead of the level: the reeds speak vowels. A coil from the spares ' +
        'drawer, or none.',
      signalVolts: 0.1,
      supply: BATTERY,
      source: { name: 'Reed pickup', ohm: 2200 },
      load: { name: 'Swell mixer', ohm: 100e3 },
    },
    preferences: { ...base.preferences, capacitorSeries: 'E12' },
    variants: [
      {
        ...variant,
        label: 'with a coil',
        controls: coil.controls,
        ways: variant.ways.map((way) => ({ ...way, stages: [coil.stage] })),
      },
      {
        ...variant,
        id: makeId(),
        name: 'B',
        label: 'without a coil',
        controls: plain.controls,
        ways: variant.ways.map((way) => ({ ...way, id: makeId(), stages: [plain.stage] })),
      },
    ],
  };
}
