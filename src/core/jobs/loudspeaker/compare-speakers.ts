import * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { variantPrice } from '../../design/stages/price';
import type { Design, Variant } from '../../design/document/schema';
import { AUDIO_BAND, logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { runAcoustics } from './acoustics';
import { acousticTarget, speakerSystem, sumOf } from './speaker-system';
import { USUAL_LISTENING } from '../../design/document/usual-listening';
import { runDecay } from './speaker-views';

const compareRequest = requestOf('compare-speakers', {
  ...ofVariant,
  others: z.array(z.string()).max(26).readonly(),
});
export type CompareSpeakersRequest = z.infer<typeof compareRequest>;

/** What a crossover comes to, in the figures that two are compared by. */
export interface SpeakerFigures {
  readonly variantId: string;
  readonly name: string;
  readonly label: string;
  /** Largest distance of the sum from a level line, and from its target, over the range that counts, dB. */
  readonly flatDb: number;
  readonly alignedDb: number;
  /** Least load, ohm, and where; null without one. */
  readonly lowestOhm: number | null;
  readonly lowestHz: number | null;
  /** Largest distance from the target 15° above and below, dB. */
  readonly asideDb: number;
  /** Level of the loudest that still sounds from 1 kHz up after 3 ms, dB against the level that is aimed at. */
  readonly decayDb: number;
  readonly price: number | null;
}

const ASIDE_DEG = 15;
const ASIDE_POINTS = 241;
/** What is heard as ringing comes after the ear has taken the sound itself for over. */
const LATE_MS = 3;
/** Below, three milliseconds are not three periods: what sounds is the sound itself. */
const RINGS_FROM_HZ = 1000;
const GRID_POINTS = 241;

/** Two or more crossovers by the same figures, the first the one on the desk. Fails as the designs do. */
export function runCompareSpeakers(
  { design, variantId, others }: CompareSpeakersRequest,
  solver: AcSolver,
): Result<readonly SpeakerFigures[]> {
  const all: SpeakerFigures[] = [];
  for (const id of [variantId, ...others]) {
    const variant = design.variants.find((v) => v.id === id);
    if (!variant) return failure('no-such-variant', { variant: id });
    const figures = figuresOf(design, variant, solver);
    if (!figures.ok) return figures;
    all.push(figures.value);
  }
  return success(all);
}

function figuresOf(design: Design, variant: Variant, solver: AcSolver): Result<SpeakerFigures> {
  const grid = { ...AUDIO_BAND, points: GRID_POINTS };
  const ids = { design, variantId: variant.id, ghostVariantId: null };
  const heard = runAcoustics({ kind: 'acoustics', ...ids, grid }, solver);
  if (!heard.ok) return heard;
  const aside = asideOf(design, variant, solver);
  if (!aside.ok) return aside;
  const decay = runDecay({ kind: 'decay', ...ids }, solver);
  if (!decay.ok) return decay;
  const { flat, aligned, load, targetLevelDb } = heard.value;
  const late = decay.value.slices.find((s) => s.ms >= LATE_MS);
  const rings = Math.max(
    ...Array.from(late?.levelDb ?? []).filter(
      (v, i) => Number.isFinite(v) && decay.value.freqHz[i] >= RINGS_FROM_HZ && decay.value.freqHz[i] <= flat.toHz,
    ),
  );
  return success({
    variantId: variant.id,
    name: variant.name,
    label: variant.label,
    flatDb: Math.max(flat.overDb, -flat.underDb),
    alignedDb: Math.max(aligned.overDb, -aligned.underDb),
    lowestOhm: load?.lowestOhm ?? null,
    lowestHz: load?.lowestHz ?? null,
    asideDb: aside.value,
    decayDb: rings - targetLevelDb,
    price: variantPrice(variant, design),
  });
}

function asideOf(design: Design, variant: Variant, solver: AcSolver): Result<number> {
  const listening = variant.listening ?? USUAL_LISTENING;
  const freqHz = logGrid(listening.fromHz, listening.toHz, ASIDE_POINTS);
  const target = acousticTarget(design, variant, freqHz);
  let worst = 0;
  for (const deg of [-ASIDE_DEG, ASIDE_DEG]) {
    const listener = { ...listening, upDeg: listening.upDeg + deg };
    const system = speakerSystem(design, variant, freqHz, solver, { listener });
    if (!system.ok) return system;
    const levels = levelsDb(sumOf(system.value.ways.map((w) => w.pressure)));
    levels.forEach((v, i) => (worst = Math.max(worst, Math.abs(v - target.sumDb[i]))));
  }
  return success(worst);
}

export const compareSpeakersJob = defineJob(compareRequest, (request, { solver }) =>
  runCompareSpeakers(request, solver),
);
