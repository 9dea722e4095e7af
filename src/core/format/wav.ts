import { failure, success, type Result } from '../result';

const HEADER_BYTES = 44;

/**
 * One channel of samples behind their header (the RIFF form, IBM and Microsoft 1991).
 * @param format 1 whole numbers, 3 floats.
 */
function wavOf(
  samples: Float32Array,
  rateHz: number,
  format: 1 | 3,
  bits: 16 | 32,
  put: (view: DataView, at: number, sample: number) => void,
): Uint8Array<ArrayBuffer> {
  const each = bits / 8;
  const bytes = new Uint8Array(HEADER_BYTES + each * samples.length);
  const view = new DataView(bytes.buffer);
  const text = (at: number, letters: string) =>
    [...letters].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
  text(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, format, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, rateHz, true);
  view.setUint32(28, each * rateHz, true);
  view.setUint16(32, each, true);
  view.setUint16(34, bits, true);
  text(36, 'data');
  view.setUint32(40, each * samples.length, true);
  samples.forEach((v, i) => put(view, HEADER_BYTES + each * i, v));
  return bytes;
}

/** Sound as a WAV file of 16 bits. Samples beyond ±1 are held at the ends. */
export const writeWav = (samples: Float32Array, rateHz: number): Uint8Array<ArrayBuffer> =>
  wavOf(samples, rateHz, 1, 16, (view, at, v) =>
    view.setInt16(at, Math.round(32767 * Math.min(1, Math.max(-1, v))), true),
  );

/** The same as 32-bit floats: nothing is held or rounded. */
export const writeFloatWav = (samples: Float32Array, rateHz: number): Uint8Array<ArrayBuffer> =>
  wavOf(samples, rateHz, 3, 32, (view, at, v) => view.setFloat32(at, v, true));

export interface Wav {
  readonly samples: Float64Array;
  readonly rateHz: number;
  readonly second?: Float64Array;
}

export type WavFailure = 'not-a-wav' | 'wav-format' | 'wav-rate' | 'wav-values' | 'empty-file' | 'wav-long';

const EXTENSIBLE = 0xfffe;
/** Longer than this no recording of a sweep is: a quarter of an hour at 48 kHz and 24 bits. */
const MOST_BYTES = 150e6;
/** What sound cards run at, Hz. */
const RATES_HZ = [1000, 1_000_000] as const;
const MOST_CHANNELS = 256;
/** Samples between two words of how far it is. */
const STRIDE = 1 << 20;
/** Floats beyond full scale there may be; beyond this they are no sound. */
const MOST_SIZE = 1e3;

/**
 * The first channel of a WAV file, and the second where there is one: 16, 24 or 32 bits, whole numbers or floats, ±1.
 * Fails with `not-a-wav`, `wav-format` (`format`, `bits`), `wav-rate` (`rateHz`), `wav-values` (`atS`: the first
 * sample that is none), `empty-file` or `wav-long` (`megabytes`, `most`).
 * @param tell the share that is read, now and then.
 */
export function readWav(bytes: Uint8Array, tell: (share: number) => void = () => {}): Result<Wav, WavFailure> {
  if (bytes.length > MOST_BYTES)
    return failure('wav-long', { megabytes: Math.round(bytes.length / 1e6), most: MOST_BYTES / 1e6 });
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const text = (at: number) => (at + 4 <= bytes.length ? String.fromCharCode(...bytes.subarray(at, at + 4)) : '');
  if (text(0) !== 'RIFF' || text(8) !== 'WAVE') return failure('not-a-wav');
  let form: { format: number; channels: number; rateHz: number; bits: number } | null = null;
  for (let at = 12; at + 8 <= bytes.length;) {
    const [name, size] = [text(at), view.getUint32(at + 4, true)];
    const start = at + 8;
    if (name === 'fmt ' && start + 16 <= bytes.length) {
      const format = view.getUint16(start, true);
      form = {
        format: format === EXTENSIBLE && start + 26 <= bytes.length ? view.getUint16(start + 24, true) : format,
        channels: view.getUint16(start + 2, true),
        rateHz: view.getUint32(start + 4, true),
        bits: view.getUint16(start + 14, true),
      };
    }
    if (name === 'data' && form) {
      const { format, channels, rateHz, bits } = form;
      const sample = READERS[`${format} ${bits}`];
      if (!sample || channels < 1 || channels > MOST_CHANNELS) return failure('wav-format', { format, bits });
      if (!(rateHz >= RATES_HZ[0] && rateHz <= RATES_HZ[1])) return failure('wav-rate', { rateHz });
      const frame = (channels * bits) / 8;
      const count = Math.floor(Math.min(size, bytes.length - start) / frame);
      if (count === 0) return failure('empty-file');
      const wanted = Math.min(2, channels);
      const channel = (c: number) => {
        const out = new Float64Array(count);
        for (let i = 0, from = start + (c * bits) / 8; i < count; i++, from += frame) {
          if (i % STRIDE === 0) tell((c + i / count) / wanted);
          out[i] = sample(view, from);
        }
        return out;
      };
      const samples = channel(0);
      const second = wanted > 1 ? channel(1) : null;
      for (const read of second ? [samples, second] : [samples]) {
        const odd = read.findIndex((v) => !(Math.abs(v) <= MOST_SIZE));
        if (odd >= 0) return failure('wav-values', { atS: odd / rateHz });
      }
      return success({ rateHz, samples, ...(second ? { second } : {}) });
    }
    at = start + size + (size % 2);
  }
  return failure('not-a-wav');
}

/** By format (1 whole numbers, 3 floats) and bits. */
const READERS: Readonly<Record<string, ((view: DataView, at: number) => number) | undefined>> = {
  '1 16': (view, at) => view.getInt16(at, true) / 32768,
  '1 24': (view, at) => ((view.getInt8(at + 2) << 16) | (view.getUint8(at + 1) << 8) | view.getUint8(at)) / 8388608,
  '1 32': (view, at) => view.getInt32(at, true) / 2147483648,
  '3 32': (view, at) => view.getFloat32(at, true),
  '3 64': (view, at) => view.getFloat64(at, true),
};
