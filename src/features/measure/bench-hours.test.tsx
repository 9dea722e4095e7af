import { act, fireEvent, screen, within } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import { JobRunner, type JobRequest } from '@/core/jobs/run-job';
import type { Analysed } from '@/core/measure/analyse';
import { success, type Result } from '@/core/result';
import { deskOf } from '@/core/testing/desk-of';
import { undo } from '@/store/document';
import { RANK, resetMeasuring, SWEEP_BOARD } from '@/store/measuring';
import { resetTrim, setTrim, trimStore } from '@/store/trimming';
import { viewStore } from '@/store/view';
import { designNow, showPane, typed } from '@/testing/pane';
import { Measure } from './measure';

const mockRunner = new JobRunner();
/** In place of a sweep, where many are wanted quickly. */
let mockSweep: ((request: JobRequest) => Result<Analysed>) | null = null;
jest.mock('@/workers/job-client', () => ({
  // As a worker answers: not before the page has had its turn.
  startJob: (request: JobRequest) => ({
    answer: new Promise((resolve) => setTimeout(resolve, mockSweep ? 80 : 1)).then(() =>
      mockSweep && request.kind === 'sweep-board' ? mockSweep(request) : mockRunner.run(request as never),
    ),
    cancel: () => {},
  }),
}));

const [rumble] = demoDesigns();
const bare = { ...rumble, measurements: [], log: [] };
const button = (name: string) => screen.getByRole('button', { name });
const field = (name: string) => screen.getByRole('textbox', { name });
const press = async (name: string) => {
  await act(async () => void fireEvent.click(button(name)));
};
/** Sweeps, and waits until the answer is in the design. */
async function sweep(count: number): Promise<void> {
  await press('Sweep');
  await act(async () => {
    for (let i = 0; i < 300 && designNow().measurements.length < count; i++)
      await new Promise((resolve) => setTimeout(resolve, 20));
  });
  expect(designNow().measurements).toHaveLength(count);
}

async function shown(): Promise<void> {
  showPane(bare, <Measure />);
  await screen.findByRole('button', { name: 'Sweep' }, { timeout: 5000 });
  act(() => typed(field('takes'), '0.3 s'));
}

beforeEach(() => {
  mockSweep = null;
  resetMeasuring();
  resetTrim();
  SWEEP_BOARD.forget();
  RANK.forget();
});

test('a sweep proposes its range, and gives a measurement with its noise and a line in the log', async () => {
  await shown();
  // A high-pass at 45 Hz: from a decade under it, or as low as the card goes, to the top of hearing and over.
  expect(field('from')).toHaveValue('5\u202fHz');
  expect((field('to') as HTMLInputElement).value).toMatch(/^2\d\skHz$/);
  await sweep(1);
  const { measurements, log } = designNow();
  expect(measurements[0]).toMatchObject({ name: 'Board 1', place: 'out', board: 'Board 1', aligned: false });
  expect(measurements[0].noiseDb).toHaveLength(measurements[0].freqHz.length);
  expect(log[0].text).toMatch(/^Board 1 measured at output: Workshop’s sound card, simulated, 5\sHz to/);
  act(undo);
  expect(designNow()).toMatchObject({ measurements: [], log: [] });
}, 30_000);

test('tone by tone there is a point for every tone, and the log says how many', async () => {
  await shown();
  fireEvent.click(screen.getByRole('checkbox', { name: /tone by tone/ }));
  act(() => typed(field('tones'), '12'));
  act(() => typed(field('from'), '100'));
  await sweep(1);
  const { measurements, log } = designNow();
  expect(measurements[0].freqHz).toHaveLength(12);
  expect(measurements[0].freqHz[0]).toBeCloseTo(100, 0);
  expect(log[0].text).toMatch(/100\sHz to 2\d(\.\d)?\skHz by 12 tones/);
}, 30_000);

test('noise and harmonics of a sweep are kept and said', async () => {
  await shown();
  await sweep(1);
  const [{ harmonicsDb = [], freqHz }] = designNow().measurements;
  expect(harmonicsDb).toHaveLength(4);
  // Of the highest tones there is no harmonic under half the rate.
  expect(harmonicsDb[0][freqHz.length - 1]).toBeNull();
  expect(harmonicsDb[0][freqHz.findIndex((f) => f > 1000)]).not.toBeNull();
  const fold = screen.getByRole('button', { name: 'Noise and harmonics' });
  // An op-amp that is run well below its rails is as linear as the simulated card.
  expect(fold.parentElement).toHaveTextContent(/no harmonic stands out of the noise/);
  fireEvent.click(fold);
  expect(screen.getByTestId('harmonics')).toBeInTheDocument();
}, 30_000);

test('a sound board is called as good as its parts; one with a fault has it named and written down', async () => {
  await shown();
  await sweep(1);
  await press('Find what is wrong');
  expect(await screen.findByText(/As good as its parts/, {}, { timeout: 10_000 })).toBeInTheDocument();
  expect(designNow().log[0].text).toBe('Board 1: as good as its parts.');
  act(() => typed(field('board'), '7'));
  fireEvent.click(screen.getByRole('checkbox', { name: /hide a fault/ }));
  await sweep(2);
  await press('Find what is wrong');
  expect(await screen.findByText(/Not as good as its parts/, {}, { timeout: 10_000 })).toBeInTheDocument();
  const [first] = within(screen.getByRole('list', { name: /Explanations/ })).getAllByRole('listitem');
  expect(designNow().log[0].text).toMatch(/^Board 7: [RC]\d/);
  expect(first.textContent).toContain(designNow().log[0].text.slice('Board 7: '.length));
}, 60_000);

test('one press a board: swept, judged, its accused part in sight; then what was hidden', async () => {
  await shown();
  act(() => typed(field('board'), '7'));
  fireEvent.click(screen.getByRole('checkbox', { name: /hide a fault/ }));
  const scrolled = jest.fn();
  Element.prototype.scrollIntoView = scrolled;
  await press('Next board, swept and judged');
  const list = await screen.findByRole('list', { name: /Explanations/ }, { timeout: 15_000 });
  expect(designNow().measurements.map((m) => m.board)).toEqual(['Board 7']);
  expect(scrolled).toHaveBeenCalled();
  const accused = /^Board 7: ([RC]\d+)/.exec(designNow().log[0].text)![1];
  fireEvent.click(within(list).getAllByRole('button', { name: `show ${accused}` })[0]);
  expect(viewStore.getState()).toMatchObject({ curveView: 'sheet', selectedPart: expect.stringMatching(/^[RC]\d/) });
  await press('reveal what is hidden in Board 7');
  const told = await screen.findByText(/^In Board 7, seen from this place: /, {}, { timeout: 5000 });
  // Itself, or what its curve cannot be told from.
  const hidden = /: ([RC]\d+) /.exec(told.textContent)![1];
  expect(within(list).getAllByRole('listitem')[0]).toHaveTextContent(hidden);
  // Of another board nothing is told.
  act(() => typed(field('board'), '8'));
  expect(screen.getByTestId('hidden-fault')).toHaveTextContent('reveal what is hidden in Board 8');
}, 60_000);

test('two boards make a batch, each in its row; one that is measured again takes the place of its first', async () => {
  await shown();
  await sweep(1);
  expect(screen.queryByTestId('batch')).toBeNull();
  act(() => typed(field('board'), '2'));
  await sweep(2);
  await sweep(3);
  const rows = within(screen.getByTestId('batch')).getAllByRole('row');
  expect(rows.map((r) => r.firstChild?.textContent)).toEqual(['board', 'Board 1', 'Board 2']);
}, 60_000);

test('what cannot be swept says why, and nothing is kept', async () => {
  await shown();
  act(() => typed(field('from'), '19 kHz'));
  await press('Sweep');
  expect(await screen.findByText(/A sweep goes up by an octave/, {}, { timeout: 5000 })).toBeInTheDocument();
  expect(designNow().measurements).toEqual([]);
  fireEvent.click(button('as proposed'));
  expect(field('from')).toHaveValue('5\u202fHz');
}, 30_000);

test('with the computer’s card the cautions come first, and the card by itself is asked for', async () => {
  await shown();
  fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Instrument' }));
  fireEvent.click(await screen.findByText('This computer’s sound card'));
  expect(screen.getByText(/A sweep harms tweeters and ears/)).toBeInTheDocument();
  expect(screen.getByRole('img', { name: 'Divider before the card’s input' })).toBeInTheDocument();
  expect(screen.getByTestId('reference')).toHaveTextContent(/Sweep the card by itself first/);
  // Here there is no card at all.
  await press('Sweep');
  expect(await screen.findByText(/No sound input was found/)).toBeInTheDocument();
}, 30_000);

test('a part is turned while it sweeps: how far off it lies, whether it was better, and nothing is kept', async () => {
  // A board that is as predicted but for what is turned: a tilt, so many dB a decade for each tenth.
  const { freqHz, asBuilt } = deskOf(rumble);
  mockSweep = (request) => {
    const share = 'turned' in request ? (request.turned?.share ?? 1) : 1;
    const tilt = (f: number) => (0.1 + 20 * Math.abs(share - 1)) * Math.log10(f / 1000);
    const none = new Float64Array(freqHz.length);
    return success({
      freqHz,
      levelDb: asBuilt.levelDb.map((db, i) => db + tilt(freqHz[i])),
      phaseDeg: none,
      noiseDb: none,
      harmonicsDb: [],
      delayS: 0,
      delayRemoved: false,
      gateS: 0.1,
      sweeps: 1,
      clock: 0,
      notes: [],
    });
  };
  await shown();
  fireEvent.click(button('Trim while it sweeps'));
  fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Part that is turned' }));
  fireEvent.click(await screen.findByText('R1', { selector: '.ant-select-item-option-content' }));
  expect(trimStore.getState().part).toBe('R1');
  await press('Repeat the sweep');
  const more = async (than: number) => {
    await act(async () => {
      for (let i = 0; i < 300 && trimStore.getState().steps.length < than; i++)
        await new Promise((resolve) => setTimeout(resolve, 20));
    });
    return trimStore.getState().steps;
  };
  const as = await more(1);
  expect(await screen.findByText('The best so far: go on.')).toBeInTheDocument();
  act(() => setTrim({ share: 2 }));
  // Sweeps went on while it was looked for: the next but one begins after the turn.
  const count = trimStore.getState().steps.length;
  const off = await more(count + 2);
  expect(off.at(-1)?.rmsDb).toBeGreaterThan(3 * as[0].rmsDb);
  expect(await screen.findByText('It was better: turn back.')).toBeInTheDocument();
  await press('Stop repeating');
  expect(trimStore.getState().repeating).toBe(false);
  expect(designNow()).toMatchObject({ measurements: [], log: [] });
}, 60_000);
