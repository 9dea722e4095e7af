import { act, fireEvent, render, screen } from '@testing-library/react';
import { createDesign, createPlan } from '@/core/design/making/create';
import { documentStore, edit, openDesign } from '@/store/document';
import { currentVariantOf, setTopology } from '@/store/edits/edits';
import { changePlan } from '@/store/edits/plan-edits';
import { choosePart } from '@/store/edits/part-edits';
import { endGuide, guideStore, restoreGuide, startGuide } from '@/store/guide';
import { newId } from '@/store/new-id';
import { addVariant } from '@/store/edits/record-edits';
import { resetView, setView } from '@/store/view';
import { Guide } from './guide';
import { GUIDE_STEPS } from './steps';

const now = () => documentStore.getState().design!;
const plan = () => currentVariantOf(now()).ways[0].plans[0];
const stage = () => currentVariantOf(now()).ways[0].stages[0];
const title = () => screen.getByRole('heading').textContent!.trim();
const isDone = () => screen.queryByRole('button', { name: 'Skip this' }) === null;
const goOn = () => act(() => fireEvent.click(screen.getByRole('button', { name: /^(Go on|Skip this|Done)$/ })));

beforeEach(() => {
  Object.defineProperty(globalThis.crypto, 'randomUUID', {
    configurable: true,
    value: () => `${Math.random()}`.slice(2).padEnd(20, '0'),
  });
  openDesign(createDesign('first', (id) => [createPlan(id(), 'lowpass', 'butterworth', 2, 1000)], newId));
  resetView();
  startGuide(now().id);
});

/** What does each step, by its title. */
const DOING: Readonly<Record<string, () => void>> = {
  'Say where it cuts': () => edit(changePlan(plan().id, { cutoffHz: 2000 })),
  'Make it steeper': () => edit(changePlan(plan().id, { order: 4 })),
  'Look at the whole of it': () => setView({ curveView: 'sheet' }),
  'Try another circuit': () => edit(setTopology(stage().id, 'multiple-feedback')),
  'Use what you have': () => edit(choosePart(stage().id, 'R1', { use: { kind: 'single', values: [12e3] } })),
  Compare: () => edit(addVariant()),
  'Build it': () => setView({ task: 'build' }),
};

test('every step is seen to be done by what it asks for; one can be skipped', () => {
  render(<Guide />);
  for (const { title: name, says, then } of GUIDE_STEPS) {
    expect(title()).toBe(name);
    expect(isDone()).toBe(false);
    expect(screen.getByRole('status')).toHaveTextContent(says);
    const doing = DOING[name];
    // Drawing parts takes a worker: that step is skipped here.
    expect([name, doing === undefined]).toEqual([name, name === 'See what tolerance does']);
    if (doing) {
      act(doing);
      expect(isDone()).toBe(true);
      expect(screen.getByRole('status')).toHaveTextContent(then);
    }
    goOn();
  }
  expect(screen.queryByTestId('guide')).toBeNull();
  expect(guideStore.getState().designId).toBeNull();
});

test('the wrong thing does no step, and what was done stays done when it is undone', () => {
  render(<Guide />);
  act(() => edit(changePlan(plan().id, { order: 4 })));
  expect(isDone()).toBe(false);
  act(() => edit(changePlan(plan().id, { cutoffHz: 900 })));
  expect(isDone()).toBe(true);
  act(() => edit(changePlan(plan().id, { cutoffHz: 1000 })));
  expect(isDone()).toBe(true);
});

test('it goes along with its own design only, survives a reload, and ends for good', () => {
  const own = now();
  const { unmount } = render(<Guide />);
  goOn();
  act(() => openDesign({ ...own, id: 'another' }));
  expect(screen.queryByTestId('guide')).toBeNull();
  unmount();
  guideStore.setState({ designId: null, step: 0 });
  openDesign(own);
  restoreGuide();
  render(<Guide />);
  expect(title()).toBe('Make it steeper');
  act(() => fireEvent.click(screen.getByRole('button', { name: 'End the guide' })));
  expect(screen.queryByTestId('guide')).toBeNull();
  restoreGuide();
  expect(guideStore.getState().designId).toBeNull();
});

test('what was kept and is no guide is none', () => {
  endGuide();
  for (const text of ['{', '{"designId":3,"step":0}', '{"designId":"x","step":-1}', 'null']) {
    localStorage.setItem('jaunty-reed-guide', text);
    restoreGuide();
    expect(guideStore.getState().designId).toBeNull();
  }
});
