import { defineSection } from '../kit/define-section';
import type { SectionTarget } from '../../filter/section';
import { failure, type Result } from '../../result';
import type { PartValues } from '../kit/part';
import { LEVEL_OHM, type DesignContext } from '../kit/design-context';
import {
  buildSallenKey,
  sallenKeyClosedForm,
  sallenKeyDrawing,
  sallenKeyParts,
  sallenKeyWorking,
  splitFirst,
} from './sallen-key-network';

/**
 * With R1 = R2 and C1 = C2: ω0 = 1/(R C) and K = 3 − 1/Q, so Q is set by the gain resistors alone. At K = 1 they are
 * not needed.
 */
function design(target: SectionTarget, context: DesignContext): Result<PartValues> {
  const { q, freqHz, gain, response } = target;
  const natural = 3 - 1 / q;
  if (natural < 1 - 1e-9) return failure('q-too-low', { q, lowest: 0.5 });
  const omega = 2 * Math.PI * freqHz;
  const parts: Record<string, number> = {};
  if (context.capacitorsFirst) {
    parts.C1 = context.pinned('C1') ?? context.pinned('C2') ?? context.capacitor('C1', context.capacitorLevel(freqHz));
    parts.C2 = context.pinned('C2') ?? parts.C1;
    parts.R1 = parts.R2 = 1 / (omega * Math.sqrt(parts.C1 * parts.C2));
  } else {
    parts.R1 = context.pinned('R1') ?? context.pinned('R2') ?? context.resistor('R1', LEVEL_OHM);
    parts.R2 = context.pinned('R2') ?? parts.R1;
    parts.C1 = parts.C2 = 1 / (omega * Math.sqrt(parts.R1 * parts.R2));
  }
  if (natural > 1 + 1e-9) {
    parts.Ra = context.resistor('Ra', LEVEL_OHM);
    parts.Rb = (natural - 1) * parts.Ra;
  }
  const first = [...(context.capacitorsFirst ? ['C1', 'C2'] : ['R1', 'R2']), 'Ra'];
  splitFirst(response, parts, gain / natural);
  // Unlike pinned parts shift the Q, which the amplifier then makes good; the stage keeps whatever gain that takes.
  const balanced = parts.R1 === parts.R2 && parts.C1 === parts.C2;
  const gainTarget = balanced || parts.R1b !== undefined || parts.C1b !== undefined ? gain : undefined;
  return context.meet(target, parts, first, (values) => {
    const got = sallenKeyClosedForm(response, values);
    return gainTarget === undefined ? { ...got, gain: target.gain } : got;
  });
}

export const sallenKeyEqualParts = defineSection({
  id: 'sallen-key-equal-parts',
  name: 'Sallen-Key, equal parts',
  shortName: 'Sallen-Key, R = R',
  words: ['VCVS', 'equal components', 'equal values', 'two poles', '12 dB/oct', 'second order'],
  family: 'op-amp',
  responses: ['lowpass', 'highpass'],
  order: 2,
  opAmps: () => 1,
  polarity: 1,
  reason: 'One value of R and one of C; Q is set by the gain alone, and grows touchy when high.',
  cautions: [
    'Q follows the ratio Rb/Ra: three per cent of it moves a Q of 5 by a third. Use one per cent parts.',
    'Above the op-amp’s reach a low-pass leaks through C1: the stop band rises again.',
  ],
  sources: [
    'R. P. Sallen, E. L. Key, A Practical Method of Designing RC Active Filters, IRE Trans. Circuit Theory CT-2, 1955',
  ],
  gainRange: ({ q }) => ({ min: 0.01, natural: Math.max(1, 3 - 1 / q), max: Math.max(1, 3 - 1 / q) }),
  parts: (response) => sallenKeyParts(response, true),
  design,
  closedForm: sallenKeyClosedForm,
  build: buildSallenKey,
  working: sallenKeyWorking,
  drawing: sallenKeyDrawing,
});
