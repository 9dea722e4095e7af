import { defineNetwork } from '../kit/define-network';
import {
  chosenFirst,
  CUTOFF,
  SECTION_FORMS,
  sectionArms,
  sectionCount,
  sectionParts,
  sectionsCutoffHz,
  sectionsDesign,
  sectionsFactor,
  sectionsTransfer,
} from './equal-sections';
import { buildLadder, drawLadder } from '../kit/ladder';
import { format } from '../kit/working';

/**
 * Equal RC sections with a follower between: none loads another, yet the whole is 3 dB down below the corner of one,
 * since each takes its share.
 */
export const equalSectionsIsolated = defineNetwork({
  id: 'equal-sections-isolated',
  name: 'Equal RC sections, isolated',
  shortName: 'RC › RC …',
  words: ['RC chain', 'buffered sections', 'isolated sections', 'RC cascade'],
  family: 'rc',
  modes: SECTION_FORMS,
  parameters: [CUTOFF],
  opAmps: (form) => sectionCount(form) - 1,
  reason:
    'Equal real poles: no overshoot at all, and one corner to set. Two are 3 dB down at 0.644 of one section’s corner.',
  cautions: [
    'The last section is not buffered: what it drives loads it.',
    'Followers need an op-amp that is stable at unity gain.',
  ],
  sources: ['A. Williams, F. Taylor, Electronic Filter Design Handbook, 4th ed., 2: synchronously tuned stages'],
  parts: sectionParts,
  design: (parameters, form, context) =>
    context.meetParameters(
      [CUTOFF],
      parameters,
      sectionsDesign(parameters, form, context, true),
      chosenFirst(form, context),
      (parts) => ({ cutoffHz: sectionsCutoffHz(form, parts, true) }),
    ),
  measures: (form, parts) => ({ cutoffHz: sectionsCutoffHz(form, parts, true) }),
  transfer: (form, parts) => sectionsTransfer(form, parts, true),
  build: (context) => buildLadder(context, sectionArms(context.form, true)),
  working: (form, parts) => {
    const n = sectionCount(form);
    const root = `\\sqrt{2^{1/${n}} - 1}`;
    return [
      {
        says: 'one section by itself',
        tex: 'f_1 = \\frac{1}{2\\pi R_1 C_1}',
        value: format.hertz(1 / (2 * Math.PI * parts.R1 * parts.C1)),
      },
      {
        says: 'the row',
        tex: form.endsWith('low-pass')
          ? `f_{-3\\,\\mathrm{dB}} = f_1 ${root}`
          : `f_{-3\\,\\mathrm{dB}} = \\frac{f_1}{${root}}`,
        value: format.hertz(sectionsCutoffHz(form, parts, true)),
      },
      {
        says: 'loading each other',
        tex: `f_{-3\\,\\mathrm{dB}} = ${format.ratio(sectionsFactor(form, false))}\\, f_1`,
        value: format.hertz(sectionsCutoffHz(form, parts, false)),
      },
      { says: 'slope far away', tex: `${n} \\times 6\\,\\mathrm{dB/oct}`, value: `${6 * n}\u202fdB/oct` },
    ];
  },
  drawing: (form) => drawLadder(sectionArms(form, true)),
});
