import { DESIGN_VERSION, designSchema, type Design } from '@/core/design/document/schema';
import { database } from './database';
import { documentStore, KEPT_STEPS } from '../document';

/** Packs or unpacks by what the browser has for that. */
const through = async (bytes: BlobPart, packing: GenericTransformStream): Promise<Uint8Array<ArrayBuffer>> =>
  new Uint8Array(await new Response(new Blob([bytes]).stream().pipeThrough(packing)).arrayBuffer());

/** How large the steps that are kept over a reload may be together, packed. */
const MOST_BYTES = 4_000_000;
/** Points of measurements that have gone since, all steps together: packing them takes time. */
const MOST_POINTS = 30_000;

type Measured = Design['measurements'][number];
/** What a step has otherwise than the design as it is. Measurements that are the design's own go by their ids. */
type Otherwise = Omit<Partial<Design>, 'measurements'> & { readonly measurements?: readonly (Measured | string)[] };

interface Packed {
  readonly version: number;
  /** Oldest first; then those that were undone. */
  readonly past: readonly Otherwise[];
  readonly future: readonly Otherwise[];
}

/** What a step has otherwise: parts of a document that were left alone are the very same objects. */
function otherwise(step: Design, now: Design): Otherwise {
  const changed: Partial<Design> = Object.fromEntries(
    Object.entries(step).filter(([key, value]) => value !== now[key as keyof Design]),
  );
  const { measurements, ...rest } = changed;
  if (!measurements) return rest;
  return { ...rest, measurements: measurements.map((m) => (now.measurements.includes(m) ? m.id : m)) };
}

/** The step itself again. */
function whole({ measurements, ...rest }: Otherwise, now: Design): unknown {
  if (!measurements) return { ...now, ...rest };
  const own = new Map(now.measurements.map((m) => [m.id, m]));
  return { ...now, ...rest, measurements: measurements.map((m) => (typeof m === 'string' ? own.get(m) : m)) };
}

/** Points of measurements that a step would have to carry whole: two or three numbers each. */
const pointsIn = ({ measurements = [] }: Otherwise): number =>
  measurements.reduce((sum, m) => sum + (typeof m === 'string' ? 0 : m.freqHz.length), 0);

/** Keeps what can be undone of the open design, for the revision it is saved at. */
export async function keepHistory(revision: number): Promise<void> {
  const { design } = documentStore.getState();
  if (!design) return;
  const { pastStates, futureStates } = documentStore.temporal.getState();
  let room = MOST_POINTS;
  /** The steps nearest to now, as far as there is room. */
  const steps = (states: readonly { design?: Design | null }[]) => {
    const kept: Otherwise[] = [];
    for (const { design: step } of states.slice(-KEPT_STEPS).reverse()) {
      if (!step) continue;
      const packed = otherwise(step, design);
      room -= pointsIn(packed);
      if (room < 0) break;
      kept.unshift(packed);
    }
    return kept;
  };
  const packed: Packed = { version: DESIGN_VERSION, past: steps(pastStates), future: steps(futureStates) };
  const bytes = await through(JSON.stringify(packed), new CompressionStream('deflate-raw'));
  if (bytes.length > MOST_BYTES) await database.histories.delete(design.id);
  else await database.histories.put({ id: design.id, revision, packed: bytes });
}

/** Gives the open design what could be undone of it when it was left, where it is still as it was left. */
export async function restoreHistory(revision: number): Promise<void> {
  const { design } = documentStore.getState();
  if (!design) return;
  const row = await database.histories.get(design.id);
  if (!row || row.revision !== revision || documentStore.getState().design !== design) return;
  const packed = await unpacked(row.packed);
  // What was done in the meantime has its own steps.
  if (documentStore.getState().design !== design) return;
  if (packed?.version !== DESIGN_VERSION) return;
  const { past, future } = packed;
  const steps = [...past, ...future].map((step) => designSchema.safeParse(whole(step, design)));
  // A step that does not read would open a design that is none: then none of them is offered.
  if (!steps.every((step) => step.success)) return;
  const states = steps.map((step) => ({ design: step.data }));
  documentStore.temporal.setState({
    pastStates: states.slice(0, past.length),
    futureStates: states.slice(past.length),
  });
}

async function unpacked(bytes: Uint8Array<ArrayBuffer>): Promise<Packed | null> {
  try {
    return JSON.parse(new TextDecoder().decode(await through(bytes, new DecompressionStream('deflate-raw')))) as Packed;
  } catch {
    return null;
  }
}
