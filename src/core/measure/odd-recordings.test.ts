import { readWav } from '../format/wav';
import { must } from '../result';
import { orLong } from '../../testing/extent';
import { analyse } from './analyse';
import { channelsOf } from './channels';
import { sweepSamples } from './sweep';

const RATE = 8000;
const sweep = {
  samples: must(sweepSamples({ fromHz: 30, toHz: 3500, seconds: 1, rateHz: RATE, levelDbfs: -6 })),
  rateHz: RATE,
};

/** A WAV file of whole numbers of 16 bits, written here: channels of samples, ±1. */
function wavOf(channels: readonly Float64Array[]): Uint8Array {
  const [count, frame] = [channels[0].length, 2 * channels.length];
  const bytes = new DataView(new ArrayBuffer(44 + count * frame));
  const word = (at: number, text: string) => [...text].forEach((c, i) => bytes.setUint8(at + i, c.charCodeAt(0)));
  word(0, 'RIFF');
  bytes.setUint32(4, 36 + count * frame, true);
  word(8, 'WAVEfmt ');
  bytes.setUint32(16, 16, true);
  bytes.setUint16(20, 1, true);
  bytes.setUint16(22, channels.length, true);
  bytes.setUint32(24, RATE, true);
  bytes.setUint32(28, RATE * frame, true);
  bytes.setUint16(32, frame, true);
  bytes.setUint16(34, 16, true);
  word(36, 'data');
  bytes.setUint32(40, count * frame, true);
  for (let i = 0; i < count; i++)
    channels.forEach((c, k) => bytes.setInt16(44 + i * frame + 2 * k, Math.round(32767 * c[i]), true));
  return new Uint8Array(bytes.buffer);
}

/** A wire: half of what was played, somewhere in a longer silence with a little noise. */
function wire(seconds: number, atS: number): Float64Array {
  const out = Float64Array.from({ length: Math.round(seconds * RATE) }, (_, i) => 1e-4 * Math.sin(i * i * 0.7));
  sweep.samples.forEach((v, i) => (out[Math.round(atS * RATE) + i] += v / 2));
  return out;
}
const HALF_DB = 20 * Math.log10(0.5);
const levelAt = ({ freqHz, levelDb }: { freqHz: Float64Array; levelDb: Float64Array }, f: number) =>
  levelDb[freqHz.findIndex((v) => v >= f)];

test('a recording of one sample, or of two, is refused in words', () => {
  for (const count of [1, 2]) {
    const read = must(readWav(wavOf([new Float64Array(count).fill(0.5)])));
    expect(analyse(read, sweep)).toMatchObject({ ok: false });
  }
});

test('of 32 channels the first two are read, and the board is found in the second', () => {
  const silence = new Float64Array(2 * RATE);
  const channels = Array.from({ length: 32 }, (_, k) => (k === 1 ? wire(2, 0.4) : silence));
  const { samples, second } = must(readWav(wavOf(channels)));
  const { board } = channelsOf(samples, second as Float64Array, sweep);
  const found = must(analyse({ samples: board, rateHz: RATE }, sweep));
  for (const f of [100, 1000]) expect(levelAt(found, f)).toBeCloseTo(HALF_DB, 1);
});

const LONGEST_S = orLong(120, 3600);
test(`a sweep somewhere in a recording of ${LONGEST_S} s is found`, () => {
  const read = must(readWav(wavOf([wire(LONGEST_S, LONGEST_S - 20)])));
  const found = must(analyse(read, sweep));
  for (const f of [100, 1000]) expect(levelAt(found, f)).toBeCloseTo(HALF_DB, 1);
}, 600_000);
