import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import type { JobRequest } from '@/core/jobs/run-job';
import type { Analysed } from '@/core/measure/analyse';
import { sweepSamples, type Sweep } from '@/core/measure/sweep';
import { failure, success, type Result } from '@/core/result';
import { documentStore, edit, openDesign, undo } from './document';
import {
  ANALYSE,
  CAPTURE,
  judgeNextBoard,
  measurementsOf,
  measuringStore,
  METER,
  nextBoard,
  RANK,
  rankBoard,
  readBoard,
  readCapture,
  readingsOf,
  readRecording,
  resetMeasuring,
  setMeasuring,
  SUPPLY,
  SWEEP_BOARD,
  sweepComputer,
  sweepWorkshop,
} from './measuring';
import { repeatSweeps, resetTrim, setTrim, stopTrim, trimStore } from './trimming';
import { setReading } from './edits/record-edits';

type Request = JobRequest & Record<string, unknown>;
const mockRequests: Request[] = [];
const mockAnswers = new Map<string, (request: Request) => Result<unknown>>();
jest.mock('@/workers/job-client', () => ({
  startJob: (request: Request) => {
    mockRequests.push(request);
    const answer = mockAnswers.get(request.kind);
    return {
      answer: Promise.resolve(answer ? answer(request) : { ok: false, code: 'none', data: {} }),
      cancel: () => {},
    };
  },
}));
const mockCard = jest.fn();
jest.mock('./sound-card', () => ({
  ...jest.requireActual('./sound-card'),
  recordSweep: (run: unknown) => mockCard(run),
}));

const SWEEP: Sweep = { fromHz: 20, toHz: 20e3, seconds: 1, rateHz: 48e3, levelDbfs: -12 };
const OUT = { id: 'out', name: 'output' };
const analysed = (change: Partial<Analysed> = {}): Analysed => ({
  freqHz: Float64Array.of(100, 1000.123456789),
  levelDb: Float64Array.of(-3.01029995, 0),
  phaseDeg: Float64Array.of(45, 0),
  noiseDb: Float64Array.of(-90.123456, -95),
  harmonicsDb: [Float64Array.of(-60.56789, NaN)],
  clock: 0,
  delayS: 0,
  delayRemoved: false,
  gateS: 0.1,
  sweeps: 1,
  notes: [],
  ...change,
});
const [rumble] = demoDesigns();
const wah = demoDesigns().find((d) => /wah/i.test(d.title)) as Design;
const now = () => documentStore.getState().design as Design;
const of = (kind: string) => mockRequests.filter((r) => r.kind === kind);
const card = (samples: number, second: Float64Array | null = null) =>
  success({ samples: new Float64Array(samples).fill(0.1), second });

let count = 0;
const open = (design: Design) =>
  openDesign({ ...design, id: `${design.id}-${count++}`, measurements: [], readings: undefined, log: [] });
beforeEach(() => {
  open(rumble);
  mockRequests.length = 0;
  mockAnswers.clear();
  mockCard.mockReset();
  resetMeasuring();
  resetTrim();
  for (const job of [ANALYSE, CAPTURE, METER, RANK, SWEEP_BOARD]) job.forget();
});

describe('what a sweep leaves', () => {
  test('a measurement, how the board stood, and one line in the log; one step takes both back', async () => {
    open(wah);
    mockAnswers.set('sweep-board', () => success(analysed()));
    setMeasuring({ board: 7 });
    await sweepWorkshop(SWEEP, { id: 'after 1', name: 'after stage 1' });
    const { measurements, log, variants } = now();
    const [control] = variants[0].controls;
    expect(measurements[0]).toMatchObject({
      name: 'Board 7, after stage 1',
      board: 'Board 7',
      place: 'after 1',
      aligned: false,
      levelDb: [-3.0103, 0],
      freqHz: [100, 1000.1235],
      noiseDb: [-90.12, -95],
      harmonicsDb: [[-60.57, null]],
      setting: { positions: { [control.id]: control.position } },
    });
    expect(log[0].text).toMatch(/^Board 7, after stage 1 measured at after stage 1: Workshop’s sound card/);
    expect(log[0].text).toMatch(/20\sHz to 20\skHz in 1\ss, −12\sdB re full scale/);
    undo();
    expect(now()).toMatchObject({ measurements: [], log: [] });
  });

  test('the board, its fault and the tones that were asked for are asked of the bench', async () => {
    mockAnswers.set('sweep-board', () => success(analysed()));
    setMeasuring({ board: 3, hidden: true, tones: 25 });
    await sweepWorkshop(SWEEP, OUT);
    expect(of('sweep-board')[0]).toMatchObject({ board: 3, hidden: true, tones: 25, place: 'out', turned: null });
    expect(now().log[0].text).toContain('by 25 tones');
  });

  test('one that failed leaves nothing', async () => {
    mockAnswers.set('sweep-board', () => failure('recording-clipped', {}));
    await sweepWorkshop(SWEEP, OUT);
    expect(now()).toMatchObject({ measurements: [], log: [] });
    expect(SWEEP_BOARD.current().failure).toMatchObject({ code: 'recording-clipped' });
  });
});

describe('the computer’s card', () => {
  test('a recording that breaks off is played again by itself, three times in all', async () => {
    mockCard.mockImplementation(() => Promise.resolve(card(10)));
    let tries = 0;
    mockAnswers.set('analyse-recording', () => (++tries < 3 ? failure('recording-broken', {}) : success(analysed())));
    await sweepComputer(SWEEP, OUT, false);
    expect(mockCard).toHaveBeenCalledTimes(3);
    expect(now().measurements).toHaveLength(1);
    mockAnswers.set('analyse-recording', () => failure('recording-broken', {}));
    await sweepComputer(SWEEP, OUT, false);
    expect(mockCard).toHaveBeenCalledTimes(6);
    expect(now().measurements).toHaveLength(1);
    expect(ANALYSE.current().failure).toMatchObject({ code: 'recording-broken' });
  });

  test('any other failure is not tried again', async () => {
    mockCard.mockImplementation(() => Promise.resolve(card(10)));
    mockAnswers.set('analyse-recording', () => failure('silent-recording', {}));
    await sweepComputer(SWEEP, OUT, false);
    expect(mockCard).toHaveBeenCalledTimes(1);
  });

  test('what the card says is kept for the page; a stop is nothing to be said', async () => {
    mockCard.mockImplementation(() => Promise.resolve(failure('card-gone', {})));
    await sweepComputer(SWEEP, OUT, false);
    expect(measuringStore.getState()).toMatchObject({ failed: { code: 'card-gone' }, recorded: null });
    mockCard.mockImplementation(() => Promise.resolve(failure('cancelled', {})));
    await sweepComputer(SWEEP, OUT, false);
    expect(measuringStore.getState()).toMatchObject({ failed: null, recorded: null });
  });

  test('a cable in which the sweep is found is divided out of the same sweep alone', async () => {
    mockAnswers.set('analyse-recording', () => success(analysed()));
    mockCard.mockImplementation(() => Promise.resolve(card(11)));
    await sweepComputer(SWEEP, OUT, true);
    expect(now().measurements).toHaveLength(0);
    mockCard.mockImplementation(() => Promise.resolve(card(12)));
    await sweepComputer(SWEEP, OUT, false);
    expect((of('analyse-recording')[1].reference as Float64Array).length).toBe(11);
    expect(now().measurements[0].aligned).toBe(false);
    await sweepComputer({ ...SWEEP, seconds: 2 }, OUT, false);
    expect(of('analyse-recording')[2].reference).toBeNull();
    expect(now().measurements[1].aligned).toBe(true);
    setMeasuring({ tones: 40 });
    await sweepComputer(SWEEP, OUT, false);
    expect(of('analyse-recording')[3]).toMatchObject({ reference: null, tones: 40 });
  });

  test('a cable in which nothing is found is not kept', async () => {
    mockAnswers.set('analyse-recording', () => failure('sweep-not-found', {}));
    mockCard.mockImplementation(() => Promise.resolve(card(11)));
    await sweepComputer(SWEEP, OUT, true);
    expect(measuringStore.getState().reference).toBeNull();
  });

  test('its own output on the second input is divided out before any cable', async () => {
    mockAnswers.set('analyse-recording', () => success(analysed()));
    mockCard.mockImplementation(() => Promise.resolve(card(11, new Float64Array(5))));
    setMeasuring({ loopback: true, inputId: 'line' });
    await sweepComputer(SWEEP, OUT, false);
    expect(mockCard.mock.lastCall?.[0]).toMatchObject({ loopback: true, inputId: 'line', rateHz: 48e3 });
    expect((of('analyse-recording')[0].reference as Float64Array).length).toBe(5);
    expect(now().measurements[0].aligned).toBe(false);
  });

  test('what is played is the sweep that was asked for', async () => {
    mockCard.mockImplementation(() => Promise.resolve(failure('cancelled', {})));
    await sweepComputer(SWEEP, OUT, false);
    const expected = sweepSamples(SWEEP);
    expect(mockCard.mock.lastCall?.[0].samples).toEqual(expected.ok && expected.value);
    await sweepComputer({ ...SWEEP, toHz: 30e3 }, OUT, false);
    expect(measuringStore.getState().failed).toMatchObject({ code: 'bad-sweep', data: { what: 'top' } });
  });
});

describe('what was recorded elsewhere', () => {
  test('a file is said to be one, and has a level of its own', async () => {
    mockAnswers.set('analyse-recording', () => success(analysed()));
    const made = { place: OUT, board: 'Board 2', instrument: 'file' } as const;
    await readRecording({ samples: new Float64Array(9), second: null, rateHz: 44.1e3 }, SWEEP, made);
    expect(of('analyse-recording')[0]).toMatchObject({ rateHz: 44.1e3 });
    expect(now().measurements[0]).toMatchObject({ aligned: true, instrument: 'a recording from a file' });
  });

  test('of a capture’s two channels the first is the source; one has no level', async () => {
    mockAnswers.set('analyse-capture', () => success(analysed({ harmonicsDb: [] })));
    const [a, b] = [new Float64Array(3), new Float64Array(4)];
    await readCapture({ rateHz: 1e5, channels: [a, b] }, SWEEP, { place: OUT, board: 'Board 1' });
    expect(of('analyse-capture')[0]).toMatchObject({ samples: b, source: a, rateHz: 1e5 });
    await readCapture({ rateHz: 1e5, channels: [a] }, SWEEP, { place: OUT, board: 'Board 1' });
    expect(of('analyse-capture')[1]).toMatchObject({ samples: a, source: null });
    expect(now().measurements.map((m) => [m.aligned, m.instrument])).toEqual([
      [false, 'a scope’s capture'],
      [true, 'a scope’s capture'],
    ]);
  });
});

describe('what is wrong', () => {
  const verdict = (healthy: number) => () =>
    success({ healthy, ranked: [{ sentence: 'R1 does not conduct.' }], values: [], next: null });

  test('all that was measured and read of a board is asked about: volts from ground, no currents', async () => {
    open(wah);
    mockAnswers.set('sweep-board', () => success(analysed()));
    mockAnswers.set('rank-faults', verdict(0.2));
    await sweepWorkshop(SWEEP, OUT);
    setMeasuring({ board: 2 });
    await sweepWorkshop(SWEEP, OUT);
    const { currentVariant } = now();
    const setting = now().measurements[0].setting ?? { positions: {}, outputs: {}, modes: {} };
    const reading = { at: '2030-01-01T00:00:00.000Z', board: 'Board 1', variant: currentVariant, setting };
    edit(setReading({ ...reading, place: 'a.b', value: 5 }));
    edit(setReading({ ...reading, place: SUPPLY, value: 0.002 }));
    edit(setReading({ ...reading, board: 'Board 2', place: 'a.b', value: 6 }));
    await rankBoard('Board 1');
    const [asked] = of('rank-faults') as unknown as { measured: object[]; readings: object[] }[];
    expect(asked.measured).toHaveLength(1);
    expect(asked.measured[0]).toMatchObject({ probe: 'out', uncalibrated: false, setting });
    // A battery of 9 V: signal ground lies half way.
    expect(asked.readings).toEqual([{ node: 'a.b', volts: 0.5, setting }]);
    expect(now().log[0].text).toBe('Board 1: R1 does not conduct.');
  });

  test.each([
    [0.5, 'Board 1: as good as its parts.'],
    [0.49, 'Board 1: R1 does not conduct.'],
  ])('from an even chance on a board is sound: %d', async (healthy, text) => {
    mockAnswers.set('sweep-board', () => success(analysed()));
    mockAnswers.set('rank-faults', verdict(healthy));
    await sweepWorkshop(SWEEP, OUT);
    await rankBoard('Board 1');
    expect(now().log[0].text).toBe(text);
  });

  test('board after board is swept and judged, each by one call; numbers go on from the highest', async () => {
    mockAnswers.set('sweep-board', () => success(analysed()));
    mockAnswers.set('rank-faults', verdict(0.9));
    setMeasuring({ board: 4 });
    await judgeNextBoard(SWEEP, OUT);
    await judgeNextBoard(SWEEP, OUT);
    expect(now().measurements.map((m) => m.board)).toEqual(['Board 4', 'Board 5']);
    expect(of('rank-faults')).toHaveLength(2);
    expect(now().log[0].text).toBe('Board 5: as good as its parts.');
    setMeasuring({ board: 1 });
    await judgeNextBoard(SWEEP, OUT);
    expect(measuringStore.getState().board).toBe(6);
  });

  test('a board whose sweep failed is not judged, and is the next one again', async () => {
    mockAnswers.set('sweep-board', () => failure('recording-clipped', {}));
    await judgeNextBoard(SWEEP, OUT);
    expect(of('rank-faults')).toEqual([]);
    expect(nextBoard(now(), measuringStore.getState().board)).toBe(1);
  });

  test('a search that failed says nothing in the log', async () => {
    mockAnswers.set('rank-faults', () => failure('cancelled', {}));
    await rankBoard('Board 1');
    expect(now().log).toEqual([]);
  });
});

test('the simulated board’s volts are kept in one step, each in place of what was read there before', async () => {
  mockAnswers.set('meter-board', () => success({ volts: { 'a.b': 1.23456, out: 0 }, supplyAmps: 0.00123456 }));
  await readBoard(4, true);
  await readBoard(4, true);
  expect(of('meter-board')[0]).toMatchObject({ board: 4, hidden: true });
  const read = readingsOf(now().readings, now().currentVariant, 'Board 4');
  expect(Object.fromEntries(read.map((r) => [r.place, r.value]))).toEqual({ 'a.b': 1.235, out: 0, [SUPPLY]: 0.001235 });
  undo();
  undo();
  expect(now().readings).toBeUndefined();
  mockAnswers.set('meter-board', () => success({ volts: { out: 0 }, supplyAmps: null }));
  await readBoard(5, false);
  expect(readingsOf(now().readings, now().currentVariant, 'Board 5').map((r) => r.place)).toEqual(['out']);
});

test('measurements of a board are those of the variant on the desk, and those that name none', () => {
  const measured = (variant?: string, board?: string) => ({ variant, board }) as never;
  const all = [measured('a', 'Board 1'), measured('b', 'Board 1'), measured(undefined, 'Board 1'), measured('a')];
  expect(measurementsOf(all, 'a', 'Board 1')).toEqual([all[0], all[2]]);
  expect(measurementsOf(all, 'a', 'the board')).toEqual([all[3]]);
});

describe('sweeps that repeat', () => {
  const step = (rmsDb: number) => ({ rmsDb, worst: null, deepest: { freqHz: 1, levelDb: 0 } });

  test('they are short, of the part that is turned, until they are stopped; nothing is kept', async () => {
    mockAnswers.set('sweep-board', () => success(analysed()));
    setTrim({ part: 'R1', share: 1.1 });
    let judged = 0;
    await repeatSweeps(SWEEP, OUT, () => {
      if (++judged === 3) stopTrim();
      return step(judged);
    });
    expect(of('sweep-board')[0]).toMatchObject({ turned: { part: 'R1', share: 1.1 }, sweep: { seconds: 0.5 } });
    expect(trimStore.getState().repeating).toBe(false);
    expect(trimStore.getState().steps.map((s) => [s.rmsDb, s.share])).toEqual([1, 2, 3].map((off) => [off, 1.1]));
    expect(now().measurements).toEqual([]);
  });

  test('one that fails ends them', async () => {
    mockAnswers.set('sweep-board', () => failure('no-such-variant', {}));
    await repeatSweeps(SWEEP, OUT, () => step(1));
    expect(trimStore.getState()).toMatchObject({ repeating: false, steps: [], failure: { code: 'no-such-variant' } });
  });

  test('on the computer’s card a loopback is divided out', async () => {
    mockAnswers.set('analyse-recording', () => success(analysed()));
    mockCard.mockImplementation(() => Promise.resolve(card(11, new Float64Array(5))));
    setMeasuring({ instrument: 'computer', loopback: true });
    await repeatSweeps(SWEEP, OUT, () => null);
    expect((of('analyse-recording')[0].reference as Float64Array).length).toBe(5);
  });
});
