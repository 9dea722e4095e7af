import { bankWays, USUAL_BANK } from '../design/making/bank';
import { withUsualChain } from '../design/making/control-chain';
import { createDesign, createPlan, type MakeId } from '../design/making/create';
import type { Design } from '../design/document/schema';
import { singlePath } from '../design/making/single-path';
import type { FilterResponse } from '../filter/section';
import type { PlanResponse } from '../filter/plan-sections';
import { must } from '../result';
import type { Topology } from '../topology/kit/define-topology';
import { findTopology, TOPOLOGIES } from '../topology/index';
import type { WaysWanted } from './lay-out-ways';
import { newCrossover, withCircuit } from './new-crossover';

/** What a maker may want, in the order that a newcomer looks for it. */
export const CATALOGUE_GROUPS = [
  'Filters from what is wanted',
  'Loudspeaker crossovers',
  'Op-amp circuits',
  'Voltage-controlled, and voices',
  'Resistors, capacitors and coils',
  'For a crossover’s way',
] as const;
export type CatalogueGroup = (typeof CATALOGUE_GROUPS)[number];

/** How it comes to a path that there is: by a plan's response, or as a circuit of the registry. */
export type Addition =
  | { readonly kind: 'plan'; readonly response: PlanResponse }
  | { readonly kind: 'circuit'; readonly topology: Topology };

/** A curve of what is wanted, in outline: a response about a place on the axis, 1 its middle. */
export interface Outline {
  readonly response: PlanResponse;
  readonly at: number;
}

/** Something to begin with, or to add to a path. */
export interface CatalogueEntry {
  readonly id: string;
  readonly group: CatalogueGroup;
  readonly name: string;
  /** Why one would choose it. */
  readonly says: string;
  readonly words: readonly string[];
  /** What its picture is where it is no circuit. */
  readonly outlines: readonly Outline[];
  /** Null where it is a whole design and nothing to add. */
  readonly adds: Addition | null;
  /** Responses that it can be begun or added with, the usual one first; none where there is nothing to choose. */
  readonly responses: readonly FilterResponse[];
  /** A new design that begins with it. */
  start(makeId: MakeId, response?: FilterResponse): Design;
}

const PLANS: readonly { response: PlanResponse; name: string; says: string; words: string[]; hz: number }[] = [
  {
    response: 'lowpass',
    name: 'Low-pass',
    says: 'Keeps what lies below a cutoff: hiss, aliases, carriers go.',
    words: ['high cut', 'treble cut', 'hiss', 'anti-aliasing', 'smoothing', 'Butterworth', 'Bessel', 'Chebyshev'],
    hz: 1000,
  },
  {
    response: 'highpass',
    name: 'High-pass',
    says: 'Keeps what lies above a cutoff: rumble, hum and offsets go.',
    words: ['low cut', 'bass cut', 'rumble', 'subsonic', 'DC blocking', 'hum', 'Butterworth', 'Bessel', 'Chebyshev'],
    hz: 80,
  },
  {
    response: 'bandpass',
    name: 'Band-pass',
    says: 'Keeps a band about a centre: formants, speech, a pilot.',
    words: ['formant', 'resonance', 'speech', 'telephone', 'octave band', 'centre frequency', 'bandwidth'],
    hz: 1000,
  },
  {
    response: 'bandstop',
    name: 'Band-stop',
    says: 'Takes a band out and leaves what is on both sides.',
    words: ['notch', 'band reject', 'hum', 'whistle', 'null', 'elliptic'],
    hz: 1000,
  },
  {
    response: 'allpass',
    name: 'All-pass',
    says: 'Leaves every level as it is and turns the phase: delay, alignment of drivers.',
    words: ['delay', 'phase', 'time alignment', 'group delay', 'equaliser of delay'],
    hz: 1000,
  },
];

const plans: readonly CatalogueEntry[] = PLANS.map(({ response, name, says, words, hz }) => ({
  id: `plan-${response}`,
  group: 'Filters from what is wanted',
  name,
  says,
  words: [...words, 'plan', 'alignment', 'order', 'cutoff'],
  outlines: [{ response, at: 1 }],
  adds: { kind: 'plan', response },
  responses: [],
  start: (makeId) =>
    createDesign(`New ${name.toLowerCase()}`, (id) => [createPlan(id(), response, 'butterworth', 2, hz)], makeId),
}));

const bank: CatalogueEntry = {
  id: 'bank',
  group: 'Filters from what is wanted',
  name: 'Filter bank',
  says: 'A row of band-passes side by side, summed: half octaves, thirds, or centres of one’s own.',
  words: [
    'graphic equaliser',
    'fixed filter bank',
    'formant bank',
    'resonator bank',
    'third octave',
    'vocoder',
    'bands',
  ],
  outlines: [0.2, 0.45, 1, 2.2, 5].map((at) => ({ response: 'bandpass', at })),
  adds: null,
  responses: [],
  start: (makeId) => {
    const base = createDesign('New filter bank', () => [], makeId);
    const ways = must(bankWays(USUAL_BANK, makeId));
    return {
      ...base,
      variants: base.variants.map((v) => ({
        ...v,
        ways,
        bank: USUAL_BANK,
        join: 'electrical',
        currentWay: ways[0].id,
      })),
    };
  },
};

const SPEAKER_WORDS = ['frequency divider', 'woofer', 'tweeter', 'speaker', 'loudspeaker', 'cabinet', 'Linkwitz-Riley'];

/** What a crossover begins as: its name, and where its picture crosses. */
interface CrossoverEntry {
  readonly id: string;
  readonly name: string;
  readonly wanted: WaysWanted;
  readonly crossings: readonly number[];
  readonly words: readonly string[];
}
const CROSSOVERS: readonly CrossoverEntry[] = [
  {
    id: 'crossover-2',
    name: 'Two-way crossover',
    wanted: { count: 2, subwoofer: false },
    crossings: [1],
    words: ['2-way', 'passive crossover'],
  },
  {
    id: 'crossover-3',
    name: 'Three-way crossover',
    wanted: { count: 3, subwoofer: false },
    crossings: [0.4, 2.5],
    words: ['3-way', 'passive crossover', 'midrange'],
  },
  {
    id: 'crossover-4',
    name: 'Four-way crossover',
    wanted: { count: 4, subwoofer: false },
    crossings: [0.2, 1, 5],
    words: ['4-way', 'passive crossover', 'midrange'],
  },
  {
    id: 'crossover-active-2',
    name: 'Active two-way',
    wanted: { count: 2, subwoofer: false, active: true },
    crossings: [1],
    words: ['2-way active', 'active crossover', 'biamp', 'line level'],
  },
  {
    id: 'crossover-active-3',
    name: 'Active three-way',
    wanted: { count: 3, subwoofer: false, active: true },
    crossings: [0.4, 2.5],
    words: ['3-way active', 'active crossover', 'triamp', 'line level', 'midrange'],
  },
  {
    id: 'crossover-subwoofer',
    name: 'Two-way with a subwoofer',
    wanted: { count: 2, subwoofer: true, active: true },
    crossings: [0.15, 2],
    words: ['subwoofer', 'active crossover', 'bass'],
  },
];
const crossovers: readonly CatalogueEntry[] = CROSSOVERS.map(({ id, name, wanted, crossings, words }) => {
  const drivers = crossings.length + 1;
  return {
    id,
    group: 'Loudspeaker crossovers',
    name,
    says: wanted.active
      ? `Op-amp sections for ${drivers} drivers, each before an amplifier of its own, levels to trim.`
      : `Passive ladders for ${drivers} drivers between amplifier and sum, each for what its driver bears.`,
    words: [...words, ...SPEAKER_WORDS],
    outlines: [
      { response: 'lowpass', at: crossings[0] },
      ...crossings.slice(1).map((at, k) => ({ response: 'bandpass' as const, at: Math.sqrt(at * crossings[k]) })),
      { response: 'highpass', at: crossings[crossings.length - 1] },
    ],
    adds: null,
    responses: [],
    start: (makeId) => newCrossover(wanted, makeId),
  };
});

const GROUP_OF: Readonly<Record<Topology['family'], CatalogueGroup>> = {
  'op-amp': 'Op-amp circuits',
  rc: 'Resistors, capacitors and coils',
  'voltage-controlled': 'Voltage-controlled, and voices',
  loudspeaker: 'For a crossover’s way',
};

/** What a circuit that a current moves is found by besides: it begins with what makes that current of volts. */
const CHAIN_WORDS = ['volts per octave', 'V/oct', 'exponential converter', 'control voltage', 'CV'];
const wordsOf = (topology: Topology): readonly string[] =>
  topology.role === 'network' && topology.outlet ? [...topology.words, ...CHAIN_WORDS] : topology.words;

const circuits: readonly CatalogueEntry[] = TOPOLOGIES.map((topology) => ({
  id: topology.id,
  group: GROUP_OF[topology.family],
  name: topology.name,
  says: topology.reason,
  words: wordsOf(topology),
  outlines: [],
  adds: { kind: 'circuit', topology },
  responses: topology.role === 'section' && topology.responses.length > 1 ? topology.responses : [],
  start: (makeId, form) =>
    topology.family === 'loudspeaker' && topology.role === 'network'
      ? withCircuit(newCrossover({ count: 2, subwoofer: false }, makeId), topology, makeId)
      : chained(must(singlePath({ topology: topology.id, form }, makeId, topology.name)), makeId),
}));

/** A voice begins with what makes its current. */
const chained = (design: Design, makeId: MakeId): Design => ({
  ...design,
  variants: design.variants.map((variant) => {
    const [way] = variant.ways;
    const [only] = way?.stages ?? [];
    if (!only || !findTopology(only.topology)) return variant;
    const { stage, controls } = withUsualChain({ stage: only, controls: variant.controls }, design, makeId);
    return { ...variant, controls: [...controls], ways: [{ ...way, stages: [stage, ...way.stages.slice(1)] }] };
  }),
});

/** Everything that a design can begin with: plans, crossovers, a bank, and every circuit of the registry. */
export const CATALOGUE: readonly CatalogueEntry[] = [...plans, bank, ...crossovers, ...circuits];
