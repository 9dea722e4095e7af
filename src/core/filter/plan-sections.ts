import { complex, magnitude, type Complex } from '../math/complex';
import { fromDecibels } from '../units/quantity';
import type { Alignment, AlignmentOptions } from './alignments/define-alignment';
import { sectionResponse, type PrototypeSection, type SectionTarget } from './section';
import { fromSections, toBandpass, toBandstop, valueAt, type ZeroPole } from './zero-pole';

/** What a plan may be asked for. A band-stop is built of notches. */
export const PLAN_RESPONSES = ['lowpass', 'highpass', 'bandpass', 'bandstop', 'allpass'] as const;
export type PlanResponse = (typeof PLAN_RESPONSES)[number];

export interface SectionsRequest extends AlignmentOptions {
  readonly response: PlanResponse;
  readonly alignment: Alignment;
  /** Number of poles: of a band, twice its prototype's. */
  readonly order: number;
  /** Cutoff, or the geometric centre of a band. */
  readonly cutoffHz: number;
  /** Of a band: between its edges, which are the prototype's. */
  readonly bandwidthHz: number;
}

export const isBand = (response: PlanResponse): boolean => response === 'bandpass' || response === 'bandstop';
/** Orders an alignment has in a response: a band has two poles for each of the prototype's. */
export const ordersIn = (response: PlanResponse, alignment: Alignment): number[] =>
  isBand(response) ? prototypesOfBands(alignment).map((n) => 2 * n) : [...alignment.orders];

/**
 * Orders of a band's prototype: of more than twenty poles together the sharpest have a Q that no op-amp reaches, nor a
 * gain of 1e9 for an ideal one.
 */
export const prototypesOfBands = (alignment: Alignment): number[] => alignment.orders.filter((n) => n <= 10);

/**
 * The sections of a plan, lowest Q first, each with unity gain. A high-pass mirrors the prototype (ω → 1/ω, same Q); an
 * all-pass has its poles, and their mirror images for zeros; a band takes two sections for every one of the
 * prototype's. Section numbers in a document index this list.
 */
export function planSections({
  response,
  alignment,
  order,
  cutoffHz,
  bandwidthHz,
  ...options
}: SectionsRequest): SectionTarget[] {
  if (isBand(response)) return bandSections(response, alignment.prototype(order / 2, options), cutoffHz, bandwidthHz);
  const high = response === 'highpass';
  return alignment.prototype(order, options).map((section): SectionTarget => {
    const scaled = (omega: number) => (high ? cutoffHz / omega : cutoffHz * omega);
    const common = {
      order: section.order,
      freqHz: scaled(section.omega),
      q: section.order === 2 ? section.q : 0.5,
      gain: 1,
    };
    if (response === 'allpass') return { ...common, response };
    if (section.order === 2 && section.zero !== undefined)
      return { ...common, response: 'notch', zeroHz: scaled(section.zero) };
    return { ...common, response: high ? 'highpass' : 'lowpass' };
  });
}

/**
 * What the sections' gains must multiply to for the pass band's peak to be 1: minus the ripple at the flat end of an
 * even Chebyshev or elliptic, and for a band whatever its sections, tuned apart, lose on one another.
 */
export function gainOfSections(request: SectionsRequest): number {
  const { response, alignment, order, cutoffHz, bandwidthHz } = request;
  if (response === 'allpass') return 1;
  const prototypeOrder = isBand(response) ? order / 2 : order;
  const level = fromDecibels(alignment.dcLevelDb(prototypeOrder, request));
  if (!isBand(response)) return level;
  const wanted = bandZeroPole(response, alignment.prototype(prototypeOrder, request), cutoffHz, bandwidthHz);
  // Anywhere but on a null: the two differ by a factor alone.
  const at = cutoffHz + 0.317 * bandwidthHz;
  const got = planSections(request).reduce((product, section) => product * magnitude(sectionResponse(section, at)), 1);
  return (level * magnitude(valueAt(wanted, complex(0, 2 * Math.PI * at)))) / got;
}

function bandZeroPole(
  response: PlanResponse,
  prototype: readonly PrototypeSection[],
  centreHz: number,
  bandwidthHz: number,
): ZeroPole {
  const [centre, width] = [2 * Math.PI * centreHz, 2 * Math.PI * bandwidthHz];
  return response === 'bandpass'
    ? toBandpass(fromSections(prototype), centre, width)
    : toBandstop(fromSections(prototype), centre, width);
}

interface PolePair {
  readonly freqHz: number;
  readonly q: number;
}

function bandSections(
  response: PlanResponse,
  prototype: readonly PrototypeSection[],
  centreHz: number,
  bandwidthHz: number,
): SectionTarget[] {
  const { poles, zeros } = bandZeroPole(response, prototype, centreHz, bandwidthHz);
  const pairs = polePairs(poles).sort((a, b) => a.q - b.q || a.freqHz - b.freqHz);
  const nulls = zeros.filter((z) => z.im > 1e-9 * magnitude(z)).map((z) => z.im / (2 * Math.PI));
  // The highest Q takes the nearest null, the next the nearest of the rest; a pair left without one is a plain
  // band-pass.
  return [...pairs]
    .reverse()
    .map(({ freqHz, q }): SectionTarget => {
      const common = { order: 2 as const, freqHz, q, gain: 1 };
      if (nulls.length === 0) return { ...common, response: 'bandpass' };
      const nearest = nulls.reduce(
        (best, z, i) => (Math.abs(Math.log(z / freqHz)) < Math.abs(Math.log(nulls[best] / freqHz)) ? i : best),
        0,
      );
      return { ...common, response: 'notch', zeroHz: nulls.splice(nearest, 1)[0] };
    })
    .reverse();
}

/** Conjugate poles two by two; real ones, the largest with the smallest. */
function polePairs(poles: readonly Complex[]): PolePair[] {
  const isReal = (p: Complex) => Math.abs(p.im) <= 1e-9 * magnitude(p);
  const pairs: [Complex, Complex][] = poles.filter((p) => p.im > 0 && !isReal(p)).map((p) => [p, complex(p.re, -p.im)]);
  const real = poles.filter(isReal).sort((a, b) => a.re - b.re);
  while (real.length > 1) pairs.push([real.shift() as Complex, real.pop() as Complex]);
  return pairs.map((roots) => {
    const omega = Math.sqrt(roots[0].re * roots[1].re - roots[0].im * roots[1].im);
    return { freqHz: omega / (2 * Math.PI), q: omega / -(roots[0].re + roots[1].re) };
  });
}

/**
 * The frequencies (Hz) at which a band's edges lie: their product is the centre's square, their difference the
 * bandwidth.
 */
export function bandEdges(centreHz: number, bandwidthHz: number): readonly [number, number] {
  const half = bandwidthHz / 2;
  const upper = half + Math.hypot(half, centreHz);
  return [centreHz ** 2 / upper, upper];
}
