import { downsampled, upsampled } from '../../analysis/resample';
import type { Board } from '../../design/board';
import type { Design, Variant } from '../../design/schema';
import { recordedBy, WORKSHOP_CARD, type Card } from '../../measure/card';
import { success, type Result } from '../../result';
import type { JobContext } from '../job-context';
import { RENDER_OVERSAMPLED, sounding } from '../sound/sounding';

export interface BenchRun {
  /** What is played, full scale ±1. */
  readonly played: Float64Array;
  readonly rateHz: number;
  /** Null: a cable in place of the board. */
  readonly board: Board | null;
  /** Of the card's noise. */
  readonly seed: number;
  readonly snrDb?: number;
  readonly card?: Card;
}

/**
 * What the workshop's sound card records of a board: its output drives the source's resistance, its input loads
 * nothing. Fails as the design and time do.
 */
export async function benchRecording(
  design: Design,
  variant: Variant,
  { played, rateHz, board, seed, snrDb, card = WORKSHOP_CARD }: BenchRun,
  context: JobContext,
): Promise<Result<Float64Array>> {
  const input = upsampled(played, RENDER_OVERSAMPLED).map((v) => v * card.fullScaleVolts);
  const sounded = board
    ? await sounding(design, variant.id, input, rateHz * RENDER_OVERSAMPLED, context, null, { board })
    : success({ volts: input });
  if (!sounded.ok) return sounded;
  const volts = downsampled(sounded.value.volts, RENDER_OVERSAMPLED).subarray(0, played.length);
  return success(recordedBy(card, volts, rateHz, seed, snrDb));
}
