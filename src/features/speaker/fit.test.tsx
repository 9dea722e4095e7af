import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import type { JobRequest } from '@/core/jobs/run-job';
import type { SpeakerFigures } from '@/core/jobs/loudspeaker/compare-speakers';
import type { NotchOutlook } from '@/core/jobs/loudspeaker/notch-outlook';
import type { Optimised } from '@/core/jobs/loudspeaker/optimise';
import { failure, success, type Result } from '@/core/result';
import { documentStore, edit, openDesign, undo } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { foldStore } from '@/store/folds';
import { FIT, HUMP } from '@/store/questions/by-hand';
import { BESIDE } from '@/store/questions/live';
import { turnOver } from '@/store/edits/speaker-edits';
import { resetView, setView } from '@/store/view';
import { BesidePanel } from './beside-panel';
import { FitPanel } from './fit-panel';
import { NotchPanel } from './notch-panel';

interface Asked {
  readonly request: JobRequest & Record<string, unknown>;
  readonly answer: (value: Result<unknown>) => void;
  readonly progress?: (share: number, soFar?: unknown) => void;
}
const mockAsked: Asked[] = [];
jest.mock('@/workers/job-client', () => ({
  startJob: (request: Asked['request'], progress?: Asked['progress']) => {
    let answer: Asked['answer'] = () => {};
    const answered = new Promise((resolve) => (answer = resolve));
    mockAsked.push({ request, progress, answer });
    return { answer: answered, cancel: () => {} };
  },
}));

/** Panels with many fields take their time on a busy machine. */
jest.setTimeout(60_000);

const twoWay = demoDesigns().find((d) => d.title === 'Tone cabinet, two-way')!;
const now = (): Design => documentStore.getState().design!;
const variant = () => currentVariantOf(now());
const last = () => mockAsked.at(-1)!;
const press = (name: string | RegExp) => act(() => void fireEvent.click(screen.getByRole('button', { name })));
const says = async (answer: Result<unknown>) =>
  act(async () => {
    last().answer(answer);
    await Promise.resolve();
  });
const [ladder] = twoWay.variants[0].ways[0].stages;

const outcome = (offDb: number, price: number) => ({ offDb, lowestOhm: 5.2, price });
const found = (value: number): Optimised => ({
  parts: [{ stage: ladder.id, part: 'L1', kind: 'inductor', before: 1.2e-3, best: 1.31e-3, value }],
  before: outcome(5.6, 32),
  best: outcome(0.9, 33),
  after: outcome(0.84, 34),
  frontier: [
    { ...outcome(2.2, 20), values: [0.68e-3] },
    { ...outcome(0.84, 34), values: [value] },
  ],
  looked: 1000,
});

beforeEach(() => {
  openDesign({ ...twoWay, id: `two-${mockAsked.length}` });
  resetView();
  localStorage.clear();
  foldStore.setState({ open: {} });
  FIT.forget();
  HUMP.forget();
});

describe('Fit to the sound', () => {
  const chosen = () => variant().ways[0].stages[0].parts.L1?.use?.values;

  test('what is so far stands while it looks, and can be taken then; stopped it is the answer', () => {
    render(<FitPanel />);
    press(/^Fit \d+ parts/);
    expect(last().request).toMatchObject({ kind: 'optimise', holdLoad: true, untilStopped: false });
    expect(screen.queryByTestId('fit-result')).toBeNull();
    act(() => last().progress!(0.4, found(1.5e-3)));
    const table = screen.getByTestId('fit-result');
    expect(table).toHaveTextContent('so far');
    expect(within(table).getAllByRole('row')).toHaveLength(4);
    expect(screen.getByRole('progressbar')).toHaveAttribute('aria-valuenow', '40');
    press('Stop');
    expect(screen.getByTestId('fit-result')).not.toHaveTextContent('so far');
    press('Take these values');
    expect(chosen()).toEqual([1.5e-3]);
    act(() => undo());
    expect(chosen()).toBeUndefined();
  });

  test('less money: each of the frontier can be taken by its price', async () => {
    render(<FitPanel />);
    press(/^Fit \d+ parts/);
    await says(success(found(1.5e-3)));
    press(/^Error against price/);
    press('Take the values for 20.00');
    expect(chosen()).toEqual([0.68e-3]);
    // It was taken from this very answer: it still stands.
    expect(screen.getByTestId('fit-result')).toBeVisible();
  });

  test('with another polarity what was fitted is of another circuit, and says so', async () => {
    render(<FitPanel />);
    press(/^Fit \d+ parts/);
    await says(success(found(1.5e-3)));
    act(() => edit(turnOver(variant().ways[1].id)));
    expect(screen.queryByTestId('fit-result')).toBeNull();
    expect(screen.getByRole('status')).toHaveTextContent('fit again');
  });

  test('what is held, its ends and what counts are in what is asked', async () => {
    render(<FitPanel />);
    const group = within(screen.getByRole('group', { name: /^Woofer: Low-pass/, hidden: true }));
    const low = group.getByRole('textbox', { name: 'L1, at least', hidden: true });
    act(() => {
      fireEvent.change(low, { target: { value: '1m' } });
      fireEvent.blur(low);
    });
    act(() => void fireEvent.click(group.getByRole('checkbox', { name: 'C1', hidden: true })));
    expect(group.queryByRole('textbox', { name: 'C1, at least', hidden: true })).toBeNull();
    const price = screen.getByRole('radiogroup', { name: 'How much counts: price' });
    act(() => void fireEvent.click(within(price).getByRole('radio', { name: 'much' })));
    act(() => void fireEvent.click(screen.getByRole('checkbox', { name: 'never under the least load' })));
    press('until stopped');
    const { parts, weights, holdLoad, untilStopped } = last().request as never as Record<string, unknown>;
    expect(parts).toContainEqual({ stage: ladder.id, part: 'L1', low: 1e-3 });
    expect(parts).not.toContainEqual(expect.objectContaining({ stage: ladder.id, part: 'C1' }));
    expect(weights).toEqual({ ways: 0.2, aside: 0, cost: 1 });
    expect([holdLoad, untilStopped]).toEqual([false, true]);
    await says(failure('nothing-to-move'));
    expect(screen.getByRole('alert')).toBeVisible();
  });
});

describe('Tame a hump', () => {
  const outlook = (hump: NotchOutlook['hump']): NotchOutlook => ({
    hump,
    freqHz: Float64Array.of(100, 1000),
    offers: ['across the driver', 'in line'].map((form, i) => ({
      form,
      widthOct: hump.widthOct,
      ohm: 8,
      parts: [
        { name: 'L1', kind: 'inductor' as const, value: 1e-3 },
        { name: 'C1', kind: 'capacitor' as const, value: 1e-5 },
        { name: 'R1', kind: 'resistor' as const, value: 4.7 },
      ],
      price: 12 + i,
      tookDb: hump.depthDb,
      lowestOhm: 4.2,
      dipDb: -0.3,
      wayDb: Float64Array.of(80, 81),
      stage: { ...ladder, id: `notch-${i}` },
    })),
  });

  test('looked for on the driver, then on the sum; changed by its figures; both offered', async () => {
    render(<NotchPanel />);
    press('find it');
    expect(last().request).toMatchObject({ kind: 'notch-outlook', on: 'driver' });
    expect(last().request.hump).toBeUndefined();
    await says(success(outlook({ centreHz: 1150, widthOct: 0.6, depthDb: 5.2 })));
    const rows = within(screen.getByTestId('notch-offers')).getAllByRole('row').slice(1);
    expect(rows).toHaveLength(2);
    expect(rows[0]).toHaveTextContent(/1\smH10\sµF4\.7\sΩ5\.2/);
    const depth = screen.getByTestId('hump-depth');
    act(() => {
      fireEvent.change(depth, { target: { value: '3' } });
      fireEvent.blur(depth);
    });
    expect(last().request.hump).toEqual({ centreHz: 1150, widthOct: 0.6, depthDb: 3 });
    act(() => void fireEvent.click(screen.getByRole('radio', { name: 'the sum' })));
    expect(last().request).toMatchObject({ on: 'sum' });
    expect(last().request.hump).toBeUndefined();
    act(() => void fireEvent.click(screen.getByRole('checkbox', { name: 'narrower and broader beside it' })));
    expect(last().request).toMatchObject({ on: 'sum', widths: true });
    await says(failure('no-hump', { way: 'Woofer', on: 'sum' }));
    expect(screen.getByTestId('notch-panel')).toHaveTextContent('The sum has no hump');
  });

  test('taken it stands before the driver, and the offers are put away', async () => {
    render(<NotchPanel />);
    press('at the cursor');
    await says(success(outlook({ centreHz: 1000, widthOct: 0.8, depthDb: 3 })));
    const before = variant().ways[0].stages.length;
    press('Take the notch in line');
    expect(variant().ways[0].stages).toHaveLength(before + 1);
    expect(screen.queryByTestId('notch-offers')).toBeNull();
  });
});

describe('Beside the other', () => {
  const figures = (given: Partial<SpeakerFigures>): SpeakerFigures => ({
    variantId: 'x',
    name: 'A',
    label: '',
    flatDb: 1,
    alignedDb: 1,
    lowestOhm: 4,
    lowestHz: 2000,
    asideDb: 3,
    decayDb: -28,
    price: 30,
    ...given,
  });

  test('the better of each figure stands out: less is better, but of the load more', () => {
    setView({ task: 'values', ghostVariant: now().variants[1].id });
    render(<BesidePanel />);
    act(() =>
      BESIDE.place([
        figures({ variantId: 'a', flatDb: 0.9, price: 40 }),
        figures({ variantId: 'b', name: 'B', label: 'found', lowestOhm: 5, lowestHz: 3000 }),
      ]),
    );
    const panel = screen.getByTestId('beside-panel');
    const row = (name: string) => within(panel).getByRole('row', { name: new RegExp(`^${name}`) });
    const bold = (name: string) => row(name).querySelector('b')?.textContent;
    expect(panel).toHaveTextContent('Beside B, found');
    expect(bold('sum, off level')).toBe('±0.90\u202fdB');
    expect(bold('least load')).toMatch(/^5\sΩ at 3\skHz/);
    expect(bold('parts')).toBe('30.00');
    // Where both are alike neither does.
    expect(bold('still there')).toBeUndefined();
  });
});
