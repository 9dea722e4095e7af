import { act, fireEvent, screen, within } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import { JobRunner, type JobRequest } from '@/core/jobs/run-job';
import { must } from '@/core/result';
import { undo } from '@/store/document';
import { foldStore } from '@/store/folds';
import { METER, RANK, resetMeasuring } from '@/store/measuring';
import { designNow, showPane, typed } from '@/testing/pane';
import { Measure } from './measure';

const mockRunner = new JobRunner();
jest.mock('@/workers/job-client', () => ({
  startJob: (request: JobRequest) => ({
    answer: new Promise((resolve) => setTimeout(resolve, 1)).then(() => mockRunner.run(request as never)),
    cancel: () => {},
  }),
}));

const [rumble] = demoDesigns();
const bare = { ...rumble, measurements: [], log: [] };

const panel = () => screen.getByTestId('first-power');
const row = (name: RegExp) => within(panel()).getByRole('row', { name });
const press = async (name: string) => {
  await act(async () => void fireEvent.click(screen.getByRole('button', { name })));
};

beforeEach(async () => {
  resetMeasuring();
  METER.forget();
  RANK.forget();
  foldStore.setState({ open: { 'First power': true } });
  showPane(bare, <Measure />);
  await screen.findByTestId('first-power', {}, { timeout: 5000 });
});

test('what a meter should show is listed; what it shows is judged, kept with the board, and taken back', () => {
  expect(row(/, U1 out/)).toHaveTextContent(/U1 out0\sV ± [\d.]+\smV/);
  act(() => typed(screen.getByRole('textbox', { name: 'Volts at U1 out' }), '3 mV'));
  expect(row(/, U1 out/)).toHaveTextContent(/fits$/);
  expect(screen.queryByText(/Not as expected/)).not.toBeInTheDocument();
  act(() => typed(screen.getByRole('textbox', { name: 'Volts at U1 out' }), '-9.8 V'));
  expect(row(/, U1 out/)).toHaveTextContent(/too low$/);
  expect(screen.getByText(/Not as expected: [^.]*U1 out\. Power off/)).toBeInTheDocument();
  expect(designNow().readings).toMatchObject([{ value: -9.8, board: 'Board 1', variant: bare.currentVariant }]);
  act(() => typed(screen.getByRole('textbox', { name: 'Volts at U1 out' }), ''));
  expect(designNow().readings).toBeUndefined();
  act(undo);
  expect(designNow().readings).toHaveLength(1);
});

test('a current of more than twice what is expected is too high, and of less than half too low', () => {
  const field = () => screen.getByRole('textbox', { name: 'Supply current' });
  const expected = Number(/(\d+(\.\d+)?)\smA/.exec(row(/^supply current/).textContent ?? '')?.[1]);
  for (const [times, verdict] of [
    [1.9, 'fits'],
    [2.2, 'too high'],
    [0.55, 'fits'],
    [0.4, 'too low'],
  ] as const) {
    act(() => typed(field(), `${times * expected} mA`));
    expect(row(/^supply current/)).toHaveTextContent(new RegExp(`${verdict}$`));
    // What is off is counted, whatever it is.
    const off = verdict === 'fits' ? null : /Not as expected: supply current\./;
    if (off) expect(screen.getByText(off)).toBeInTheDocument();
    else expect(screen.queryByText(/Not as expected/)).not.toBeInTheDocument();
  }
});

test.each([
  [0.98, 'fits'],
  [1.02, 'too high'],
  [-0.98, 'fits'],
  [-1.02, 'too low'],
])('a reading %d times as far off as is allowed: %s', async (times, verdict) => {
  const { expected } = must(
    await mockRunner.run<'first-power'>({ kind: 'first-power', design: bare, variantId: bare.currentVariant }),
  );
  const output = expected.find((e) => e.name === 'U1 out');
  act(() =>
    typed(screen.getByRole('textbox', { name: 'Volts at U1 out' }), `${times * (output?.withinVolts ?? NaN)} V`),
  );
  expect(row(/, U1 out/)).toHaveTextContent(new RegExp(`${verdict}$`));
});

test('a wrong reading alone names the op-amp that is dead, and the verdict is in the log', async () => {
  act(() => typed(screen.getByRole('textbox', { name: 'Volts at U1 out' }), '-9.8 V'));
  await press('Find what is wrong');
  expect(await screen.findByText(/Not as good as its parts/, {}, { timeout: 10_000 })).toBeInTheDocument();
  expect(screen.getByText('Board 1, one reading')).toBeInTheDocument();
  const chances = screen.getByRole('list', { name: 'Explanations, likeliest first' });
  expect(chances).toHaveTextContent(/U1 does nothing/);
  expect(designNow().log[0].text).toMatch(/^Board 1: /);
});

test('the simulated board is read at once, as it was drawn, and is as good as its parts', async () => {
  await press('Read the simulated board');
  await screen.findAllByText('fits', {}, { timeout: 5000 });
  const { readings = [] } = designNow();
  expect(readings.length).toBe(within(panel()).getAllByRole('row').length - 1);
  await press('Find what is wrong');
  expect(await screen.findByText(/As good as its parts/, {}, { timeout: 10_000 })).toBeInTheDocument();
});
