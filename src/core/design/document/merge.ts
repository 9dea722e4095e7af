import equal from 'fast-deep-equal';
import { designSchema, type Design } from './schema';

type Tree = { readonly [key: string]: unknown };
const isTree = (value: unknown): value is Tree => typeof value === 'object' && value !== null && !Array.isArray(value);
type Named = Tree & { readonly id: string };
const areNamed = (value: unknown): value is readonly Named[] =>
  Array.isArray(value) && value.every((v) => isTree(v) && typeof v.id === 'string');

/** Both sides changed the same thing, and not alike. */
class Clash extends Error {}

/** Which of several things is looked at, rather than what it is: the side that is asked for last decides. */
const LOOKED_AT: ReadonlySet<string> = new Set(['currentVariant', 'currentWay']);

/**
 * Two designs that grew from one, as one: by three ways over the whole document, things in lists told apart by their
 * ids. Null where both changed the same thing, or where what comes of it would be no design.
 */
export function mergeDesigns(base: Design, theirs: Design, ours: Design): Design | null {
  try {
    const read = designSchema.safeParse(merged(base, theirs, ours));
    return read.success ? read.data : null;
  } catch (error) {
    if (error instanceof Clash) return null;
    throw error;
  }
}

function merged(base: unknown, theirs: unknown, ours: unknown): unknown {
  if (equal(theirs, ours) || equal(base, ours)) return theirs;
  if (equal(base, theirs)) return ours;
  if (isTree(theirs) && isTree(ours)) return mergedTree(isTree(base) ? base : {}, theirs, ours);
  if (areNamed(theirs) && areNamed(ours) && (base === undefined || areNamed(base)))
    return mergedList(base ?? [], theirs, ours);
  throw new Clash();
}

function mergedTree(base: Tree, theirs: Tree, ours: Tree): Tree {
  const entries = [...new Set([...Object.keys(theirs), ...Object.keys(ours)])].map((key): [string, unknown] => [
    key,
    LOOKED_AT.has(key) ? ours[key] : merged(base[key], theirs[key], ours[key]),
  ]);
  return Object.fromEntries(entries.filter(([, value]) => value !== undefined));
}

/**
 * What was taken out of one list goes where the other left it alone; what was put in stays behind what it stood behind.
 */
function mergedList(base: readonly Named[], theirs: readonly Named[], ours: readonly Named[]): Named[] {
  const [was, theirsById, oursById] = [base, theirs, ours].map((list) => new Map(list.map((item) => [item.id, item])));
  const kept = new Map<string, Named>();
  for (const id of new Set([...theirsById.keys(), ...oursById.keys()])) {
    const [before, a, b] = [was.get(id), theirsById.get(id), oursById.get(id)];
    if (a && b) kept.set(id, merged(before, a, b) as Named);
    else {
      const there = (a ?? b) as Named;
      if (!before) kept.set(id, there);
      else if (!equal(before, there)) throw new Clash();
    }
  }
  const order = (list: readonly Named[], among: ReadonlyMap<string, unknown>) =>
    list.map((item) => item.id).filter((id) => among.has(id) && was.has(id));
  const moved = (list: ReadonlyMap<string, Named>, items: readonly Named[]) =>
    !equal(order(base, list), order(items, was));
  const [theyMoved, weMoved] = [moved(theirsById, theirs), moved(oursById, ours)];
  if (theyMoved && weMoved) throw new Clash();
  const [first, second] = weMoved ? [ours, theirs] : [theirs, ours];
  const sequence = first.map((item) => item.id).filter((id) => kept.has(id));
  second.forEach(({ id }, i) => {
    if (!kept.has(id) || sequence.includes(id)) return;
    const behind = second
      .slice(0, i)
      .reverse()
      .find((item) => sequence.includes(item.id));
    sequence.splice(behind ? sequence.indexOf(behind.id) + 1 : 0, 0, id);
  });
  return sequence.map((id) => kept.get(id) as Named);
}
