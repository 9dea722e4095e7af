import type { Alignment, AlignmentOptions } from './alignments/define-alignment';
import type { FilterResponse, SectionTarget } from './section';

export interface SectionsRequest extends AlignmentOptions {
  readonly response: FilterResponse;
  readonly alignment: Alignment;
  readonly order: number;
  readonly cutoffHz: number;
}

/**
 * The sections of a low-pass or high-pass, lowest Q first, each with unity gain. A high-pass mirrors the prototype: ω → 1/ω, same Q.
 * Section numbers in a document index this list.
 */
export function planSections({ response, alignment, order, cutoffHz, ...options }: SectionsRequest): SectionTarget[] {
  return alignment.prototype(order, options).map((section) => ({
    response,
    order: section.order,
    freqHz: response === 'lowpass' ? cutoffHz * section.omega : cutoffHz / section.omega,
    q: section.order === 2 ? section.q : 0.5,
    gain: 1,
  }));
}
