/** @jest-environment jsdom */
import { demoDesigns } from '@/core/design/demo/demo';
import { deskOf } from '@/core/testing/desk-of';
import { openDesign } from '../document';
import { forgetKept, keepCurve, keptStore, MOST_KEPT, restoreKept, toggleKept } from './kept-curves';
import { DESK } from '../questions/live';

jest.mock('../new-id', () => {
  let n = 0;
  return { newId: () => `kept-${n++}` };
});
const [rumble, hiss] = demoDesigns();
const reload = () => {
  keptStore.setState({ curves: [] });
  restoreKept();
};
const curves = () => keptStore.getState().curves;
beforeEach(() => {
  localStorage.clear();
  keptStore.setState({ curves: [] });
  openDesign(rumble);
  DESK.place(deskOf(rumble));
});

test('a curve is kept as it is, by the name of its design and variant, and stays when another design comes', () => {
  keepCurve();
  openDesign(hiss);
  DESK.place(deskOf(hiss));
  keepCurve();
  expect(curves().map((c) => c.name)).toEqual([`${rumble.title}, A`, `${hiss.title}, A`]);
  const { levelDb, phaseDeg } = deskOf(rumble).asBuilt;
  levelDb.forEach((v, i) => expect(curves()[0].levelDb[i]).toBeCloseTo(v, 4));
  phaseDeg.forEach((v, i) => expect(curves()[0].phaseDeg[i]).toBeCloseTo(v, 3));
});

test('kept twice it has a name of its own, and beyond the most the oldest goes', () => {
  for (let i = 0; i <= MOST_KEPT; i++) keepCurve();
  expect(curves()).toHaveLength(MOST_KEPT);
  const names = curves().map((c) => c.name);
  expect(new Set(names).size).toBe(MOST_KEPT);
  expect(names).not.toContain(`${rumble.title}, A`);
  expect(names).toContain(`${rumble.title}, A (2)`);
});

test('hidden and forgotten by itself, and all of it survives a reload', () => {
  keepCurve();
  keepCurve();
  const [first, second] = curves();
  toggleKept(first.id);
  reload();
  expect(curves().map((c) => c.hidden)).toEqual([true, false]);
  expect(curves()[1]).toEqual(second);
  toggleKept(first.id);
  forgetKept(second.id);
  reload();
  expect(curves()).toEqual([first]);
});

test.each(['{', '"curves"', '[{"id":1}]', '[{"id":"a","name":"b","hidden":false,"freqHz":["x"]}]'])(
  'what is no list of curves is none: %s',
  (text) => {
    localStorage.setItem('jaunty-reed-kept-curves', text);
    restoreKept();
    expect(curves()).toEqual([]);
  },
);

test('with storage barred they last as long as the page', () => {
  const barred = jest.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
    throw new Error('no');
  });
  keepCurve();
  restoreKept();
  expect(curves()).toHaveLength(1);
  barred.mockRestore();
});

test('without an answer there is nothing to keep', () => {
  openDesign(hiss);
  keepCurve();
  expect(curves()).toEqual([]);
});
