import { act, fireEvent, screen, within } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import { currentWayOf } from '@/store/edits/edits';
import { HELD_BY } from '@/store/questions/live';
import { setView, viewStore } from '@/store/view';
import { designNow, refresh, showPane, typed } from '@/testing/pane';
import { Values } from './values';

const [rumble, , band] = demoDesigns();
const firstStage = () => currentWayOf(designNow()).stages[0];
const table = () => screen.getByRole('region', { name: 'Parts of the stage' });
const row = (part: string) =>
  within(table())
    .getAllByRole('row')
    .find((r) => within(r).queryByRole('button', { name: new RegExp(`^${part}, `) }))!;

test('every part has its exact value, the one that is used, and how far that is off', () => {
  showPane(rumble, <Values />);
  // First-order high-pass at 45 Hz by the demo's plan: R = 1/(2π f C).
  const [exactC, exactR] = ['C1', 'R1'].map((part) => within(row(part)).getAllByRole('cell')[1].textContent!);
  const si = (text: string) => {
    const [, digits, prefix] = /([\d.]+)\s?([a-zµ]?)/.exec(text)!;
    return Number(digits) * { '': 1, k: 1e3, M: 1e6, n: 1e-9, µ: 1e-6, p: 1e-12 }[prefix]!;
  };
  const { target } = firstStage();
  expect(target.kind).toBe('section');
  const plan = currentWayOf(rumble).plans[0];
  expect(1 / (2 * Math.PI * si(exactC) * si(exactR)) / plan.cutoffHz).toBeCloseTo(1, 2);
  expect(within(row('R1')).getAllByRole('cell')[3]).toHaveTextContent(/^[+−]?\d+\.\d/);
});

test('a typed value is used and held; emptied, it is proposed again', () => {
  showPane(rumble, <Values />);
  const field = () => within(row('R1')).getByRole('textbox');
  const before = (field() as HTMLInputElement).value;
  act(() => typed(field(), '33k'));
  expect(firstStage().parts.R1.use).toEqual({ kind: 'single', values: [33_000], typed: true });
  act(refresh);
  expect(field()).toHaveValue('33 kΩ');
  act(() => typed(field(), ''));
  expect(firstStage().parts.R1?.use).toBeUndefined();
  act(refresh);
  expect(field()).toHaveValue(before);
});

test('a part is left out from its row, and an output resistor stands behind the path', () => {
  showPane(rumble, <Values />);
  act(() => void fireEvent.click(within(row('C1')).getByRole('checkbox')));
  expect(firstStage().parts.C1.leftOut).toBe(true);
  act(() => typed(screen.getByTestId('output-resistor'), '470'));
  expect(currentWayOf(designNow()).outputResistor?.ohm).toBe(470);
  act(() => typed(screen.getByTestId('output-resistor'), ''));
  expect(currentWayOf(designNow()).outputResistor).toBeNull();
});

test('the part that is pointed at lights up in its row; without one, those that hold the cursor’s level', () => {
  const { container } = showPane(band, <Values />);
  const lit = () => container.querySelectorAll('.schematic text.lit').length;
  expect(lit()).toBe(0);
  act(() => void fireEvent.pointerEnter(row('R2')));
  expect(viewStore.getState().pointed).toEqual({ stageId: firstStage().id, parts: ['R2'] });
  expect(row('R2')).toHaveClass('lit');
  expect(lit()).toBeGreaterThan(0);
  act(() => void fireEvent.pointerLeave(row('R2')));
  expect(viewStore.getState().pointed).toBeNull();
  act(() => {
    setView({ cursor: 70 });
    HELD_BY.place([{ stageId: firstStage().id, part: 'C1', dbPerPct: 0.05 }]);
  });
  expect(lit()).toBeGreaterThan(0);
  // Under the least that is worth a name nothing is held.
  act(() => HELD_BY.place([{ stageId: firstStage().id, part: 'C1', dbPerPct: 0.0049 }]));
  expect(lit()).toBe(0);
});

test('how parts are chosen folds to a line that says it, and changes every stage', () => {
  showPane(rumble, <Values />);
  const fold = screen.getByRole('button', { name: 'How parts are chosen' });
  expect(fold).toHaveAttribute('aria-expanded', 'false');
  expect(screen.getByText(/^resistors E\d+ ± [\d.]+ %, capacitors E\d+ ± [\d.]+ %$/)).toBeInTheDocument();
  act(() => void fireEvent.click(fold));
  const [resistors] = screen.getAllByRole('textbox', { name: '± %' });
  act(() => typed(resistors, '0.1'));
  expect(designNow().preferences.resistorTolerancePct).toBe(0.1);
});
