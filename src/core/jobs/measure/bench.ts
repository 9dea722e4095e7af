import type { AcSolver } from '../../analysis/ac/solver';
import { downsampled, upsampled } from '../../analysis/sound/resample';
import type { Board } from '../../design/compiled/board';
import type { Design, Variant } from '../../design/document/schema';
import { binsHz, filteredBy } from '../../math/fourier';
import { recordedBy, WORKSHOP_CARD, type Card } from '../../measure/card';
import { failure, success, type Result } from '../../result';
import type { JobContext } from '../job-context';
import { builtVariant } from '../reading/built-variant';
import { RENDER_OVERSAMPLED, sounding } from '../sound/sounding';
import { placeAt, responseAt } from './probes';

export interface BenchRun {
  /** What is played, full scale ±1. */
  readonly played: Float64Array;
  readonly rateHz: number;
  /** Null: a cable in place of the board. */
  readonly board: Board | null;
  /** Where its input is held: a place by its id; absent: the variant’s output. */
  readonly place?: string;
  /** Of the card's noise. */
  readonly seed: number;
  readonly snrDb?: number;
  readonly card?: Card;
}

/**
 * What the workshop's sound card records of a board: its output drives the source's resistance, its input loads
 * nothing. At the output a board is run in time, with all that bends in it; at other places by its response, as far as
 * nothing bends. Fails as the design and time do, with `no-such-place`, or with `bends-there` for other places of a
 * circuit whose devices bend.
 */
export async function benchRecording(
  design: Design,
  variant: Variant,
  run: BenchRun,
  context: JobContext,
  solver: AcSolver,
): Promise<Result<Float64Array>> {
  const { played, rateHz, board, place, seed, snrDb, card = WORKSHOP_CARD } = run;
  const recorded = (volts: Float64Array) => success(recordedBy(card, volts, rateHz, seed, snrDb));
  const sent = played.map((v) => v * card.fullScaleVolts);
  if (!board) return recorded(sent);
  const built = builtVariant(design, variant.id, { board });
  if (!built.ok) return built;
  const found = placeAt(design, variant, built.value, place);
  if (!found.ok) return found;
  if (found.value.terms.length === 1 && found.value.terms[0].node === built.value.ways[0].output) {
    const input = upsampled(played, RENDER_OVERSAMPLED).map((v) => v * card.fullScaleVolts);
    const sounded = await sounding(design, variant.id, input, rateHz * RENDER_OVERSAMPLED, context, {
      options: { board },
    });
    if (!sounded.ok) return sounded;
    return recorded(downsampled(sounded.value.volts, RENDER_OVERSAMPLED).subarray(0, played.length));
  }
  if (built.value.live) return failure('bends-there', { place: found.value.name });
  // At 0 Hz there is nothing to hear, and a circuit may have no answer.
  const response = responseAt(built.value.circuit, found.value, binsHz(played.length, rateHz), solver);
  if (!response.ok) return response;
  // Sound is heard by a microphone, whose amplifier is set so that the loudest tone stays under full scale.
  const scale = found.value.terms.some((t) => t.weights) ? 1 / Math.max(1, peakOf(response.value)) : 1;
  return recorded(
    filteredBy(
      sent,
      response.value.map((v) => scale * v),
    ),
  );
}

function peakOf(response: Float64Array): number {
  let most = 0;
  for (let k = 0; k < response.length; k += 2) most = Math.max(most, response[k] ** 2 + response[k + 1] ** 2);
  return Math.sqrt(most);
}
