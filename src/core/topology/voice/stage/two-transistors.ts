import { npn } from '../../../circuit/elements/bipolar';
import type { BuildContext } from '../../kit/define-topology';
import { SUPPLY, type PartValues } from '../../kit/part';
import { EXPONENTIAL_NPN, GAIN_RANGE, internalOhm, junctionVolts, parallel, SMALL_NPN } from './small-transistor';

/**
 * Two transistors as one amplifier that turns over: Q1 with its collector resistor R6 and perhaps R7 in its emitter, Q2
 * following on R8. R3 brings the output's rest back to the base's feed, R4 holds that down, so that it finds its own
 * rest.
 */
export interface PairRest {
  /** Collector currents, A. */
  readonly first: number;
  readonly second: number;
  readonly baseVolts: number;
  readonly outVolts: number;
}

const BETA = GAIN_RANGE.typical;
const ALPHA = BETA / (BETA + 1);
const HALVINGS = 200;

/** What is wanted of a pair's rest: currents, and the output where it has the most room. */
export interface PairAim {
  readonly firstAmps: number;
  readonly secondAmps: number;
}

/**
 * The rest that parts come to: for a current in Q1 the base, R4's and R3's currents, the output, Q2 and the collector
 * follow one another; halved until the collector resistor agrees.
 */
export function pairRest(v: PartValues): PairRest {
  const from = (first: number): PairRest & { over: number } => {
    const baseVolts = junctionVolts(first) + (first / ALPHA) * (v.R7 ?? 0);
    const back = baseVolts / v.R4 + first / BETA;
    const outVolts = baseVolts + v.R3 * back;
    const secondEmitter = outVolts / v.R8 + back;
    const second = secondEmitter * ALPHA;
    const collector = outVolts + junctionVolts(second);
    return { first, second, baseVolts, outVolts, over: first + second / BETA - (v[SUPPLY] - collector) / v.R6 };
  };
  let [low, high] = [1e-12, v[SUPPLY] / v.R6];
  for (let i = 0; i < HALVINGS && high - low > 1e-17; i++) {
    const middle = (low + high) / 2;
    if (from(middle).over > 0) high = middle;
    else low = middle;
  }
  return from((low + high) / 2);
}

/**
 * Gain from base to output, what the base has for an input (without R3 and R4) and the output for a resistance, ohm;
 * `loadOhm` stands on the output beside R8.
 */
export function pairSignal(
  v: PartValues,
  rest: PairRest,
  loadOhm: number,
): { gain: number; inOhm: number; outOhm: number } {
  const [re1, re2] = [internalOhm(rest.first) * ALPHA, internalOhm(rest.second) * ALPHA];
  const load = parallel(v.R8, loadOhm);
  const collector = parallel(v.R6, (BETA + 1) * (re2 + load));
  return {
    gain: ((ALPHA * collector) / (re1 + (v.R7 ?? 0))) * (load / (re2 + load)),
    inOhm: (BETA + 1) * (re1 + (v.R7 ?? 0)),
    outOhm: re2 + v.R6 / (BETA + 1),
  };
}

/**
 * Parts for a rest: R6, R8 and the base's resting volts with a given R7. The output stands half way between what Q1
 * needs and the supply.
 */
export function pairFor(
  supplyVolts: number,
  { firstAmps, secondAmps }: PairAim,
  R7: number,
): { R6: number; outVolts: number; baseVolts: number; baseAmps: number; R8: (backAmps: number) => number } {
  const outVolts = (supplyVolts - junctionVolts(secondAmps)) / 2;
  const baseAmps = firstAmps / BETA;
  return {
    outVolts,
    baseAmps,
    baseVolts: junctionVolts(firstAmps) + (firstAmps / ALPHA) * R7,
    R6: (supplyVolts - outVolts - junctionVolts(secondAmps)) / (firstAmps + secondAmps / BETA),
    R8: (backAmps) => outVolts / (secondAmps / ALPHA - backAmps),
  };
}

/** Places both transistors and what holds them, from base to output node. R3 and R4 are the circuit’s own. */
export function buildPair(
  { plus, minus, has, ideal, node, part, element }: BuildContext,
  base: string,
  out: string,
): void {
  const transistor = ideal ? EXPONENTIAL_NPN : SMALL_NPN;
  const [collector, emitter] = [node('c'), has('R7') ? node('e') : minus];
  part('R6', plus, collector);
  element('Q1', npn, [collector, base, emitter], transistor);
  if (has('R7')) part('R7', emitter, minus);
  element('Q2', npn, [plus, collector, out], transistor);
  part('R8', out, minus);
}
