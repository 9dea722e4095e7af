import { compiledRunner } from '../analysis/sound';
import { AS_BUILT, compile, type Compilation } from '../design/compile';
import type { Design, Variant } from '../design/schema';
import { failure, success, type Result } from '../result';
import { builtVariant, restOfSource, runningCircuit } from './built-variant';
import type { JobContext } from './job-context';
import { decimated, HALF_TAPS, noise, OVERSAMPLED, QUIET_RMS, RATE_HZ, sampleOf, voicesOf, waveTable, type SoundSource } from './sound-source';
import { turned } from './turn';

/** The very circuit, sample by sample, with a source at its input and an envelope on one of its controls. */
export interface ListenRequest {
  readonly kind: 'listen';
  readonly design: Design;
  readonly variantId: string;
  readonly source: SoundSource | { readonly samples: Float32Array; readonly rateHz: number };
  /** Of the notes, in turn, Hz; each as long. */
  readonly notesHz: readonly number[];
  readonly noteS: number;
  /** Peak at the input, V. */
  readonly volts: number;
  /** Moves a control of the variant from where it stands: up by so much of its travel, in so many seconds, and back. */
  readonly envelope: { readonly controlId: string; readonly depth: number; readonly attackS: number; readonly decayS: number } | null;
}

export interface Heard {
  /** At `RATE_HZ`, quiet enough for a first hearing: its loudest third at −20 dB of full scale. */
  readonly samples: Float32Array;
  readonly rateHz: number;
  /** As it was, V. */
  readonly peakVolts: number;
  readonly rmsVolts: number;
  /** Steps in which the circuit did not settle. */
  readonly unsettled: number;
  /** How many seconds of sound a second makes. */
  readonly timesRealTime: number;
}

const BLOCK = 64;
const PLACES = 97;
const LONGEST_S = 30;
const BLOCKS_BETWEEN_PAUSES = 60;

/** Renders it. Fails as the design or its rest does, with `too-long` (`seconds`), or `cancelled`. */
export async function runListen(request: ListenRequest, context: JobContext, now: () => number): Promise<Result<Heard>> {
  const { design, variantId, notesHz, noteS, volts, envelope } = request;
  const seconds = notesHz.length * noteS;
  if (!(seconds > 0 && seconds <= LONGEST_S)) return failure('too-long', { seconds, most: LONGEST_S });
  const built = builtVariant(design, variantId, 'left');
  if (!built.ok) return built;
  const { variant } = built.value;
  const circuit = runningCircuit(built.value);
  const rate = RATE_HZ * OVERSAMPLED;
  const wanted = circuit.structure.nodeOf(built.value.ways[0].output) ?? -1;
  const made = compiledRunner(circuit, { sampleRateHz: rate, wanted: [wanted] });
  if (!made.ok) return made;
  const runner = made.value;
  const places = envelope ? placesOf(design, variant, envelope.controlId, built.value) : null;
  const drive = driveOf(request, rate, Math.round(seconds * rate));
  const inputs = runner.sources.map((name) => new Float64Array(BLOCK).fill(restOfSource(circuit, name)));
  const vin = runner.sources.indexOf('Vin');
  const out = new Float64Array(drive.length);
  const piece = [new Float64Array(BLOCK)];
  const base = envelope ? (variant.controls.find((c) => c.id === envelope.controlId)?.position ?? 0.5) : 0;
  const began = now();
  for (let start = 0, block = 0; start < drive.length; start += BLOCK, block++) {
    const count = Math.min(BLOCK, drive.length - start);
    if (vin >= 0) for (let i = 0; i < count; i++) inputs[vin][i] = volts * drive[start + i];
    if (places && envelope) {
      const at = base + envelope.depth * shapeOf(((start / rate) % noteS), envelope);
      const { values, dc } = between(places, at);
      if (!runner.setValues(values)) return failure('no-unique-solution', { unknown: 'a value that was nothing' });
      runner.sources.forEach((name, s) => name !== 'Vin' && inputs[s].fill(dc.get(name) ?? 0));
    }
    runner.process(inputs, piece, count);
    out.set(piece[0].subarray(0, count), start);
    if (block % BLOCKS_BETWEEN_PAUSES === 0) {
      context.progress(start / drive.length);
      await context.pause();
      if (context.signal.aborted) return failure('cancelled', { done: start / rate });
    }
  }
  const tookS = Math.max(1e-6, (now() - began) / 1000);
  return success({ ...heardOf(out), unsettled: runner.unsettled, timesRealTime: seconds / tookS });
}

export interface Place {
  readonly values: Float64Array;
  readonly dc: ReadonlyMap<string, number>;
}

/** The circuit's values over a control's travel: what lies between is taken from its neighbours. */
function placesOf(design: Design, variant: Variant, controlId: string, middle: Compilation): Place[] {
  return Array.from({ length: PLACES }, (_, i) => {
    const built = compile(design, turned(variant, controlId, { position: i / (PLACES - 1) }), { ...AS_BUILT, rest: 'left' });
    return placeOf(built.ok ? built.value : middle);
  });
}

/** Where a circuit's values and sources stand. */
export function placeOf(built: Compilation): Place {
  const circuit = runningCircuit(built);
  return { values: circuit.values, dc: new Map([...(circuit.sources ?? [])].map(([name, s]) => [name, s.dc ?? 0])) };
}

function between(places: readonly Place[], at: number): Place {
  const x = Math.min(1, Math.max(0, at)) * (places.length - 1);
  const k = Math.min(places.length - 2, Math.floor(x));
  return onTheWay(places[k], places[k + 1], x - k);
}

/** A share t of the way from one place to another: what is positive at both ends moves evenly in the logarithm, as currents of a control do. */
export function onTheWay(a: Place, b: Place, t: number): Place {
  const mix = (from: number, to: number) => (from > 0 && to > 0 ? from * (to / from) ** t : from + t * (to - from));
  return { values: a.values.map((v, i) => (v === b.values[i] ? v : mix(v, b.values[i]))), dc: new Map([...a.dc].map(([name, v]) => [name, mix(v, b.dc.get(name) ?? v)])) };
}

/** Up and down again over a note, 0 to 1: straight up, an exponential down. */
function shapeOf(t: number, { attackS, decayS }: { attackS: number; decayS: number }): number {
  return t < attackS ? t / Math.max(attackS, 1e-4) : Math.exp(-(t - attackS) / Math.max(decayS, 1e-3));
}

/** The source at the oversampled rate, 1 peak: waves band-limited by adding harmonics up to a third of that rate. */
function driveOf({ source, notesHz, noteS }: ListenRequest, rate: number, count: number): Float64Array {
  const out = new Float64Array(count);
  if (typeof source === 'object') {
    for (let i = 0; i < count; i++) {
      const at = (i / rate) * source.rateHz;
      const k = Math.floor(at);
      out[i] = k + 1 < source.samples.length ? source.samples[k] + (at - k) * (source.samples[k + 1] - source.samples[k]) : 0;
    }
    return out;
  }
  if (source === 'noise') {
    const hiss = noise();
    return out.map(hiss);
  }
  const each = Math.round(noteS * rate);
  notesHz.forEach((hz, n) => {
    const from = n * each;
    const voices = voicesOf(source, hz);
    for (const voice of voices) addVoice(out.subarray(from, Math.min(count, from + each)), waveTable(source, voice, rate), voice, rate, 1 / voices.length);
  });
  return out;
}

function addVoice(into: Float64Array, table: Float64Array, hz: number, rate: number, gain: number): void {
  const fade = Math.min(into.length / 4, rate * 0.004);
  for (let i = 0; i < into.length; i++) {
    const edge = Math.min(1, i / fade, (into.length - i) / fade);
    into[i] += gain * edge * sampleOf(table, (i * hz) / rate);
  }
}

function heardOf(out: Float64Array): Omit<Heard, 'unsettled' | 'timesRealTime'> {
  const count = Math.floor(out.length / OVERSAMPLED);
  // Silence before and after.
  const fast = new Float64Array(out.length + 2 * HALF_TAPS);
  fast.set(out, HALF_TAPS);
  const low = decimated(fast, count);
  // What rests at some volts is not heard: the mean goes.
  const mean = low.reduce((s, v) => s + v, 0) / Math.max(1, count);
  let [peak, square] = [0, 0];
  for (let i = 0; i < count; i++) {
    low[i] -= mean;
    peak = Math.max(peak, Math.abs(low[i]));
    square += low[i] * low[i];
  }
  const rms = Math.sqrt(square / Math.max(1, count));
  const gain = QUIET_RMS / Math.max(rms, 1e-9);
  // A soft limiter: what would hurt is rounded off.
  return { samples: Float32Array.from(low, (v) => Math.tanh(v * gain)), rateHz: RATE_HZ, peakVolts: peak, rmsVolts: rms };
}
