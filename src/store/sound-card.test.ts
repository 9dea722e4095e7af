/** @jest-environment jsdom */
import { failure, success } from '@/core/result';
import { inputsOf, recordSweep, unlessBroken } from './sound-card';

/** A card that answers each try as it is told: what the recorder on the audio thread says. */
interface Told {
  readonly says: readonly object[];
  readonly rateHz?: number;
  readonly ends?: boolean;
}
let told: Told[] = [];
let refused: DOMException | null = null;
const opened = { tries: 0, stopped: 0, closed: 0, asked: null as unknown };

class FakeTrack {
  onended: (() => void) | null = null;
  stop = () => void opened.stopped++;
}
class FakeAudio {
  readonly sampleRate: number;
  readonly destination = {};
  readonly audioWorklet = { addModule: () => Promise.resolve() };
  constructor(asked: { sampleRate: number }) {
    this.sampleRate = told[opened.tries]?.rateHz ?? asked.sampleRate;
  }
  resume = () => Promise.resolve();
  close = () => Promise.resolve(void opened.closed++);
  createMediaStreamSource = () => ({ connect: (node: object) => node });
}
let track = new FakeTrack();
class FakeNode {
  readonly port = { onmessage: null as ((e: { data: object }) => void) | null, postMessage: () => {} };
  constructor() {
    const { says = [], ends = false } = told[opened.tries++] ?? {};
    setTimeout(() => {
      for (const data of says) this.port.onmessage?.({ data });
      if (ends) track.onended?.();
    }, 0);
  }
  connect = () => this;
}

beforeEach(() => {
  Object.assign(opened, { tries: 0, stopped: 0, closed: 0, asked: null });
  refused = null;
  track = new FakeTrack();
  Object.assign(globalThis, { AudioContext: FakeAudio, AudioWorkletNode: FakeNode });
  Object.assign(navigator, {
    mediaDevices: {
      getUserMedia: (asked: unknown) => {
        opened.asked = asked;
        return refused ? Promise.reject(refused) : Promise.resolve({ getTracks: () => [track] });
      },
      enumerateDevices: () =>
        Promise.resolve([
          { kind: 'audioinput', deviceId: 'a', label: 'Line in' },
          { kind: 'audioinput', deviceId: 'b', label: '' },
          { kind: 'audioinput', deviceId: '', label: '' },
          { kind: 'audiooutput', deviceId: 'c', label: 'Speakers' },
        ]),
    },
  });
});

const run = (change: object = {}) => {
  const shares: number[] = [];
  const answer = recordSweep({
    samples: Float64Array.of(0, 0.5),
    rateHz: 48e3,
    progress: (share) => void shares.push(share),
    signal: new AbortController().signal,
    ...change,
  });
  return { answer, shares };
};
const heard = { recorded: Float32Array.of(0.25, 0.5), lost: 0 };
const lost = { recorded: Float32Array.of(0, 0), lost: 128 };

test('what is recorded comes back, progress on the way, and all is closed after', async () => {
  told = [{ says: [{ share: 0.5 }, heard] }];
  const { answer, shares } = run();
  expect(await answer).toEqual({ ok: true, value: { samples: Float64Array.of(0.25, 0.5), second: null } });
  expect(shares).toEqual([0.5]);
  expect(opened).toMatchObject({ tries: 1, stopped: 1, closed: 1 });
});

test('what the audio thread says after the recording is no progress', async () => {
  told = [{ says: [{ share: 0.5 }, heard, { share: NaN }] }];
  const { answer, shares } = run();
  await answer;
  expect(shares).toEqual([0.5]);
});

test('its own output comes in on the second input, where that is asked for; a card of one is refused', async () => {
  const both = { ...heard, second: Float32Array.of(0, 1) };
  told = [{ says: [both] }, { says: [heard] }, { says: [both] }];
  expect(await run({ loopback: true }).answer).toEqual({
    ok: true,
    value: { samples: Float64Array.of(0.25, 0.5), second: Float64Array.of(0, 1) },
  });
  expect(opened.asked).toMatchObject({ audio: { channelCount: { ideal: 2 } } });
  expect(await run({ loopback: true }).answer).toMatchObject({ ok: false, code: 'card-mono' });
  expect(await run().answer).toMatchObject({ ok: true, value: { second: null } });
});

test('all that a browser does to a voice is switched off, and the input is the one that was chosen', async () => {
  told = [{ says: [heard] }];
  await run({ inputId: 'b' }).answer;
  expect(opened.asked).toEqual({
    audio: {
      echoCancellation: false,
      noiseSuppression: false,
      autoGainControl: false,
      deviceId: { exact: 'b' },
    },
  });
});

test('a sweep that lost samples is played again, four times in all', async () => {
  told = [{ says: [lost] }, { says: [lost] }, { says: [heard] }];
  expect(await run().answer).toMatchObject({ ok: true });
  expect(opened.tries).toBe(3);
  opened.tries = 0;
  told = Array.from({ length: 9 }, () => ({ says: [lost] }));
  expect(await run().answer).toEqual({ ok: false, code: 'card-dropped', data: { samples: 128 } });
  expect(opened.tries).toBe(4);
});

test.each([
  ['NotAllowedError', 'card-refused'],
  ['NotFoundError', 'card-missing'],
])('%s is said as %s', async (name, code) => {
  refused = new DOMException('', name);
  expect(await run().answer).toMatchObject({ ok: false, code });
});

test('another rate than the sweep’s, a card that goes away, a stop: each has its word, and all is closed', async () => {
  told = [{ says: [], rateHz: 44.1e3 }];
  expect(await run().answer).toEqual({ ok: false, code: 'card-rate', data: { rateHz: 44.1e3, wantedHz: 48e3 } });
  told = [{ says: [], ends: true }];
  opened.tries = 0;
  expect(await run().answer).toMatchObject({ ok: false, code: 'card-gone' });
  told = [{ says: [] }];
  opened.tries = 0;
  const stop = new AbortController();
  const { answer } = run({ signal: stop.signal });
  setTimeout(() => stop.abort(), 5);
  expect(await answer).toMatchObject({ ok: false, code: 'cancelled' });
  expect(opened).toMatchObject({ stopped: 3, closed: 3 });
});

test('inputs by name; those that have none are said to have none, and those without an id are left out', async () => {
  expect(await inputsOf()).toEqual([
    { id: 'a', name: 'Line in' },
    { id: 'b', name: 'an input without a name' },
  ]);
});

describe('a recording that came in broken is made again', () => {
  const broken = failure('recording-broken', {});
  test.each([
    ['once, the next is taken', [broken, success(2)], success(2), 2],
    ['always, after three it is told', [broken, broken, broken, success(4)], broken, 3],
    ['never, one is enough', [success(1), success(2)], success(1), 1],
    ['not at all: another fault is told at once', [failure('card-gone', {}), success(2)], failure('card-gone', {}), 1],
    ['stopped', [null, success(2)], null, 1],
    ['stopped the second time', [broken, null, success(3)], null, 2],
  ])('%s', async (_, answers, wanted, tries) => {
    let asked = 0;
    expect(await unlessBroken(async () => answers[asked++])).toEqual(wanted);
    expect(asked).toBe(tries);
  });
});

test('the recorder goes on for three quarters of a second, and gives one channel out', async () => {
  const made: unknown[] = [];
  class Watched extends FakeNode {
    constructor(_: unknown, name: string, options: unknown) {
      super();
      made.push(name, options);
    }
  }
  Object.assign(globalThis, { AudioWorkletNode: Watched });
  told = [{ says: [heard] }];
  await run().answer;
  expect(made).toEqual([
    'sweep-recorder',
    {
      numberOfInputs: 1,
      outputChannelCount: [1],
      processorOptions: { samples: Float32Array.of(0, 0.5), after: 36_000 },
    },
  ]);
});
