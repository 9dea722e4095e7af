import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { AcSolver } from '@/core/analysis/ac/solver';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import { runCoilEffects } from '@/core/jobs/loudspeaker/coil-effects';
import { runAcoustics } from '@/core/jobs/loudspeaker/acoustics';
import { must } from '@/core/result';
import type * as documentModule from '@/store/document';
import { documentStore, edit, openDesign, undo } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { ACOUSTICS } from '@/store/questions/live';
import { addCoupling } from '@/store/edits/speaker-edits';
import { resetView, setView } from '@/store/view';
import { CoilFromWire } from './coil-from-wire';
import { CoilsPanel } from './coils-panel';
import { HeatPanel } from './heat-panel';
import { OrdersPanel } from './orders-panel';

const solver = new AcSolver();
const twoWay = demoDesigns().find((d) => d.title === 'Tone cabinet, two-way')!;
const now = (): Design => documentStore.getState().design!;
const variant = () => currentVariantOf(now());

/** Jobs are run here and now, by the very functions the workers run. */
jest.mock('@/store/use-design-job', () => ({
  useDesignJob: (kind: string, asked: object | null) => {
    const { useDesign } = jest.requireActual<typeof documentModule>('@/store/document');
    const design = useDesign((d: Design) => d);
    if (asked === null) return null;
    if (kind !== 'coil-effects') throw new Error(kind);
    const said = runCoilEffects({ kind, design, variantId: design.currentVariant }, solver);
    return said.ok ? said.value : null;
  },
}));

/** The results that the panels read, by the function the worker runs. */
function settle(): void {
  ACOUSTICS.place(
    must(
      runAcoustics(
        {
          kind: 'acoustics',
          design: now(),
          variantId: now().currentVariant,
          grid: { fromHz: 20, toHz: 20e3, points: 121 },
          ghostVariantId: null,
        },
        solver,
      ),
    ),
  );
}

beforeEach(() => {
  openDesign(twoWay);
  resetView();
  settle();
});

test('orders: what each adds, its phase by its alignment, and one click takes another', () => {
  render(<OrdersPanel />);
  const rows = within(screen.getByTestId('orders-panel')).getAllByRole('row').slice(1);
  const { order } = variant().ways[0].plans[0];
  expect(rows.filter((r) => r.classList.contains('current'))).toHaveLength(1);
  // Each row but the first names the parts that make it one order steeper.
  for (const row of rows.slice(1)) expect(row).toHaveTextContent(/adds [LC]\d/);
  const other = rows.map((r) => within(r).queryByRole('button')).find((b) => b !== null)!;
  act(() => fireEvent.click(other));
  expect(variant().ways[0].plans[0].order).not.toBe(order);
  act(() => undo());
  expect(variant().ways[0].plans[0].order).toBe(order);
});

test('heat and price: a row for every part, the price their sum, the change beside another variant', () => {
  render(<HeatPanel />);
  const panel = screen.getByTestId('heat-panel');
  const rows = within(within(panel).getByRole('region')).getAllByRole('row').slice(1);
  const prices = rows.map((r) => Number(within(r).getAllByRole('cell').at(-1)!.textContent)).filter(Number.isFinite);
  expect(prices.reduce((a, b) => a + b, 0)).toBeCloseTo(Number(screen.getByTestId('network-price').textContent), 1);
  for (const column of [-2, -3]) {
    const figures = rows.map((r) => Number(within(r).getAllByRole('cell').at(column)!.textContent));
    expect(figures.filter(Number.isFinite).length).toBeGreaterThan(2);
    expect(figures.every((w) => !(w < 0))).toBe(true);
  }
  const drivers = within(screen.getByTestId('driver-stress')).getAllByRole('row').slice(1);
  expect(drivers).toHaveLength(variant().ways.length);
  for (const row of drivers) expect(row).toHaveTextContent(/\d+\.\d of \d+ W±\d+\.\d+ mm at [\d.]+ k?Hz/);
  const beside = now().variants.find((v) => v.id !== now().currentVariant)!;
  act(() => setView({ ghostVariant: beside.id }));
  expect(panel).toHaveTextContent(/the change [+−]?\d/);
});

test('coils: a pair with its distance, the coupling falling with it, and nearly none with one stood up', () => {
  render(<CoilsPanel />);
  const panel = screen.getByTestId('coils-panel');
  expect(panel).toHaveTextContent('Coils that stand close');
  act(() => fireEvent.click(within(panel).getByRole('button', { name: /pair/ })));
  const percent = () =>
    Math.abs(
      Number.parseFloat(within(screen.getByTestId('coupling')).getByTitle('coupling').textContent!.replace('−', '-')),
    );
  const near = percent();
  expect(near).toBeGreaterThan(0.5);
  const apart = screen.getByRole('textbox', { name: 'cm apart' });
  act(() => {
    fireEvent.change(apart, { target: { value: '20' } });
    fireEvent.keyDown(apart, { key: 'Enter' });
  });
  expect(percent()).toBeLessThan(near / 2);
  act(() => fireEvent.click(screen.getByRole('button', { name: 'Stand one up' })));
  expect(percent()).toBeLessThan(0.2);
  act(() => fireEvent.click(screen.getByRole('button', { name: 'Forget this pair' })));
  expect(variant().couplings ?? []).toHaveLength(0);
});

test('what a pair of coils does to the sum and to each way is said in decibels: with it less without it', () => {
  const [lower, upper] = variant().ways;
  /** Of each way and of the sum, over a grid. */
  const levels = (fromHz: number, toHz: number, points: number): readonly Float64Array[] => {
    const got = must(
      runAcoustics(
        {
          kind: 'acoustics',
          design: now(),
          variantId: now().currentVariant,
          grid: { fromHz, toHz, points },
          ghostVariantId: null,
        },
        solver,
      ),
    );
    return [...got.ways.map((w) => w.levelDb), got.sumDb];
  };
  const coarse = () => levels(100, 15e3, 60);
  const without = coarse();
  edit(
    addCoupling({
      first: { stage: lower.stages[0].id, part: 'L1' },
      second: { stage: upper.stages[0].id, part: 'L1' },
      distanceM: 0.05,
      turned: 'side by side',
    }),
  );
  const paired = now();
  const [effect] = must(
    runCoilEffects({ kind: 'coil-effects', design: paired, variantId: paired.currentVariant }, solver),
  );
  const withPair = coarse();
  [...effect.ways, effect.sum].forEach(({ db, freqHz }, c) => {
    // Nowhere on a coarse grid is it moved by more where it is heard, and there by as much.
    const top = Math.max(...without[c]);
    without[c].forEach((v, i) => {
      if (v > top - 39) expect(Math.abs(withPair[c][i] - v)).toBeLessThan(Math.abs(db) + 1e-6);
    });
    const there = levels(freqHz, 1.0001 * freqHz, 2)[c][0];
    openDesign(twoWay);
    expect(there - levels(freqHz, 1.0001 * freqHz, 2)[c][0]).toBeCloseTo(db, 6);
    openDesign(paired);
  });
  expect(Math.abs(effect.sum.db)).toBeGreaterThan(0.01);
  render(<CoilsPanel />);
  expect(screen.getByTestId('coil-effect')).toHaveTextContent(/Moves the sum by [+−]\d+\.\d\d dB at [\d.]+ k?Hz/);
});

test('coupled coils are in the curves: the sum changes by what the pair does', () => {
  const level = () => ACOUSTICS.current().value!.sumDb.slice();
  const before = level();
  const [lower, upper] = variant().ways;
  act(() =>
    edit(
      addCoupling({
        first: { stage: lower.stages[0].id, part: 'L1' },
        second: { stage: upper.stages[0].id, part: 'L1' },
        distanceM: 0.03,
        turned: 'side by side',
      }),
    ),
  );
  act(settle);
  const after = level();
  expect(Math.max(...after.map((v, i) => Math.abs(v - before[i])))).toBeGreaterThan(0.02);
});

test('where nothing is heard, none of this is shown', () => {
  openDesign(demoDesigns()[0]);
  const { container } = render(
    <>
      <OrdersPanel />
      <HeatPanel />
      <CoilsPanel />
    </>,
  );
  expect(container).toBeEmptyDOMElement();
});

test('a coil from wire: what it comes to follows wire and former, and what does not go is said', () => {
  render(<CoilFromWire />);
  act(() => fireEvent.click(screen.getByRole('button', { name: 'A coil from wire' })));
  const grams = () => Number(/(\d+)\sg of copper/.exec(screen.getByTestId('wound').textContent)![1]);
  const before = grams();
  const type = (label: string, text: string) =>
    act(() => {
      const field = screen.getByRole('textbox', { name: label });
      fireEvent.change(field, { target: { value: text } });
      fireEvent.blur(field);
    });
  type('wire, mm', '1.4');
  expect(grams()).toBeGreaterThan(1.5 * before);
  type('between cheeks, mm', '1');
  expect(screen.getByRole('alert')).toHaveTextContent('Not one turn of 1.4 mm');
});
