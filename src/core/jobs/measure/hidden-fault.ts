import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand';
import { designatorsOf } from '../../design/stages/designators';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_DESIGNED, type Board } from '../../design/compiled/board';
import { logGrid } from '../../math/grid';
import type { Design, Variant } from '../../design/document/schema';
import { failure, success, type Result } from '../../result';
import { builtVariant } from '../reading/built-variant';
import { drawBoard, withFault } from './draw-board';
import { namedParts } from './hypotheses';
import * as z from 'zod';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { placeAt, responseAt } from './probes';

/** Times its value that a wrong part may have: another decade, a neighbour on the shelf. */
const FACTORS = [10, 0.1, 2.2, 0.47, 1.5, 0.68];

/** Boards that are tried until one is found whose fault shows: from this much on, dB, down to so far under the top. */
const TRIES = 24;
const SHOWS_DB = 1;
const WITHIN_DB = 40;
const POINTS = 61;

/**
 * The board of a seed, with something wrong with it where it is to be. Fails as drawing and breaking do, or with
 * `no-such-variant`.
 */
export function seededBoard(
  design: Design,
  variantId: string,
  { seed, hidden, place }: { readonly seed: number; readonly hidden: boolean; readonly place: string },
  solver: AcSolver,
): Result<Board> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const board = drawBoard(design, variant, seed);
  if (!board.ok || !hidden) return board;
  const fault = hiddenFault(design, variant, place, seed, solver);
  return fault.ok ? withFault(design, variant, board.value, fault.value) : fault;
}

/** What is wrong with a seeded board, told to whom gives up, or has found it. */
export interface RevealedFault {
  readonly designator: string;
  readonly is: 'open' | 'short' | 'value';
  /** Of a value: times what was chosen. */
  readonly factor: number | null;
}

const revealRequest = requestOf('reveal-fault', {
  ...ofVariant,
  /** Where the board was swept: the fault was hidden so that it shows there. */
  place: z.string().max(120),
  board: z.int().min(0).max(2_147_483_647),
});

/** The fault that `seededBoard` hides. Fails as that does. */
export const revealFaultJob = defineJob(revealRequest, ({ design, variantId, place, board }, { solver }) => {
  const variant = design.variants.find((v) => v.id === variantId);
  const fault = variant
    ? hiddenFault(design, variant, place, board, solver)
    : failure('no-such-variant', { variant: variantId });
  return fault.ok ? success(revealed(fault.value)) : fault;
});

function revealed(fault: string): RevealedFault {
  const [designator, what] = fault.split('=');
  if (what === 'open' || what === 'short') return { designator, is: what, factor: null };
  return { designator, is: 'value', factor: Number(what.slice(1)) };
}

/**
 * Something wrong with a board, as it is written, the same for the same seed: a value, an open joint, a bridge; such
 * that it shows at a place, where anything does. Fails as the design does, or with `nothing-to-break`.
 */
export function hiddenFault(
  design: Design,
  variant: Variant,
  place: string,
  seed: number,
  solver: AcSolver,
): Result<string> {
  const built = builtVariant(design, variant.id);
  if (!built.ok) return built;
  const there = new Set(built.value.parts.map(({ stageId, part }) => `${stageId}.${part}`));
  const parts = namedParts(built.value, designatorsOf(built.value.ways), (element) => there.has(element));
  if (parts.length === 0) return failure('nothing-to-break', {});
  const generator = xoroshiro128plus(seed ^ 0x5eed);
  const below = (count: number) => unsafeUniformIntDistribution(0, count - 1, generator);
  const drawn = (): string => {
    const { designator } = parts[below(parts.length)];
    const kind = below(FACTORS.length + 2);
    if (kind < FACTORS.length) return `${designator}=x${FACTORS[kind]}`;
    return `${designator}=${kind === FACTORS.length ? 'open' : 'short'}`;
  };
  const sound = levelsAt(design, variant, place, AS_DESIGNED, solver);
  let fault = drawn();
  for (let tries = 1; tries < TRIES && sound; tries++) {
    const board = withFault(design, variant, AS_DESIGNED, fault);
    const levels = board.ok ? levelsAt(design, variant, place, board.value, solver) : null;
    if (levels && shows(sound, levels)) break;
    fault = drawn();
  }
  return success(fault);
}

function levelsAt(
  design: Design,
  variant: Variant,
  place: string,
  board: Board,
  solver: AcSolver,
): Float64Array | null {
  const built = builtVariant(design, variant.id, { board });
  if (!built.ok) return null;
  const probe = placeAt(design, variant, built.value, place);
  const response = probe.ok ? responseAt(built.value.circuit, probe.value, logGrid(20, 20e3, POINTS), solver) : null;
  return response?.ok ? levelsDb(response.value) : null;
}

function shows(sound: Float64Array, broken: Float64Array): boolean {
  const top = sound.reduce((m, v) => Math.max(m, v), -Infinity);
  return sound.some((db, i) => db > top - WITHIN_DB && Math.abs(broken[i] - db) > SHOWS_DB);
}
