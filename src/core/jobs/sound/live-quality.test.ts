import { demoDesigns } from '../../design/demo/demo';
import { must } from '../../result';
import { QUALITIES, SteadySound } from './live-quality';
import { LIVE_BLOCK, LiveSound, type LiveRequest } from './live-sound';
import { RATE_HZ } from './rate';

const voice = demoDesigns().find((d) => d.title.startsWith('Reed voice'))!;
const request: LiveRequest = { design: voice, variantId: voice.variants[1].id, source: 'saw', hz: 187.5, volts: 1 };
const clock = (timesRealTime: number) => {
  let looks = 0;
  return () => (looks++ * ((80 * LIVE_BLOCK) / RATE_HZ) * 1000) / timesRealTime;
};
const begin = (timesRealTime = 10) => new SteadySound(must(LiveSound.start(request, clock(timesRealTime))));

/** Plays on with so many samples lying ready each time it asks, and takes what is fed. */
function play(steady: SteadySound, times: number, from: number, ready: (ahead: number) => number) {
  const heard: number[] = [];
  let [played, sent] = [from, from + ready(steady.quality.ahead)];
  for (let k = 0; k < times; k++) {
    for (const block of steady.feed(played)) {
      heard.push(...block);
      sent += block.length;
    }
    played = sent - Math.round(ready(steady.quality.ahead));
  }
  return { heard, played };
}

test('pressed it steps down before it runs dry, further ahead, then in rate; once or twice is no reason', () => {
  const steady = begin();
  expect(steady.quality).toEqual(QUALITIES[0]);
  let sent = [...steady.feed(0)].length * LIVE_BLOCK;
  const pressed = () => (sent += [...steady.feed(sent - 0.3 * steady.quality.ahead)].length * LIVE_BLOCK);
  pressed();
  pressed();
  expect(steady.stepsDown).toBe(0);
  // With plenty between, it is as if nothing had been.
  sent += [...steady.feed(sent - 0.9 * steady.quality.ahead)].length * LIVE_BLOCK;
  pressed();
  pressed();
  expect(steady.stepsDown).toBe(0);
  pressed();
  expect(steady.quality).toEqual(QUALITIES[1]);
  for (let k = 0; k < 3; k++) pressed();
  expect(steady.quality).toEqual(QUALITIES[2]);
  for (let k = 0; k < 9; k++) pressed();
  expect(steady.stepsDown).toBe(3);
});

test.each([
  [8.1, 0],
  [7.9, 1],
  [3.1, 1],
  [2.9, 2],
])('made %f times as fast as it is played, it begins %i under the best', (timesRealTime, down) => {
  expect(begin(timesRealTime).stepsDown).toBe(down);
});

test('with plenty for a while it steps up again, and what did not last is not tried again so soon', () => {
  const steady = begin();
  let sent = 0;
  const ask = (share: number) => {
    const played = sent - share * steady.quality.ahead;
    sent += [...steady.feed(played)].length * LIVE_BLOCK;
    return played;
  };
  ask(1);
  const stepDown = () => {
    for (let k = 0; k < 3; k++) ask(0.2);
  };
  /** Seconds played until it steps up. */
  const easyFor = () => {
    const level = steady.stepsDown;
    const from = sent;
    while (steady.stepsDown === level && sent - from < 300 * RATE_HZ) ask(0.85);
    return (sent - from) / RATE_HZ;
  };
  stepDown();
  expect(steady.stepsDown).toBe(1);
  const first = easyFor();
  expect(steady.stepsDown).toBe(0);
  stepDown();
  const second = easyFor();
  expect(second / first).toBeCloseTo(2, 0);
});

test('one quality fades into the other without a click, in time and as loud', () => {
  const steady = begin();
  const before = play(begin(), 40, 0, (ahead) => 0.9 * ahead).heard.slice(-4000);
  const steepest = (x: number[]) => x.reduce((m, v, i) => (i === 0 ? 0 : Math.max(m, Math.abs(v - x[i - 1]))), 0);
  const rms = (x: number[]) => Math.hypot(...x) / Math.sqrt(x.length);
  let sent = 0;
  const heard: number[] = [];
  for (const block of steady.feed(0)) heard.push(...block);
  sent = heard.length;
  for (let k = 0; k < 4; k++)
    for (const block of steady.feed(sent - 0.3 * steady.quality.ahead)) {
      heard.push(...block);
      sent += block.length;
    }
  expect(steady.stepsDown).toBe(1);
  expect(steepest(heard)).toBeLessThan(1.1 * steepest(before));
  expect(rms(heard.slice(-8000)) / rms(before)).toBeCloseTo(1, 1);
});

test.each([
  [0.41, 0],
  [0.39, 1],
])('with %d of what should lie ready, time and again, it is %d steps down', (share, steps) => {
  const steady = begin();
  let sent = [...steady.feed(0)].length * LIVE_BLOCK;
  for (let k = 0; k < 3; k++) sent += [...steady.feed(sent - share * steady.quality.ahead)].length * LIVE_BLOCK;
  expect(steady.stepsDown).toBe(steps);
});

test('while something is turned 85 ms lie ready before it is told of it, and less when it has rested', () => {
  const steady = begin();
  let sent = [...steady.feed(0)].length * LIVE_BLOCK;
  expect(sent).toBe(QUALITIES[0].ahead);
  sent += [...steady.turned()].length * LIVE_BLOCK;
  const readyAt = new Map<number, number>();
  for (let played = 512; played <= 2 * RATE_HZ; played += 512) {
    sent += [...steady.feed(played)].length * LIVE_BLOCK;
    readyAt.set(played, sent - played);
  }
  for (const [played, ready] of readyAt) {
    if (played < 0.9 * RATE_HZ) expect(ready / RATE_HZ).toBeGreaterThan(0.08);
    if (played > 1.2 * RATE_HZ) expect(ready).toBe(QUALITIES[0].ahead);
  }
});
