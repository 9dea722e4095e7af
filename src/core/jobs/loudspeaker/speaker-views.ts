import * as z from 'zod';
import { column, defineJob, requestOf, ofVariant, gridSchema } from '../define-job';
import FFT from 'fft.js';
import { levelAt } from '../../analysis/curves/marks';
import { levelsDb } from '../../analysis/curves/response';
import { fromDecibels } from '../../units/quantity';
import type { AcSolver } from '../../analysis/ac/solver';
import { logGrid } from '../../math/grid';
import { failure, success, type Result } from '../../result';
import { speakerSystem, sumOf, wayTransfer } from './speaker-system';
import { USUAL_LISTENING } from '../../design/document/usual-listening';
import { timesResponse } from '../../math/complex';

const anglesRequest = requestOf('angles', {
  ...ofVariant,
  grid: gridSchema,
  /** Where the lobe is looked at, Hz. */
  lobeHz: z.number(),
  /** From so many sides that they make a map. */
  dense: z.boolean().optional(),
});
export type AnglesRequest = z.infer<typeof anglesRequest>;

/** The sum from many sides. */
export interface Angles {
  readonly freqHz: Float64Array;
  readonly up: readonly { readonly deg: number; readonly sumDb: Float64Array }[];
  readonly across: readonly { readonly deg: number; readonly sumDb: Float64Array }[];
  readonly lobeHz: number;
  /** At that frequency, all round in front: up and down, and from side to side, dB. */
  readonly lobe: { readonly deg: Float64Array; readonly upDb: Float64Array; readonly acrossDb: Float64Array };
  /** Over how many degrees up and down the sum at that frequency stays within 3 dB of its level on the axis. */
  readonly window: { readonly fromDeg: number; readonly toDeg: number };
}

const FAMILY_DEG = [-30, -20, -10, 0, 10, 20, 30];
const SIDE_DEG = [0, 15, 30, 45, 60];
const DENSE_DEG = Array.from({ length: 37 }, (_, i) => 5 * i - 90);
const DENSE_SIDE_DEG = DENSE_DEG.filter((deg) => deg >= 0);
const LOBE_STEP_DEG = 3;
const WINDOW_DB = 3;

/** Fails as the design does, or with `no-such-variant`. */
export function runAngles(
  { design, variantId, grid, lobeHz, dense = false }: AnglesRequest,
  solver: AcSolver,
): Result<Angles> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  const listening = variant.listening ?? USUAL_LISTENING;
  const sumAt = (freq: Float64Array) => {
    const system = speakerSystem(design, variant, freq, solver);
    if (!system.ok) return system;
    return success((acrossDeg: number, upDeg: number) =>
      levelsDb(
        sumOf(
          system.value.ways.map(({ way, volts }) =>
            timesResponse(volts, wayTransfer(design, way, freq, { ...listening, acrossDeg, upDeg })),
          ),
        ),
      ),
    );
  };
  const whole = sumAt(freqHz);
  if (!whole.ok) return whole;
  const one = sumAt(Float64Array.of(lobeHz));
  if (!one.ok) return one;
  const deg = Float64Array.from({ length: 180 / LOBE_STEP_DEG + 1 }, (_, i) => i * LOBE_STEP_DEG - 90);
  const upDb = deg.map((d) => one.value(listening.acrossDeg, d)[0]);
  return success({
    freqHz,
    lobeHz,
    up: (dense ? DENSE_DEG : FAMILY_DEG).map((d) => ({ deg: d, sumDb: whole.value(listening.acrossDeg, d) })),
    across: (dense ? DENSE_SIDE_DEG : SIDE_DEG).map((d) => ({ deg: d, sumDb: whole.value(d, listening.upDeg) })),
    lobe: { deg, upDb, acrossDb: deg.map((d) => one.value(d, listening.upDeg)[0]) },
    window: windowOf(deg, upDb),
  });
}

function windowOf(deg: Float64Array, levelDb: Float64Array): Angles['window'] {
  const middle = deg.length >> 1;
  const floor = levelDb[middle] - WINDOW_DB;
  let [from, to] = [middle, middle];
  while (from > 0 && levelDb[from - 1] >= floor) from--;
  while (to < deg.length - 1 && levelDb[to + 1] >= floor) to++;
  return { fromDeg: deg[from], toDeg: deg[to] };
}

const decayRequest = requestOf('decay', {
  ...ofVariant,
  ghostVariantId: z.string().nullable(),
  /** At so many times that they make a map. */
  dense: z.boolean().optional(),
});
export type DecayRequest = z.infer<typeof decayRequest>;

/** What still sounds some time after an impulse: a curve for each time. */
export interface Decay {
  readonly freqHz: Float64Array;
  readonly slices: readonly { readonly ms: number; readonly levelDb: Float64Array }[];
  readonly ghost: readonly { readonly ms: number; readonly levelDb: Float64Array }[] | null;
}

const SIZE = 16_384;
const RATE = 192_000;
/**
 * The impulse is limited to a band whose upper edge falls smoothly between these, Hz: a band that stops hard rings
 * before and after by itself, and what still sounds some time later would be that.
 */
const BAND_FROM_HZ = 28_000;
const BAND_TO_HZ = 72_000;
/** Of a measured curve the top so many octaves are its smooth edge. */
const MEASURED_EDGE_OCTAVES = 1 / 3;
const SHOWN_POINTS = 141;
const SHOWN_FROM_HZ = 200;
const SHOWN_TO_HZ = 20_000;
const DENSE_MS = Array.from({ length: 41 }, (_, i) => i / 10);
const SLICES_MS = [0, 0.2, 0.4, 0.6, 0.8, 1, 1.3, 1.6, 2, 2.5, 3, 4];
/** The window opens over this time and closes over the last quarter of what is kept, s. */
const OPENS_S = 0.2e-3;
const KEPT_S = 20e-3;

/**
 * Spectrum of the sum's impulse response from later and later on, dB SPL (cumulative: J. M. Berman, L. R. Fincham, J.
 * AES 25, 1977).
 */
export function runDecay(
  { design, variantId, ghostVariantId, dense = false }: DecayRequest,
  solver: AcSolver,
): Result<Decay> {
  const decayOf = (id: string): Result<Decay['slices']> => {
    const variant = design.variants.find((v) => v.id === id);
    if (!variant) return failure('no-such-variant', { variant: id });
    const count = Math.ceil((BAND_TO_HZ * SIZE) / RATE);
    const bins = Float64Array.from({ length: count }, (_, k) => ((k + 1) * RATE) / SIZE);
    const system = speakerSystem(design, variant, bins, solver);
    if (!system.ok) return system;
    const sum = sumOf(system.value.ways.map((w) => w.pressure));
    const limited = sum.map((v, i) => v * edgeAt(bins[i >> 1], BAND_FROM_HZ, BAND_TO_HZ));
    return success(slicesOf(limited, shown, dense ? DENSE_MS : SLICES_MS));
  };
  const shown = logGrid(SHOWN_FROM_HZ, SHOWN_TO_HZ, SHOWN_POINTS);
  const own = decayOf(variantId);
  if (!own.ok) return own;
  const ghost = ghostVariantId === null ? null : decayOf(ghostVariantId);
  return success({ freqHz: shown, slices: own.value, ghost: ghost?.ok ? ghost.value : null });
}

/** 1 up to one frequency, half a cosine down to 0 at another, in the logarithm. */
function edgeAt(freqHz: number, fromHz: number, toHz: number): number {
  if (freqHz <= fromHz) return 1;
  return freqHz >= toHz ? 0 : 0.5 + 0.5 * Math.cos((Math.PI * Math.log(freqHz / fromHz)) / Math.log(toHz / fromHz));
}

/** @param spectrum re, im by turns, from the first bin above 0 Hz on; nothing lies beyond its end. */
function slicesOf(spectrum: Float64Array, shown: Float64Array, timesMs: readonly number[]): Decay['slices'] {
  const fft = new FFT(SIZE);
  const whole = fft.createComplexArray();
  whole.fill(0);
  for (let k = 1; k <= SIZE / 2; k++) {
    // A sampled response has no phase at half its rate.
    const [re, im] = [spectrum[2 * (k - 1)] ?? 0, k === SIZE / 2 ? 0 : (spectrum[2 * (k - 1) + 1] ?? 0)];
    [whole[2 * k], whole[2 * k + 1]] = [re, im];
    if (k < SIZE / 2) [whole[2 * (SIZE - k)], whole[2 * (SIZE - k) + 1]] = [re, -im];
  }
  const impulse = fft.createComplexArray();
  fft.inverseTransform(impulse, whole);
  const samples = Float64Array.from({ length: SIZE }, (_, i) => impulse[2 * i]);
  const start = samples.reduce((best, v, i) => (Math.abs(v) > Math.abs(samples[best]) ? i : best), 0);
  const kept = Math.round(KEPT_S * RATE);
  return timesMs.map((ms) => {
    const from = start + Math.round(ms * 1e-3 * RATE) - Math.round(OPENS_S * RATE);
    const windowed = fft.createComplexArray();
    windowed.fill(0);
    for (let i = 0; i < kept; i++) windowed[2 * i] = samples[(from + i + SIZE) % SIZE] * windowAt(i / RATE);
    const out = fft.createComplexArray();
    fft.transform(out, windowed);
    return { ms, levelDb: shown.map((f) => binLevel(out, (f * SIZE) / RATE)) };
  });
}

/** Half a cosine up, flat, half a cosine down over the last quarter. */
function windowAt(s: number): number {
  if (s < OPENS_S) return 0.5 - 0.5 * Math.cos((Math.PI * s) / OPENS_S);
  const left = KEPT_S - s;
  return left < KEPT_S / 4 ? 0.5 - 0.5 * Math.cos((Math.PI * left) / (KEPT_S / 4)) : 1;
}

/** Level (dB) between bins, by their power. */
function binLevel(bins: ArrayLike<number>, at: number): number {
  const k = Math.min(SIZE / 2 - 2, Math.floor(at));
  const power = (i: number) => bins[2 * i] ** 2 + bins[2 * i + 1] ** 2;
  return 10 * Math.log10(Math.max(1e-30, power(k) + (at - k) * (power(k + 1) - power(k))));
}

export const anglesJob = defineJob(anglesRequest, (request, { solver }) => runAngles(request, solver));

export const decayJob = defineJob(decayRequest, (request, { solver }) => runDecay(request, solver));

const measuredDecayRequest = requestOf('measured-decay', {
  // What it was measured of: an answer belongs to it.
  ...ofVariant,
  freqHz: column,
  levelDb: column,
  phaseDeg: column,
});

/**
 * The same of a curve that was measured, level and phase: outside of its range there is nothing. Fails with
 * `nothing-measured`.
 */
export function runMeasuredDecay({
  freqHz,
  levelDb,
  phaseDeg,
}: Pick<z.infer<typeof measuredDecayRequest>, 'freqHz' | 'levelDb' | 'phaseDeg'>): Result<
  Omit<Decay, 'ghost'>,
  'nothing-measured'
> {
  if (freqHz.length < 8 || phaseDeg.length !== freqHz.length) return failure('nothing-measured', { probe: 'sum' });
  const spectrum = new Float64Array(SIZE);
  const top = freqHz[freqHz.length - 1];
  for (let k = 0; k < SIZE / 2; k++) {
    const at = ((k + 1) * RATE) / SIZE;
    const size = fromDecibels(levelAt(freqHz, levelDb, at));
    const turn = (levelAt(freqHz, phaseDeg, at) * Math.PI) / 180;
    const edge = edgeAt(at, top * 2 ** -MEASURED_EDGE_OCTAVES, top);
    if (Number.isFinite(size))
      [spectrum[2 * k], spectrum[2 * k + 1]] = [edge * size * Math.cos(turn), edge * size * Math.sin(turn)];
  }
  const [from, to] = [Math.max(SHOWN_FROM_HZ, freqHz[0]), Math.min(SHOWN_TO_HZ, freqHz[freqHz.length - 1])];
  const shown = logGrid(from, to, SHOWN_POINTS);
  return success({ freqHz: shown, slices: slicesOf(spectrum, shown, SLICES_MS) });
}

export const measuredDecayJob = defineJob(measuredDecayRequest, (request) => runMeasuredDecay(request));
