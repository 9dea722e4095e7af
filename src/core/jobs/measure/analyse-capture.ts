import * as z from 'zod';
import { analyse, type Analysed } from '../../measure/analyse';
import { sweepSamples, type Sweep } from '../../measure/sweep';
import { transferBetween, withoutMean } from '../../measure/two-channel';
import { failure, type Result } from '../../result';
import { defineJob, float64, ofVariant, requestOf } from '../define-job';
import { sweepSchema } from './sweep-schema';

const captureRequest = requestOf('analyse-capture', {
  // What it is a capture of: an answer belongs to it.
  ...ofVariant,
  samples: float64,
  /** What was played, recorded together with it; null: it is known by its law. */
  source: float64.nullable(),
  rateHz: z.number().positive(),
  sweep: sweepSchema,
});

/** Captures finer than so many samples for each turn of the highest tone are thinned, to this many. */
const FINE = 40;
const ENOUGH = 20;
/** Peak that a capture of unknown scale is brought to. */
const PEAK = 0.5;
const HIGHEST_SHARE = 0.495;

/**
 * What a scope's capture says: against what was recorded together with it, or, by itself, against the exponential sweep
 * that was played, when its level is not known. Fails as analysing does, or with `capture-too-coarse` (`rateHz`,
 * `neededHz`).
 */
function analyseCapture({ samples, source, rateHz, sweep }: z.infer<typeof captureRequest>): Result<Analysed> {
  const by = rateHz > FINE * sweep.toHz ? Math.floor(rateHz / (ENOUGH * sweep.toHz)) : 1;
  const thin = (of: Float64Array) => (by === 1 ? of : meansOf(of, by));
  const rate = rateHz / by;
  if (source) return transferBetween(thin(source), thin(samples), rate, sweep);
  if (sweep.toHz > HIGHEST_SHARE * rate)
    return failure('capture-too-coarse', { rateHz, neededHz: sweep.toHz / HIGHEST_SHARE });
  const asPlayed: Sweep = { ...sweep, rateHz: rate };
  const played = sweepSamples(asPlayed);
  if (!played.ok) return played;
  const recorded = scaled(thin(samples));
  if (!recorded) return failure('silent-recording', { what: 'recording' });
  return analyse({ samples: recorded, rateHz: rate }, { samples: played.value, rateHz: rate });
}

/** Each so many samples as their mean: steps of a few bits grow finer by it. */
function meansOf(samples: Float64Array, by: number): Float64Array {
  return Float64Array.from({ length: Math.floor(samples.length / by) }, (_, k) => {
    let sum = 0;
    for (let i = 0; i < by; i++) sum += samples[k * by + i];
    return sum / by;
  });
}

/** Its peak brought to one that is neither silent nor clipped, its mean taken off; null where there is nothing. */
function scaled(samples: Float64Array): Float64Array | null {
  const alone = withoutMean(samples);
  const peak = alone.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
  return peak > 0 ? alone.map((v) => (v * PEAK) / peak) : null;
}

export const analyseCaptureJob = defineJob(captureRequest, analyseCapture);
