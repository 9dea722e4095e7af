import { sallenKey } from './testing/analytic-recording';
import { analyse } from './analyse';
import { channelsOf } from './channels';
import { recordedDelay } from './recorded-delay';
import { sweepSamples, type Sweep } from './sweep';
import { must } from '../result';

const RATE = 48_000;
const asked: Sweep = { fromHz: 20, toHz: 20e3, seconds: 1, rateHz: RATE, levelDbfs: -6 };
const sweep = { samples: must(sweepSamples(asked)), rateHz: RATE };
const played = { samples: padded(sweep.samples, 0.1, 0.3), rateHz: RATE };

/** The same with silence before and after, s. */
function padded(samples: Float64Array, beforeS: number, afterS: number): Float64Array {
  const [before, after] = [beforeS, afterS].map((s) => Math.round(s * RATE));
  const out = new Float64Array(before + samples.length + after);
  out.set(samples, before);
  return out;
}
const through = (samples: Float64Array): Float64Array => sallenKey(samples, RATE, 2000, 0.9);
const board = { samples: through(played.samples), rateHz: RATE };
const levelNear = (found: { freqHz: Float64Array; levelDb: Float64Array }, f: number): number =>
  found.levelDb[found.freqHz.findIndex((v) => v >= f)];
const good = must(analyse(board, sweep, { reference: played }));

test('a direct voltage of a tenth of full scale is taken off and said', () => {
  const offset = { samples: board.samples.map((v) => v + 0.1), rateHz: RATE };
  const found = must(analyse(offset, sweep, { reference: played }));
  expect(found.notes).toContain('offset');
  for (const f of [25, 60, 500, 2000]) expect(levelNear(found, f)).toBeCloseTo(levelNear(good, f), 1);
  expect(good.notes).toEqual([]);
});

test('a recording that was clipped and then scaled is refused', () => {
  const clipped = { samples: board.samples.map((v) => 0.3 * Math.max(-0.28, Math.min(0.28, v))), rateHz: RATE };
  expect(analyse(clipped, sweep, { reference: played })).toMatchObject({ ok: false, code: 'recording-clipped' });
  const quieter = { samples: board.samples.map((v) => 0.3 * v), rateHz: RATE };
  expect(analyse(quieter, sweep, { reference: played }).ok).toBe(true);
});

test('nothing coming through is a finding with the noise’s level; another sound than the sweep is refused', () => {
  const noise = (size: number) =>
    Float64Array.from(played.samples, (_, i) => size * Math.sin(i * i * 0.7 + 1e3 * Math.sin(i)));
  const silent = must(analyse({ samples: noise(1e-6), rateHz: RATE }, sweep, { reference: played }));
  expect(silent.notes).toContain('silent');
  expect(Math.max(...silent.levelDb)).toBeLessThan(-60);
  const nothing = must(
    analyse({ samples: new Float64Array(played.samples.length), rateHz: RATE }, sweep, { reference: played }),
  );
  expect(nothing.notes).toContain('silent');
  expect(analyse({ samples: noise(0.2), rateHz: RATE }, sweep, { reference: played })).toMatchObject({
    ok: false,
    code: 'sweep-not-found',
  });
});

test('two seconds between recording and reference are latency, no circuit’s delay', () => {
  const late = { samples: padded(board.samples, 2, 0), rateHz: RATE };
  const found = must(analyse(late, sweep, { reference: played }));
  expect(found.notes).toContain('latency');
  expect(found.delayS).toBeCloseTo(2, 3);
  expect(found.delayRemoved).toBe(true);
  for (const f of [100, 1000, 5000]) expect(levelNear(found, f)).toBeCloseTo(levelNear(good, f), 1);
});

test('of two channels the one with the sweep is the board, and the one that is the sweep is the card', () => {
  const silence = new Float64Array(board.samples.length);
  expect(channelsOf(silence, board.samples, sweep)).toEqual({ board: board.samples, loopback: null });
  expect(channelsOf(played.samples, board.samples, sweep)).toEqual({ board: board.samples, loopback: played.samples });
  expect(channelsOf(board.samples, played.samples, sweep)).toEqual({ board: board.samples, loopback: played.samples });
  expect(channelsOf(board.samples, silence, sweep).board).toBe(board.samples);
});

test('a delay between two recordings is found whatever the polarity, and none where there is none', () => {
  const freqHz = Float64Array.from({ length: 70 }, (_, i) => 20 * 1000 ** (i / 69));
  const response = Float64Array.from(freqHz).reduce((out, f, i) => {
    const u = f / 1500;
    const size = 1 / (1 + u * u);
    out[2 * i] = size;
    out[2 * i + 1] = -u * size;
    return out;
  }, new Float64Array(140));
  const sure = freqHz.map(() => 1);
  const phase = (delayS: number, turn: number) =>
    freqHz.map((f, i) => Math.atan2(response[2 * i + 1], response[2 * i]) - 2 * Math.PI * f * delayS + turn);
  for (const delayS of [1 / 48_000, 3.3e-4, -2e-3, 0.0171])
    for (const turn of [0, Math.PI])
      expect(recordedDelay(freqHz, phase(delayS, turn), response, sure)).toBeCloseTo(delayS, 6);
  expect(recordedDelay(freqHz, phase(0, 0), response, sure)).toBe(0);
});

/** The sweep as a clock that runs so much faster than the player's samples it; and the same board by that clock. */
const playedBy = (share: number, seconds: number): Float64Array =>
  padded(must(sweepSamples({ ...asked, seconds, rateHz: RATE * (1 + share) })), 0.1, 0.3);
const byClock = (share: number, seconds: number): { samples: Float64Array; rateHz: number } => ({
  samples: sallenKey(playedBy(share, seconds), RATE * (1 + share), 2000, 0.9),
  rateHz: RATE,
});

test.each([30e-6, -120e-6])('a recorder whose clock is off by %d is brought to the player’s', (share) => {
  const seconds = 3;
  const long = { samples: must(sweepSamples({ ...asked, seconds })), rateHz: RATE };
  const right = must(analyse(byClock(0, seconds), long));
  expect(right.clock).toBe(0);
  expect(right.notes).not.toContain('clock');
  /** Degrees from the right phase, 100 Hz to 8 kHz, beyond one delay in common. */
  const apart = (of: typeof right): number => {
    const rows = [...right.freqHz.keys()]
      .filter((i) => right.freqHz[i] > 100 && right.freqHz[i] < 8000)
      .map((i) => [right.freqHz[i], of.phaseDeg[i] - right.phaseDeg[i]] as const);
    const [first, last] = [rows[0], rows[rows.length - 1]];
    const slope = (last[1] - first[1]) / (last[0] - first[0]);
    return Math.max(...rows.map(([f, deg]) => Math.abs(deg - first[1] - slope * (f - first[0]))));
  };
  // With the card by itself beside it the clock is all there is; without, the circuit's own phase stands in its way.
  const reference = { samples: playedBy(share, seconds), rateHz: RATE };
  const beside = must(analyse(byClock(share, seconds), long, { reference }));
  expect(beside.clock * 1e6).toBeCloseTo(share * 1e6, 0);
  expect(beside.notes).toContain('clock');
  expect(apart(beside)).toBeLessThan(0.3);
  const alone = must(analyse(byClock(share, seconds), long));
  expect(Math.abs(alone.clock / share - 1)).toBeLessThan(0.2);
  expect(apart(alone)).toBeLessThan(6);
});

test('one sample that was lost while the sweep played is said, with its time; an all-pass is not taken for it', () => {
  const atS = 0.1 + asked.seconds * 0.7;
  const at = Math.round(atS * RATE);
  const lost = Float64Array.from([...board.samples.subarray(0, at), ...board.samples.subarray(at + 1), 0]);
  const found = analyse({ samples: lost, rateHz: RATE }, sweep, { reference: played });
  expect(found).toMatchObject({ ok: false, code: 'recording-broken', data: { what: 'recording' } });
  if (!found.ok) expect(Number(found.data.atS)).toBeCloseTo(asked.seconds * 0.7, 1);
  for (const turnHz of [300, 1000, 3000, 8000]) {
    // A first-order all-pass, by the bilinear transform.
    const tan = Math.tan((Math.PI * turnHz) / RATE);
    const c = (tan - 1) / (tan + 1);
    let [x1, y1] = [0, 0];
    const turned = played.samples.map((x) => {
      const y = c * x + x1 - c * y1;
      [x1, y1] = [x, y];
      return y;
    });
    expect(analyse({ samples: turned, rateHz: RATE }, sweep)).toMatchObject({ ok: true, value: { clock: 0 } });
  }
});
