import type { Design } from '@/core/design/document/schema';
import { currentVariantOf } from '@/store/edits/edits';
import type { ViewState } from '@/store/view';

/** What a step looks at: the design as it was when the step began, as it is, and what is on show. */
export interface Seen {
  readonly before: Design;
  readonly design: Design;
  readonly view: Pick<ViewState, 'task' | 'curveView'>;
  /** Parts have been drawn of this variant. */
  readonly spread: boolean;
}

export interface GuideStep {
  readonly title: string;
  /** What to do, and with which keys. */
  readonly says: string;
  /** What comes of it, when it is done. */
  readonly then: string;
  readonly done: (seen: Seen) => boolean;
}

const plansOf = (design: Design) => currentVariantOf(design).ways.flatMap((w) => w.plans);
const stagesOf = (design: Design) => currentVariantOf(design).ways.flatMap((w) => w.stages);
const typedOf = (design: Design) =>
  stagesOf(design).reduce((sum, s) => sum + Object.values(s.parts).filter((p) => p.use || p.leftOut).length, 0);

/** The order of the work, on a design that is one's own from the first step. */
export const GUIDE_STEPS: readonly GuideStep[] = [
  {
    title: 'Say where it cuts',
    says: 'Drag the ring on the curve, or take it with Tab and move it with the arrow keys. Brief has its figure.',
    then: 'The circuit was designed anew at every step, with values that can be bought.',
    done: ({ before, design }) => plansOf(design)[0]?.cutoffHz !== plansOf(before)[0]?.cutoffHz,
  },
  {
    title: 'Make it steeper',
    says: 'In Brief (key 1), take a higher order: 4 falls 24 dB in every octave.',
    then: 'A second stage has come onto the path. The wires between say what each joint loses.',
    done: ({ before, design }) => (plansOf(design)[0]?.order ?? 0) > (plansOf(before)[0]?.order ?? 0),
  },
  {
    title: 'Look at the whole of it',
    says: 'Turn to Schematic over the curves (Shift + 8). Click a part, or walk with arrow keys and press Enter.',
    then: 'Every part has one name: R101 is R1 of the second stage, on drawings, lists and boards.',
    done: ({ view }) => view.curveView === 'sheet',
  },
  {
    title: 'Try another circuit',
    says: 'In Circuit (key 2), choose another circuit for the stage: multiple feedback, say.',
    then: 'Each circuit says why one would choose it, and shows the formulas with your values.',
    done: ({ before, design }) =>
      stagesOf(design).some((s) => {
        const was = stagesOf(before).find((other) => other.id === s.id);
        return was !== undefined && was.topology !== s.topology;
      }),
  },
  {
    title: 'Use what you have',
    says: 'In Values (key 3), type a value from your drawer over a proposed one. Point at a part to see what it moves.',
    then: 'The pin holds a value and computes the others around it; emptied, it is proposed again.',
    done: ({ before, design }) => typedOf(design) > typedOf(before),
  },
  {
    title: 'See what tolerance does',
    says: 'In Spread (key 4), run tolerances: hundreds of builds, each with parts as far off as their marking allows.',
    then: 'The band on the curve holds nine builds of ten; the table says which part is to blame.',
    done: ({ spread }) => spread,
  },
  {
    title: 'Compare',
    says: 'Add a variant (+ beside the names above), change it, and hold Q to see the other in its place.',
    then: 'Variants stay side by side, each with its circuit, values and log.',
    done: ({ before, design }) => design.variants.length > before.variants.length,
  },
  {
    title: 'Build it',
    says: 'In Build (key 5) are parts to buy, what meets where, a board, and what to measure before power.',
    then: 'That is the way of the work. Ctrl + K finds everything by name; the ? above lists all keys.',
    done: ({ view }) => view.task === 'build',
  },
];
