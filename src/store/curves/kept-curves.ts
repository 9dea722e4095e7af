import * as z from 'zod';
import { create } from 'zustand';
import { documentStore } from '../document';
import { currentVariantOf } from '../edits/edits';
import { newId } from '../new-id';
import { DESK } from '../questions/live';
import { keptBetweenVisits } from '../shelf/visits';

const column = z.array(z.number());
const keptCurveSchema = z.object({
  id: z.string(),
  name: z.string(),
  hidden: z.boolean(),
  /** Hz, rising. */
  freqHz: column,
  /** dB re 1 V at the source, degrees, and seconds. */
  levelDb: column,
  phaseDeg: column,
  delayS: column,
});
/** A response as it was when it was kept, of whichever design. */
export type KeptCurve = Readonly<z.infer<typeof keptCurveSchema>>;

/** More than can be told apart are not kept: the oldest goes. */
export const MOST_KEPT = 6;
/** Figures that a kept curve is written with. */
const DIGITS = 7;

const kept = keptBetweenVisits<readonly KeptCurve[]>(
  'jaunty-reed-kept-curves',
  (written) => z.array(keptCurveSchema).safeParse(written).data ?? null,
);

export const keptStore = create<{ readonly curves: readonly KeptCurve[] }>()(() => ({ curves: [] }));

/** Takes up what was kept at the last visit, unless something is there: storage may be barred. */
export const restoreKept = (): void => {
  if (keptStore.getState().curves.length === 0) keptStore.setState({ curves: kept.read() ?? [] });
};

function set(curves: readonly KeptCurve[]): void {
  keptStore.setState({ curves });
  kept.write(curves);
}

const rounded = (values: ArrayLike<number>): number[] => Array.from(values, (v) => Number(v.toPrecision(DIGITS)));

/** A name that no kept curve has: of its design and variant, counted where that is taken. */
function freeName(wanted: string, curves: readonly KeptCurve[]): string {
  const taken = new Set(curves.map((c) => c.name));
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted} (${n})`;
    if (!taken.has(name)) return name;
  }
}

/** Keeps the response as it stands, under the curves of whatever comes: other values, variants, designs. */
export function keepCurve(): void {
  const desk = DESK.current().value;
  const { design } = documentStore.getState();
  if (!desk || !design) return;
  const { curves } = keptStore.getState();
  const { levelDb, phaseDeg, delayS } = desk.asBuilt;
  set([
    ...curves.slice(-(MOST_KEPT - 1)),
    {
      id: newId(),
      name: freeName(`${design.title || 'untitled'}, ${currentVariantOf(design).name}`, curves),
      hidden: false,
      freqHz: rounded(desk.freqHz),
      levelDb: rounded(levelDb),
      phaseDeg: rounded(phaseDeg),
      delayS: rounded(delayS),
    },
  ]);
}

export const toggleKept = (id: string): void =>
  set(keptStore.getState().curves.map((c) => (c.id === id ? { ...c, hidden: !c.hidden } : c)));
export const forgetKept = (id: string): void => set(keptStore.getState().curves.filter((c) => c.id !== id));
