import { bankWays, USUAL_BANK } from '../design/bank';
import { createDesign, createPlan, type MakeId } from '../design/create';
import type { Design } from '../design/schema';
import { singlePath } from '../design/single-path';
import type { FilterResponse } from '../filter/section';
import type { PlanResponse } from '../filter/plan-sections';
import { must } from '../result';
import type { Topology } from '../topology/kit/define-topology';
import { TOPOLOGIES } from '../topology/index';
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

const COUNTS = ['Two-way', 'Three-way', 'Four-way'] as const;
/** Where their pictures cross. */
const CROSSINGS = [[1], [0.4, 2.5], [0.2, 1, 5]];
const crossovers: readonly CatalogueEntry[] = COUNTS.map((name, i) => ({
  id: `crossover-${i + 2}`,
  group: 'Loudspeaker crossovers',
  name: `${name} crossover`,
  says: `Passive ladders for ${i + 2} drivers between amplifier and sum, each for what its driver bears.`,
  words: [
    `${i + 2}-way`,
    'passive crossover',
    'frequency divider',
    'woofer',
    'tweeter',
    'midrange',
    'speaker',
    'loudspeaker',
    'cabinet',
    'Linkwitz-Riley',
    ...(i === 2 ? ['subwoofer'] : []),
  ],
  outlines: [
    { response: 'lowpass', at: CROSSINGS[i][0] },
    ...CROSSINGS[i].slice(1).map((at, k) => ({ response: 'bandpass' as const, at: Math.sqrt(at * CROSSINGS[i][k]) })),
    { response: 'highpass', at: CROSSINGS[i][i] },
  ],
  adds: null,
  responses: [],
  start: (makeId) => newCrossover(i + 2, makeId),
}));

const GROUP_OF: Readonly<Record<Topology['family'], CatalogueGroup>> = {
  'op-amp': 'Op-amp circuits',
  rc: 'Resistors, capacitors and coils',
  'voltage-controlled': 'Voltage-controlled, and voices',
  loudspeaker: 'For a crossover’s way',
};

const circuits: readonly CatalogueEntry[] = TOPOLOGIES.map((topology) => ({
  id: topology.id,
  group: GROUP_OF[topology.family],
  name: topology.name,
  says: topology.reason,
  words: topology.words,
  outlines: [],
  adds: { kind: 'circuit', topology },
  responses: topology.role === 'section' && topology.responses.length > 1 ? topology.responses : [],
  start: (makeId, form) =>
    topology.family === 'loudspeaker' && topology.role === 'network'
      ? withCircuit(newCrossover(2, makeId), topology, makeId)
      : must(singlePath({ topology: topology.id, form }, makeId, topology.name)),
}));

/** Everything that a design can begin with: plans, crossovers, a bank, and every circuit of the registry. */
export const CATALOGUE: readonly CatalogueEntry[] = [...plans, bank, ...crossovers, ...circuits];
