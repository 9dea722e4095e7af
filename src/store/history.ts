import { deflateSync, inflateSync, strFromU8, strToU8 } from 'fflate';
import { DESIGN_VERSION, designSchema, type Design } from '@/core/design/schema';
import { database } from './database';
import { documentStore } from './document';

/** Steps that are kept over a reload, and how large they may be together, packed. */
const STEPS = 40;
const MOST_BYTES = 4_000_000;

interface Packed {
  readonly version: number;
  /** What each step had otherwise than the design as it is, oldest first; then those that were undone. */
  readonly past: readonly Partial<Design>[];
  readonly future: readonly Partial<Design>[];
}

/** What a step has otherwise: parts of a document that were left alone are the very same objects. */
const otherwise = (step: Design, now: Design): Partial<Design> =>
  Object.fromEntries(Object.entries(step).filter(([key, value]) => value !== now[key as keyof Design]));

/** Keeps what can be undone of the open design, for the revision it is saved at. */
export async function keepHistory(revision: number): Promise<void> {
  const { design } = documentStore.getState();
  if (!design) return;
  const { pastStates, futureStates } = documentStore.temporal.getState();
  const steps = (states: readonly { design?: Design | null }[]) =>
    states.slice(-STEPS).flatMap((s) => (s.design ? [otherwise(s.design, design)] : []));
  const packed: Packed = { version: DESIGN_VERSION, past: steps(pastStates), future: steps(futureStates) };
  const bytes = deflateSync(strToU8(JSON.stringify(packed)));
  if (bytes.length > MOST_BYTES) await database.histories.delete(design.id);
  else await database.histories.put({ id: design.id, revision, packed: bytes });
}

/** Gives the open design what could be undone of it when it was left, where it is still as it was left. */
export async function restoreHistory(revision: number): Promise<void> {
  const { design } = documentStore.getState();
  if (!design) return;
  const row = await database.histories.get(design.id);
  if (!row || row.revision !== revision || documentStore.getState().design !== design) return;
  const packed = unpacked(row.packed);
  if (packed?.version !== DESIGN_VERSION) return;
  const { past, future } = packed;
  const steps = [...past, ...future].map((step) => designSchema.safeParse({ ...design, ...step }));
  // A step that does not read would open a design that is none: then none of them is offered.
  if (!steps.every((step) => step.success)) return;
  const states = steps.map((step) => ({ design: step.data }));
  documentStore.temporal.setState({
    pastStates: states.slice(0, past.length),
    futureStates: states.slice(past.length),
  });
}

function unpacked(bytes: Uint8Array): Packed | null {
  try {
    return JSON.parse(strFromU8(inflateSync(bytes))) as Packed;
  } catch {
    return null;
  }
}
