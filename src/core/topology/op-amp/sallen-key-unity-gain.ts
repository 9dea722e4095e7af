import { defineSection } from '../kit/define-section';
import { failure, success, type Result } from '../../result';
import type { SectionTarget } from '../../filter/section';
import type { PartValues } from '../kit/part';
import type { DesignContext } from '../kit/design-context';
import {
  buildSallenKey,
  sallenKeyClosedForm,
  sallenKeyDrawing,
  sallenKeyParts,
  sallenKeyWorking,
  splitFirst,
} from './sallen-key-network';

/**
 * Low-pass. Capacitors first: R1 and R2 are the roots of x² − x/(Q ω C2) + 1/(ω² C1 C2), real when C1 ≥ 4Q² C2.
 * Resistors first: C2 = 1/(Q ω (R1 + R2)), C1 = 1/(ω² R1 R2 C2).
 */
function designLowPass({ freqHz, q }: SectionTarget, context: DesignContext): Result<Record<string, number>> {
  const omega = 2 * Math.PI * freqHz;
  if (!context.capacitorsFirst) {
    const R1 = context.resistor('R1', 10e3);
    const R2 = context.resistor('R2', R1);
    const C2 = 1 / (q * omega * (R1 + R2));
    return success({ R1, R2, C1: 1 / (omega ** 2 * R1 * R2 * C2), C2 });
  }
  const level = context.capacitorLevel(freqHz);
  const pinnedC1 = context.pinned('C1');
  const C2 = context.capacitor(
    'C2',
    pinnedC1 === undefined ? level / (2 * q) : pinnedC1 / (4 * q * q),
    pinnedC1 === undefined ? 'nearest' : 'down',
  );
  const C1 = context.capacitor('C1', 4 * q * q * C2, 'up');
  const spare = 1 - (4 * q * q * C2) / C1;
  if (spare < -1e-9)
    return failure('capacitor-ratio', { larger: 'C1', smaller: 'C2', ratio: C1 / C2, needed: 4 * q * q });
  const half = 1 / (2 * q * omega * C2);
  const root = Math.sqrt(Math.max(0, spare));
  return success({ R1: half * (1 + root), R2: half * (1 - root), C1, C2 });
}

/**
 * High-pass, the mirror image. Capacitors first: R1 = 1/(Q ω (C1 + C2)), R2 = 1/(ω² R1 C1 C2).
 * Resistors first: C1 and C2 are the roots of x² − x/(Q ω R1) + 1/(ω² R1 R2), real when R2 ≥ 4Q² R1.
 */
function designHighPass({ freqHz, q }: SectionTarget, context: DesignContext): Result<Record<string, number>> {
  const omega = 2 * Math.PI * freqHz;
  if (context.capacitorsFirst) {
    const C1 = context.capacitor('C1', context.pinned('C2') ?? context.capacitorLevel(freqHz));
    const C2 = context.capacitor('C2', C1);
    const R1 = 1 / (q * omega * (C1 + C2));
    return success({ C1, C2, R1, R2: 1 / (omega ** 2 * R1 * C1 * C2) });
  }
  const pinnedR2 = context.pinned('R2');
  const R1 = context.resistor(
    'R1',
    pinnedR2 === undefined ? 10e3 / (2 * q) : pinnedR2 / (4 * q * q),
    pinnedR2 === undefined ? 'nearest' : 'down',
  );
  const R2 = context.resistor('R2', 4 * q * q * R1, 'up');
  const spare = 1 - (4 * q * q * R1) / R2;
  if (spare < -1e-9)
    return failure('resistor-ratio', { larger: 'R2', smaller: 'R1', ratio: R2 / R1, needed: 4 * q * q });
  const half = 1 / (2 * q * omega * R1);
  const root = Math.sqrt(Math.max(0, spare));
  return success({ C1: half * (1 + root), C2: half * (1 - root), R1, R2 });
}

function design(target: SectionTarget, context: DesignContext): Result<PartValues> {
  const base = target.response === 'lowpass' ? designLowPass(target, context) : designHighPass(target, context);
  if (!base.ok) return base;
  splitFirst(target.response, base.value, target.gain);
  const letter = context.capacitorsFirst ? 'C' : 'R';
  const first = Object.keys(base.value).filter((name) => name.startsWith(letter));
  return context.meet(target, base.value, first, (parts) => sallenKeyClosedForm(target.response, parts));
}

export const sallenKeyUnityGain = defineSection({
  id: 'sallen-key-unity-gain',
  name: 'Sallen-Key, unity gain',
  shortName: 'Sallen-Key',
  words: [
    'VCVS',
    'voltage-controlled source',
    'follower filter',
    'two poles',
    '12 dB/oct',
    'second order',
    'positive feedback filter',
    'rumble',
    'hiss',
    'scratch',
    'anti-aliasing',
    'subsonic',
  ],
  family: 'op-amp',
  responses: ['lowpass', 'highpass'],
  order: 2,
  opAmps: () => 1,
  polarity: 1,
  reason: 'Fewest parts and least sensitive to them; the capacitors must be 4Q² apart.',
  cautions: [
    'The op-amp must be stable at unity gain.',
    'Above the op-amp’s reach a low-pass leaks through C1: the stop band rises again.',
  ],
  sources: [
    'R. P. Sallen, E. L. Key, A Practical Method of Designing RC Active Filters, IRE Trans. Circuit Theory CT-2, 1955',
  ],
  gainRange: () => ({ min: 0.01, natural: 1, max: 1 }),
  parts: (response) => sallenKeyParts(response, false),
  design,
  closedForm: sallenKeyClosedForm,
  build: buildSallenKey,
  working: sallenKeyWorking,
  drawing: sallenKeyDrawing,
});
