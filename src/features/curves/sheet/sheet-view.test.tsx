import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import { runSheet } from '@/core/jobs/build/sheet';
import { must } from '@/core/result';
import { deskOf } from '@/core/testing/desk-of';
import { documentStore, openDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { DESK, SHEET } from '@/store/questions/live';
import { resetView, setView, viewStore } from '@/store/view';
import { SheetView } from './sheet-view';

jest.mock('@/ui/use-size', () => ({ useSize: () => [{ current: null }, { width: 900, height: 600 }] }));

const now = (): Design => documentStore.getState().design!;
/** Answers as a worker gives them, for the design as it stands. */
function answer(): void {
  DESK.place(deskOf(now()));
  SHEET.place(must(runSheet({ kind: 'sheet', design: now(), variantId: now().currentVariant })));
}
function open(title: string): void {
  openDesign(demoDesigns().find((d) => d.title.startsWith(title))!);
  resetView();
  setView({ curveView: 'sheet' });
  answer();
  render(<SheetView />);
}
const part = (name: string) => screen.getByRole('button', { name: new RegExp(`^${name}, `) });
const key = (name: string, on: Element = document.activeElement!) =>
  act(() => void fireEvent.keyDown(on, { key: name }));
const field = (name: string) =>
  within(screen.getByRole('dialog', { name: `${name}, its value` })).getByRole('textbox', { name: /value to use/ });

test('every part is a button by its designator and value, in a group by its stage; one of them takes the Tab', () => {
  open('Swell-box');
  const stages = currentVariantOf(now()).ways[0].stages;
  expect(screen.getAllByRole('group', { name: /Sallen-Key/ })).toHaveLength(stages.length);
  expect(part('R1')).toHaveAccessibleName('R1, 9.1 kΩ');
  const parts = screen.getAllByRole('button').filter((b) => b.hasAttribute('data-part'));
  expect(parts).toHaveLength(16);
  expect(parts.filter((p) => p.getAttribute('tabindex') === '0')).toHaveLength(1);
});

test('arrows walk, Enter opens the value, typed it is in the design; Escape gives the part back', () => {
  open('Swell-box');
  act(() => part('C1').focus());
  key('ArrowRight');
  expect(part('C2')).toHaveFocus();
  key('Enter');
  expect(viewStore.getState()).toMatchObject({ selectedPart: 'C2' });
  const input = field('C2');
  act(() => {
    fireEvent.change(input, { target: { value: '330n' } });
    fireEvent.keyDown(input, { key: 'Enter' });
  });
  const [stage] = currentVariantOf(now()).ways[0].stages;
  expect(stage.parts.C2.use).toEqual({ kind: 'single', values: [330e-9], typed: true });
  act(answer);
  expect(part('C2')).toHaveAccessibleName('C2, 330 nF');
  key('Escape', field('C2'));
  expect(screen.queryByRole('dialog')).toBeNull();
  expect(part('C2')).toHaveFocus();
});

test('what cannot be meant is refused in the field, and the design stays', () => {
  open('Swell-box');
  fireEvent.click(part('R1'));
  const before = now();
  const input = field('R1');
  act(() => {
    fireEvent.change(input, { target: { value: 'a bit more' } });
    fireEvent.keyDown(input, { key: 'Enter' });
  });
  expect(screen.getByRole('dialog')).toHaveTextContent(/“a bit more” is not a value/);
  expect(now()).toBe(before);
});

test('a part of another way brings its way in hand, and nothing else changes', () => {
  open('Chapel cabinet');
  const [, , top] = currentVariantOf(now()).ways;
  const before = now();
  fireEvent.click(part('C1'));
  // Of the way in hand nothing is changed at all.
  expect(now()).toBe(before);
  fireEvent.click(part('C601'));
  expect(currentVariantOf(now())).toMatchObject({ currentWay: top.id });
  expect(viewStore.getState().selectedStage).toBe(top.stages[0].id);
  const partsOf = (design: Design) => currentVariantOf(design).ways.map((w) => w.stages.map((s) => s.parts));
  expect(partsOf(now())).toEqual(partsOf(before));
});

test('more about a part is in Values', () => {
  open('Swell-box');
  fireEvent.click(part('R1'));
  fireEvent.click(screen.getByRole('button', { name: 'More in Values' }));
  expect(viewStore.getState()).toMatchObject({ task: 'values', selectedPart: 'R1' });
});
