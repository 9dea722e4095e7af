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
 * Equal RC sections straight after one another: each loads the one before, and the whole is 3 dB down far below the
 * corner of one.
 */
export const equalSectionsLoaded = defineNetwork({
  id: 'equal-sections-loaded',
  name: 'Equal RC sections in a row',
  shortName: 'RC, RC …',
  words: ['RC chain', 'RC cascade', 'loaded sections', 'ladder of RC', 'one section loads another'],
  family: 'rc',
  modes: SECTION_FORMS,
  parameters: [CUTOFF],
  reason:
    'A steeper far slope from nothing but R and C. The sections load each other, so the knee is very ' +
    'round: two are 3 dB down at 0.374 of one section’s corner.',
  cautions: [
    'It cannot have a Q above one half: for a sharp knee take an op-amp.',
    'What it drives loads the last section as each loads the one before.',
  ],
  sources: ['M. E. Van Valkenburg, Network Analysis, 3rd ed., 11.6'],
  parts: sectionParts,
  design: (parameters, form, context) =>
    context.meetParameters(
      [CUTOFF],
      parameters,
      sectionsDesign(parameters, form, context, false),
      chosenFirst(form, context),
      (parts) => ({ cutoffHz: sectionsCutoffHz(form, parts, false) }),
    ),
  measures: (form, parts) => ({ cutoffHz: sectionsCutoffHz(form, parts, false) }),
  transfer: (form, parts) => sectionsTransfer(form, parts, false),
  build: (context) => buildLadder(context, sectionArms(context.form, false)),
  working: (form, parts) => [
    {
      says: 'one section by itself',
      tex: 'f_1 = \\frac{1}{2\\pi R_1 C_1}',
      value: format.hertz(1 / (2 * Math.PI * parts.R1 * parts.C1)),
    },
    {
      says: 'the row, loading itself',
      tex: `f_{-3\\,\\mathrm{dB}} = ${format.ratio(sectionsFactor(form, false))}\\, f_1`,
      value: format.hertz(sectionsCutoffHz(form, parts, false)),
    },
    {
      says: 'were they isolated',
      tex: `f_{-3\\,\\mathrm{dB}} = ${format.ratio(sectionsFactor(form, true))}\\, f_1`,
      value: format.hertz(sectionsCutoffHz(form, parts, true)),
    },
    {
      says: 'slope far away',
      tex: `${sectionCount(form)} \\times 6\\,\\mathrm{dB/oct}`,
      value: `${6 * sectionCount(form)}\u202fdB/oct`,
    },
  ],
  drawing: (form) => drawLadder(sectionArms(form, false)),
});
