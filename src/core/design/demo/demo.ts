import { must } from '../../result';
import { topologyById } from '../../topology/index';
import { bankWays, USUAL_BANK } from '../making/bank';
import { drone, pluckGate, reedVoice, stoppedFlute, swellWah } from './demo-voices';
import { threeWayActive, twoWay } from './demo-crossovers';
import { countingIds, createDesign, createNetwork, createPlan } from '../making/create';
import { singleSupply } from '../making/single-supply';
import type { Design } from '../document/schema';

/** Designs from a made-up reed-organ workshop, with our own numbers. */
export function demoDesigns(): Design[] {
  return [
    rumbleFilter(),
    hissFilter(),
    bandLimiter(),
    tremulantLag(),
    hornPreamplifier(),
    toneCabinet(),
    heterodyneStop(),
    krummhornFormant(),
    bombardeLeapfrog(),
    formantBank(),
    twoWay(countingIds('twoway')),
    threeWayActive(countingIds('chapel')),
    reedVoice(countingIds('voice')),
    drone(countingIds('drone')),
    pluckGate(countingIds('pluck')),
    stoppedFlute(countingIds('flute')),
    swellWah(countingIds('wah')),
  ];
}

function rumbleFilter(): Design {
  const base = createDesign(
    'Reed pickup rumble filter',
    (id) => [createPlan(id(), 'highpass', 'butterworth', 3, 45)],
    countingIds('rumble'),
  );
  return {
    ...base,
    brief: {
      ...base.brief,
      note:
        'Lose the bellows rumble under 45 Hz before the swell-box preamp; keep the lowest reed, 65 Hz, ' +
        'within 1 dB.',
      signalVolts: 0.5,
      source: { name: 'Reed pickup', ohm: 600 },
      load: { name: 'Swell preamp', ohm: 22e3 },
      mask: [
        { id: 'rumble-m1', kind: 'at-most', freqHz: 65, side: 'above', db: 1 },
        { id: 'rumble-m2', kind: 'at-least', freqHz: 15, side: 'below', db: 26 },
      ],
    },
    variants: base.variants.map((v) => ({ ...v, label: '3rd order' })),
    log: [
      {
        id: 'rumble-l1',
        at: '2026-03-02T18:40:00.000Z',
        text: 'Bellows pump at 12 Hz and its second harmonic are what moves the cone. Third order leaves 65 Hz alone.',
        snapshot: null,
      },
    ],
  };
}

function hissFilter(): Design {
  const base = createDesign(
    'Bellows microphone hiss filter',
    (id) => [
      {
        ...createPlan(id(), 'lowpass', 'bessel', 4, 7500),
        gainDb: 6,
        topologies: { first: 'first-order-buffered', second: 'multiple-feedback', notch: 'bainter' },
      },
    ],
    countingIds('hiss'),
  );
  return {
    ...base,
    brief: {
      ...base.brief,
      note:
        'Take the air hiss off the bellows microphone without smearing the chiff of the reeds: even delay ' +
        'matters more than steepness.',
      signalVolts: 0.25,
      supply: singleSupply(9),
      source: { name: 'Bellows microphone', ohm: 220 },
      load: { name: 'Recorder', ohm: 47e3 },
      mask: [
        { id: 'hiss-m1', kind: 'at-most', freqHz: 3000, side: 'below', db: 1 },
        { id: 'hiss-m2', kind: 'at-least', freqHz: 30e3, side: 'above', db: 30 },
      ],
    },
    variants: base.variants.map((v) => ({
      ...v,
      label: 'even delay',
      ways: v.ways.map((way) => ({
        ...way,
        stages: way.stages.map((s) => ({ ...s, device: 'rail-to-rail-single-supply' })),
      })),
    })),
  };
}

function bandLimiter(): Design {
  const base = createDesign(
    'Swell-box band limiter',
    (id) => [
      createPlan(id(), 'highpass', 'butterworth', 4, 72),
      { ...createPlan(id(), 'lowpass', 'butterworth', 4, 4000), gainDb: 0 },
    ],
    countingIds('band'),
  );
  const [variant] = base.variants;
  const [way] = variant.ways;
  return {
    ...base,
    brief: {
      ...base.brief,
      note:
        'Everything the swell box adds outside 72 Hz to 4 kHz is creak and wind. The mixer input is low, so ' +
        'watch the last joint.',
      signalVolts: 1,
      source: { name: 'Reed pickup', ohm: 600 },
      load: { name: 'Mixer', ohm: 2200 },
      mask: [
        { id: 'band-m1', kind: 'at-least', freqHz: 20, side: 'below', db: 40 },
        { id: 'band-m2', kind: 'at-least', freqHz: 16e3, side: 'above', db: 40 },
      ],
    },
    variants: [{ ...variant, label: '4th order', ways: [{ ...way, outputResistor: { ohm: 1000 } }] }, gentler(base)],
  };
}

/** The same limits in second order with a low output resistor: the variant to compare with. */
function gentler(base: Design): Design['variants'][number] {
  const makeId = countingIds('band-b');
  const other = createDesign(
    '',
    (id) => [createPlan(id(), 'highpass', 'butterworth', 2, 72), createPlan(id(), 'lowpass', 'butterworth', 2, 4000)],
    makeId,
  ).variants[0];
  return {
    ...other,
    id: `${base.id}-b`,
    name: 'B',
    label: '2nd order',
    ways: other.ways.map((way) => ({ ...way, outputResistor: { ohm: 100 } })),
  };
}

/** One circuit with parameters of its own as a whole design. */
function withNetwork(
  title: string,
  prefix: string,
  topologyId: string,
  given: Parameters<typeof createNetwork>[2],
): Design {
  const makeId = countingIds(prefix);
  const base = createDesign(title, () => [], makeId);
  const topology = topologyById(topologyId);
  if (topology.role !== 'network') throw new Error(`${topologyId} asks for nothing of its own`);
  const { stage, controls } = createNetwork(topology, makeId, given);
  return {
    ...base,
    family: topology.family === 'rc' ? 'rc-network' : base.family,
    variants: base.variants.map((v) => ({ ...v, controls, ways: v.ways.map((way) => ({ ...way, stages: [stage] })) })),
  };
}

/** One resistor, one capacitor: the first thing to look at in four ways. */
function tremulantLag(): Design {
  const base = createDesign(
    'Tremulant lag',
    (id) => [
      {
        ...createPlan(id(), 'lowpass', 'butterworth', 1, 160),
        topologies: { first: 'first-order-passive', second: 'sallen-key-unity-gain', notch: 'bainter' },
      },
    ],
    countingIds('lag'),
  );
  return {
    ...base,
    family: 'rc-network',
    brief: {
      ...base.brief,
      note:
        'One RC between the tremulant’s switch and the swell voltage, so that it sways and does not click. ' +
        'Its time constant is about a millisecond.',
      signalVolts: 1,
      source: { name: 'Tremulant', ohm: 10 },
      load: { name: 'Swell input', ohm: 10e6 },
    },
    variants: base.variants.map((v) => ({ ...v, label: 'one RC' })),
  };
}

/** A gain with top and bottom taken down by a capacitor each, and what that does to two nuisances. */
function hornPreamplifier(): Design {
  const base = withNetwork('Horn preamplifier, shaped', 'horn', 'shaped-amplifier-non-inverting', {
    form: 'both',
    parameters: { gainDb: 26, bottomHz: 55, topHz: 9000 },
  });
  return {
    ...base,
    brief: {
      ...base.brief,
      note:
        'Twenty times for the horn’s pickup, and as little as can be of the blower’s hum and the whistle of ' +
        'the lamp supply.',
      signalVolts: 0.05,
      source: { name: 'Horn pickup', ohm: 1000 },
      load: { name: 'Mixer', ohm: 22e3 },
      nuisances: [
        { id: 'horn-n1', name: 'Blower', kind: 'tone', fromHz: 24, toHz: 24, levelDb: -20 },
        { id: 'horn-n2', name: 'Lamp supply', kind: 'band', fromHz: 30e3, toHz: 60e3, levelDb: -30 },
      ],
    },
    variants: base.variants.map((v) => ({ ...v, label: 'both capacitors' })),
  };
}

function toneCabinet(): Design {
  const base = withNetwork('Tone cabinet, bass and treble', 'tone', 'tone-control', {
    parameters: { rangeDb: 18, bassHz: 320, trebleHz: 2200, trackOhm: 100e3 },
  });
  return {
    ...base,
    brief: {
      ...base.brief,
      note: 'Two knobs on the tone cabinet, no supply inside it. The loss is made up in the power amplifier.',
      signalVolts: 1,
      source: { name: 'Mixer', ohm: 100 },
      load: { name: 'Power amplifier', ohm: 1e6 },
    },
    variants: base.variants.map((v) => ({
      ...v,
      label: 'passive',
      controls: v.controls.map((c, i) => ({ ...c, position: i === 0 ? 0.72 : 0.35 })),
    })),
  };
}

/** As steep as it gets: nulls above the pass band. */
function heterodyneStop(): Design {
  const base = createDesign(
    'Heterodyne stop, elliptic',
    (id) => [{ ...createPlan(id(), 'lowpass', 'elliptic', 5, 6000), rippleDb: 0.5, attenuationDb: 50 }],
    countingIds('het'),
  );
  return {
    ...base,
    brief: {
      ...base.brief,
      note:
        'The condenser pickup beats with the lamp dimmer at 9.6 kHz. Everything up to 6 kHz stays; the beat ' +
        'must be gone.',
      signalVolts: 0.5,
      source: { name: 'Condenser pickup', ohm: 470 },
      load: { name: 'Tone cabinet', ohm: 47e3 },
      mask: [
        { id: 'het-m1', kind: 'at-most', freqHz: 6000, side: 'below', db: 1 },
        { id: 'het-m2', kind: 'at-least', freqHz: 9600, side: 'above', db: 45 },
      ],
    },
    variants: base.variants.map((v) => ({ ...v, label: '5th order' })),
  };
}

/** A two-integrator loop with all its outputs. */
function krummhornFormant(): Design {
  const base = createDesign(
    'Krummhorn formant',
    (id) => [
      {
        ...createPlan(id(), 'bandpass', 'butterworth', 2, 760),
        bandwidthHz: 190,
        gainDb: 6,
        topologies: { first: 'first-order-buffered', second: 'state-variable', notch: 'bainter' },
      },
    ],
    countingIds('krummhorn'),
  );
  return {
    ...base,
    brief: {
      ...base.brief,
      note:
        'One formant of the krummhorn rank, from the state-variable board: high-pass, band-pass and low-pass ' +
        'at once, so that the voicer can choose.',
      signalVolts: 0.3,
      source: { name: 'Krummhorn pickup', ohm: 220 },
      load: { name: 'Swell mixer', ohm: 22e3 },
    },
    variants: base.variants.map((v) => ({ ...v, label: 'state variable' })),
  };
}

/** Very steep, and beside it the gentlest there is: harmonics one by one, or all by degrees. */
function bombardeLeapfrog(): Design {
  const base = withNetwork('Bombarde leapfrog', 'bomb', 'leapfrog-ladder', {
    form: 'order 7, nulls',
    parameters: { cutoffHz: 1500, rippleDb: 0.3, attenuationDb: 60 },
  });
  const gentle = createDesign('', (id) => [createPlan(id(), 'lowpass', 'butterworth', 1, 1500)], countingIds('bomb-b'))
    .variants[0];
  return {
    ...base,
    brief: {
      ...base.brief,
      note:
        'The bombarde’s reeds through a cutoff so steep that their harmonics come in one by one as it rises. ' +
        'B is a single RC, which lowers all of them by degrees.',
      signalVolts: 0.5,
      source: { name: 'Bombarde pickup', ohm: 100 },
      load: { name: 'Tone cabinet', ohm: 47e3 },
    },
    variants: [
      ...base.variants.map((v) => ({ ...v, label: 'leapfrog, 7th' })),
      { ...gentle, id: 'bomb-b', name: 'B', label: 'one RC' },
    ],
  };
}

/** Half octaves side by side, two stages each. */
function formantBank(): Design {
  const makeId = countingIds('bank');
  const base = createDesign('Formant bank, half octaves', () => [], makeId);
  return {
    ...base,
    brief: {
      ...base.brief,
      note:
        'Twelve bands over the reeds’ range, a slider each, to find the formants of a rank by ear before its ' +
        'own filter is built.',
      signalVolts: 0.3,
      source: { name: 'Rank pickup', ohm: 10 },
      load: { name: 'Sliders', ohm: 47e3 },
    },
    preferences: { ...base.preferences, resistorSeries: 'E96' },
    variants: base.variants.map((v) => ({
      ...v,
      label: 'two stages a band',
      join: 'electrical' as const,
      bank: USUAL_BANK,
      ways: must(bankWays(USUAL_BANK, makeId)),
    })),
  };
}
