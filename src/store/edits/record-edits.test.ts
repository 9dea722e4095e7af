import { produce } from 'immer';
import { createDesign, createPlan } from '@/core/design/making/create';
import type { Design } from '@/core/design/document/schema';
import type { Edit } from './edits';
import {
  addLimit,
  addLogEntry,
  addMeasurement,
  addVariant,
  changeLimit,
  changeLogEntry,
  changeMeasurement,
  labelVariant,
  nextVariantName,
  removeLimit,
  removeLogEntry,
  removeMeasurement,
  removeVariant,
  selectVariant,
} from './record-edits';

let made = 0;
const makeId = () => `r${made++}`;
const fresh = () => createDesign('record', (id) => [createPlan(id(), 'lowpass', 'butterworth', 4, 1000)], makeId);
const after = (design: Design, ...edits: Edit[]): Design => edits.reduce((d, e) => produce(d, e), design);
const LIMIT = { kind: 'at-most', freqHz: 500, side: 'below', db: 1 } as const;

test('limits are added, changed by their id and taken away; another id changes nothing', () => {
  const one = after(fresh(), addLimit(LIMIT), addLimit({ ...LIMIT, db: 3 }));
  const [a, b] = one.brief.mask;
  expect(a.id).not.toBe(b.id);
  const two = after(one, changeLimit(b.id, { db: 6 }), changeLimit('nobody', { db: 0 }));
  expect(two.brief.mask.map((l) => l.db)).toEqual([1, 6]);
  expect(after(two, removeLimit(a.id), removeLimit('nobody')).brief.mask.map((l) => l.id)).toEqual([b.id]);
});

test('variants take the next free letter, copy the current one with ids of their own, and one is always left', () => {
  const three = after(fresh(), addVariant(), addVariant());
  expect(three.variants.map((v) => v.name)).toEqual(['A', 'B', 'C']);
  expect(three.currentVariant).toBe(three.variants[2].id);
  const ids = three.variants.flatMap((v) => v.ways.flatMap((w) => w.stages.map((s) => s.id)));
  expect(new Set(ids).size).toBe(ids.length);
  const gone = after(three, removeVariant(three.variants[1].id));
  expect(nextVariantName(gone)).toBe('B');
  expect(gone.currentVariant).toBe(three.currentVariant);
  const chosen = after(
    gone,
    selectVariant('nobody'),
    labelVariant(gone.variants[0].id, 'quiet'),
    selectVariant(gone.variants[0].id),
  );
  expect(chosen.currentVariant).toBe(gone.variants[0].id);
  expect(chosen.variants[0].label).toBe('quiet');
  const last = after(chosen, removeVariant(chosen.variants[0].id), removeVariant(chosen.variants[1].id));
  expect(last.variants).toHaveLength(1);
  expect(last.currentVariant).toBe(last.variants[0].id);
});

test('there are 26 letters, and no more variants than those', () => {
  const full = after(fresh(), ...Array.from({ length: 30 }, () => addVariant()));
  expect(full.variants).toHaveLength(26);
  expect(new Set(full.variants.map((v) => v.name)).size).toBe(26);
});

test('the log has the newest first; entries and measurements are changed and removed by id alone', () => {
  const log = after(
    fresh(),
    addLogEntry({ at: '2026-01-01T00:00:00Z', text: 'first', snapshot: null }),
    addLogEntry({ at: '2026-01-02T00:00:00Z', text: 'second', snapshot: null }),
  );
  expect(log.log.map((e) => e.text)).toEqual(['second', 'first']);
  const changed = after(log, changeLogEntry(log.log[1].id, 'first, mended'), changeLogEntry('nobody', 'lost'));
  expect(changed.log.map((e) => e.text)).toEqual(['second', 'first, mended']);
  expect(after(changed, removeLogEntry(changed.log[0].id)).log.map((e) => e.text)).toEqual(['first, mended']);
  const swept = after(
    fresh(),
    addMeasurement({
      name: 'sweep',
      at: '2026-01-01T00:00:00Z',
      freqHz: [20, 200],
      levelDb: [0, -1],
      phaseDeg: null,
      aligned: true,
    }),
  );
  const [m] = swept.measurements;
  expect(after(swept, changeMeasurement(m.id, { aligned: false })).measurements[0]).toMatchObject({
    name: 'sweep',
    aligned: false,
  });
  expect(after(swept, removeMeasurement(m.id)).measurements).toEqual([]);
});
