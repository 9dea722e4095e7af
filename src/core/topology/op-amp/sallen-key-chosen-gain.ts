import { defineSection } from '../kit/define-section';
import type { Result } from '../../result';
import type { SectionTarget } from '../../filter/section';
import { LEVEL_OHM, type DesignContext } from '../kit/design-context';
import type { PartValues } from '../kit/part';
import {
  buildSallenKey,
  sallenKeyClosedForm,
  sallenKeyDrawing,
  sallenKeyParts,
  sallenKeyWorking,
} from './sallen-key-network';

/**
 * The gain is taken as it is wanted, K, and the parts follow. Low-pass with C1 = m C2, m = 4Q²/(1 + 4Q²(K − 1)) or
 * more: R1 is a root of R1²(1/C1 + (1 − K)/C2) − R1 B + P/C1 = 0, with P = R1 R2 = 1/(ω0² C1 C2) and B = P ω0/Q; when
 * the first bracket is below zero there is one positive root at any ratio, and equal capacitors do. High-pass with
 * equal capacitors: R1²(1/C1 + 1/C2) − R1 B + (1 − K)P/C1 = 0. From ω0 and ω0/Q of the Sallen-Key network.
 */
function design(target: SectionTarget, context: DesignContext): Result<PartValues> {
  const { response, q, freqHz, gain } = target;
  const omega = 2 * Math.PI * freqHz;
  const low = response === 'lowpass';
  const level = context.capacitorsFirst
    ? context.capacitorLevel(freqHz)
    : 1 / (omega * context.resistor('R1', LEVEL_OHM));
  const least = (4 * q * q) / (1 + 4 * q * q * (gain - 1));
  const ratio = low ? Math.max(1, least * (1 + 1e-9)) : 1;
  const pick = (name: string, wanted: number, side: 'nearest' | 'up') =>
    context.capacitorsFirst ? context.capacitor(name, wanted, side) : (context.pinned(name) ?? wanted);
  const C2 = pick('C2', (context.pinned('C1') ?? level * Math.sqrt(ratio)) / ratio, 'nearest');
  const C1 = pick('C1', ratio * C2, ratio > 1 ? 'up' : 'nearest');
  const P = 1 / (omega * omega * C1 * C2);
  const B = (P * omega) / q;
  const [a, c] = low ? [1 / C1 + (1 - gain) / C2, P / C1] : [1 / C1 + 1 / C2, ((1 - gain) * P) / C1];
  const R1 = positiveRoot(a, -B, c);
  const parts: Record<string, number> = { R1, R2: P / R1, C1, C2 };
  if (gain > 1 + 1e-9) {
    parts.Ra = context.resistor('Ra', LEVEL_OHM);
    parts.Rb = (gain - 1) * parts.Ra;
  }
  if (!(R1 > 0))
    return context.meet(target, { ...parts, R1: Math.sqrt(P), R2: Math.sqrt(P) }, ['C1', 'C2', 'Ra'], (v) =>
      sallenKeyClosedForm(response, v),
    );
  return context.meet(target, parts, [...(context.capacitorsFirst ? ['C1', 'C2'] : ['R1']), 'Ra'], (v) =>
    sallenKeyClosedForm(response, v),
  );
}

/** The larger positive root of a x² + b x + c, b below zero. */
function positiveRoot(a: number, b: number, c: number): number {
  if (Math.abs(a * c) < 1e-15 * b * b) return a === 0 ? -c / b : -b / a;
  const inside = Math.max(0, b * b - 4 * a * c);
  const half = -(b - Math.sqrt(inside)) / 2;
  return a > 0 ? half / a : c / half;
}

export const sallenKeyChosenGain = defineSection({
  id: 'sallen-key-chosen-gain',
  name: 'Sallen-Key, chosen gain',
  shortName: 'Sallen-Key, K',
  words: ['VCVS', 'gain', 'amplifier with filter', 'two poles', '12 dB/oct', 'second order', 'KRC'],
  family: 'op-amp',
  responses: ['lowpass', 'highpass'],
  order: 2,
  opAmps: () => 1,
  polarity: 1,
  reason: 'The gain is yours to choose, and capacitors may be equal or nearly so; the resistors take up the rest.',
  cautions: [
    'The more gain, the more Q leans on Rb/Ra: use one per cent parts.',
    'Above the op-amp’s reach a low-pass leaks through C1: the stop band rises again.',
  ],
  sources: [
    'R. P. Sallen, E. L. Key, A Practical Method of Designing RC Active Filters, IRE Trans. Circuit Theory CT-2, 1955',
    'W. K. Chen (ed.), The Circuits and Filters Handbook, Sallen-Key biquads',
  ],
  gainRange: () => ({ min: 1, natural: 2, max: 10 }),
  parts: (response) => sallenKeyParts(response, true),
  design,
  closedForm: sallenKeyClosedForm,
  build: buildSallenKey,
  working: sallenKeyWorking,
  drawing: sallenKeyDrawing,
});
