import { SoundAsItComes, stopSound } from './audio';

/** An output whose clock is turned by hand, and what was begun on it. */
const clock = { nowS: 0 };
const begun: { startS: number; seconds: number; onended: (() => void) | null }[] = [];
let joined = 0;

class FakeContext {
  readonly destination = {};
  get currentTime() {
    return clock.nowS;
  }
  resume = () => Promise.resolve();
  createGain = () => ({ gain: { value: 0 }, connect: () => void joined++, disconnect: () => void joined-- });
  createBuffer = (_: number, length: number, rateHz: number) => ({ seconds: length / rateHz, copyToChannel: () => {} });
  createBufferSource = () => ({
    buffer: null as unknown as { seconds: number },
    onended: null as (() => void) | null,
    connect: () => {},
    start(startS: number) {
      begun.push({ startS, seconds: this.buffer.seconds, onended: this.onended });
    },
  });
}

const RATE = 1000;
const ofSeconds = (seconds: number) => new Float32Array(seconds * RATE);
beforeEach(() => {
  Object.assign(globalThis, { AudioContext: FakeContext });
  clock.nowS = 10;
  begun.length = 0;
  joined = 0;
});
afterEach(stopSound);

test('a sound that comes quickly enough is played without a seam', () => {
  const sound = new SoundAsItComes(0.5, () => {});
  sound.give(ofSeconds(1.5), RATE, false);
  clock.nowS = 10.5;
  sound.give(ofSeconds(2), RATE, false);
  sound.give(ofSeconds(2), RATE, false);
  expect(begun.map((b) => b.seconds)).toEqual([1.5, 0.5]);
  expect(begun[0].startS).toBeCloseTo(10.05, 9);
  expect(begun[1].startS).toBeCloseTo(begun[0].startS + 1.5, 9);
});

test('it begins with a second at hand, and waits for one again once it has run dry', () => {
  const sound = new SoundAsItComes(0.5, () => {});
  sound.give(ofSeconds(0.9), RATE, false);
  expect(begun).toHaveLength(0);
  sound.give(ofSeconds(1.1), RATE, false);
  expect(begun).toHaveLength(1);
  clock.nowS = 20;
  sound.give(ofSeconds(1.8), RATE, false);
  expect(begun).toHaveLength(1);
  // What is left at the end is played, however little.
  sound.give(ofSeconds(1.9), RATE, true);
  expect(begun[1].seconds).toBeCloseTo(0.8, 9);
  expect(begun[1].startS).toBeCloseTo(20.05, 9);
});

test('its end is said once it was all played, and not when it was stopped', () => {
  const ended = jest.fn();
  const sound = new SoundAsItComes(0.5, ended);
  sound.give(ofSeconds(2), RATE, true);
  begun[0].onended?.();
  expect(ended).toHaveBeenCalledTimes(1);
  const other = new SoundAsItComes(0.5, ended);
  other.give(ofSeconds(2), RATE, true);
  stopSound();
  begun[1].onended?.();
  other.give(ofSeconds(3), RATE, true);
  expect(ended).toHaveBeenCalledTimes(1);
  expect(begun).toHaveLength(2);
  expect(joined).toBe(0);
});

test('one at a time: another takes the place of what plays', () => {
  const first = new SoundAsItComes(0.5, () => {});
  first.give(ofSeconds(2), RATE, false);
  new SoundAsItComes(0.5, () => {});
  first.give(ofSeconds(4), RATE, false);
  expect(begun).toHaveLength(1);
});
