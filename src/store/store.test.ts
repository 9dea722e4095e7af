import 'fake-indexeddb/auto';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import { wayTargets } from '@/core/design/stages/targets';
import { compile, AS_BUILT } from '@/core/design/compiled/compile';
import { alignmentById } from '@/core/filter/alignments/index';
import { must } from '@/core/result';
import { designSchema } from '@/core/design/document/schema';
import { adoptDesign, beginGesture, documentStore, edit, endGesture, openDesign, redo, undo } from './document';
import { OP_AMPS } from '@/core/device/op-amps';
import * as decks from './edits/deck-edits';
import * as edits from './edits/edits';
import * as plans from './edits/plan-edits';
import * as parts from './edits/part-edits';
import * as record from './edits/record-edits';
import { partsCsvOf } from './exports/circuit-exports';
import { gridFor } from './questions/axis';

jest.mock('@/workers/job-client', () => ({
  startJob: () => ({
    answer: Promise.resolve({ ok: false, code: 'none', data: {} }),
    cancel: () => {},
  }),
}));

const [rumble, , band] = demoDesigns();
const now = (): Design => documentStore.getState().design as Design;
const way = () => edits.currentVariantOf(now()).ways[0];

beforeEach(() => openDesign(structuredClone(band)));

describe('edits', () => {
  const all: [string, edits.Edit][] = [
    ['order up', plans.changePlan('band-4', { order: 7 })],
    ['order down', plans.changePlan('band-4', { order: 1 })],
    ['alignment with fewer orders', plans.changePlan('band-4', { alignment: 'linkwitz-riley', order: 3 })],
    ['another response', plans.changePlan('band-4', { response: 'lowpass' })],
    ['high Q first', plans.changePlan('band-4', { stageOrder: 'high-q-first' })],
    ['add a plan', plans.addPlan('highpass', 30)],
    ['a stage moved', edits.moveStage(0, 2)],
    ['new stage', edits.addStage('lowpass', 900)],
    ['buffer', edits.insertBuffer(1)],
    ['output resistor away', edits.setOutputResistor(null)],
    ['limit', record.addLimit({ kind: 'at-least', side: 'above', freqHz: 9e3, db: 20 })],
    ['new variant', record.addVariant()],
    ['all multiple feedback', edits.setAllTopologies('multiple-feedback')],
    ['ideal op-amps', parts.setDevice(null, 'ideal')],
    ['an op-amp of one’s own', parts.setDevice(null, 'mine', { ...OP_AMPS[0], id: 'mine', name: 'Bench amp' })],
    ['a deck', decks.addDeck({ text: 'Own\nR1 in out 1k\nC1 out 0 10n', input: 'in', output: 'out' })],
    ['a part that tracks', parts.trackPart('band-5', 'C1', 'new')],
    ['title', record.setTitle('x')],
    ['brief', record.changeBrief({ supply: { kind: 'single', volts: 9, virtualGroundOhm: 10 } })],
    ['resistors first', record.changePreferences({ chooseFirst: 'resistors' })],
    ['log', record.addLogEntry({ at: '2026-01-01T10:00:00.000Z', text: 'a', snapshot: null })],
    [
      'measurement',
      record.addMeasurement({
        name: 'm',
        at: '2026-01-01T10:00:00.000Z',
        freqHz: [1, 2],
        levelDb: [0, 0],
        phaseDeg: null,
        aligned: true,
      }),
    ],
  ];
  test.each(all)('%s: valid, compiles, undone and redone', (_, change) => {
    const before = now();
    edit((draft) => change(draft));
    const after = now();
    expect(after).not.toEqual(before);
    expect(designSchema.safeParse(after).error).toBeUndefined();
    expect(compile(after, edits.currentVariantOf(after), AS_BUILT).ok).toBe(true);
    undo();
    expect(now()).toEqual(before);
    redo();
    expect(now()).toEqual(after);
  });

  const planId = () => way().plans[1].id;
  const lastStage = () => way().stages.at(-1)!;

  test('a retuned stage starts from its target, keeps its place when the plan moves, and can follow again', () => {
    edit(edits.retune(lastStage().id, { q: 3 }));
    expect(lastStage().target).toMatchObject({ kind: 'own', freqHz: 4000, q: 3 });
    edit(plans.changePlan(planId(), { cutoffHz: 2000 }));
    expect(wayTargets(way()).targets.map((t) => t?.freqHz)).toEqual([72, 72, 2000, 4000]);
    edit(edits.followPlan(lastStage().id));
    expect(wayTargets(way()).targets.at(-1)?.freqHz).toBe(2000);
  });
  test('a part typed, held, left out and given back', () => {
    const id = lastStage().id;
    edit(parts.choosePart(id, 'R1', { use: { kind: 'single', values: [12e3] } }));
    edit(parts.choosePart(id, 'R1', { pinned: true, leftOut: true }));
    expect(lastStage().parts.R1).toEqual({
      use: { kind: 'single', values: [12e3] },
      pinned: true,
      leftOut: true,
    });
    edit(parts.choosePart(id, 'R1', { use: undefined, leftOut: false }));
    expect(lastStage().parts).toEqual({});
  });
  test('a stage added by hand goes alone, a section with its whole plan; a path may be left empty, and undone', () => {
    edit(edits.duplicateStage(lastStage().id));
    const copy = way().stages[4];
    expect(copy.target).toMatchObject({ kind: 'own', of: null, freqHz: 4000 });
    edit(edits.removeStage(copy.id));
    expect(way().stages).toHaveLength(4);
    edit(edits.toggleBypass(lastStage().id));
    expect(lastStage().bypassed).toBe(true);
    const plans = way().plans.length;
    while (way().stages.length > 0) edit(edits.removeStage(lastStage().id));
    expect([way().stages, way().plans]).toEqual([[], []]);
    for (let i = 0; i < plans; i++) undo();
    expect(way().stages).toHaveLength(4);
  });
  test('variants are named by the next free letter, and the last one stays', () => {
    edit(record.addVariant());
    expect(now().variants.map((v) => v.name)).toEqual(['A', 'B', 'C']);
    edit(record.removeVariant(now().variants[0].id));
    edit(record.addVariant());
    expect(now().variants.at(-1)?.name).toBe('A');
    for (const v of [...now().variants]) edit(record.removeVariant(v.id));
    expect(now().variants).toHaveLength(1);
    expect(now().currentVariant).toBe(now().variants[0].id);
  });
  test('a drag is one undo step', () => {
    beginGesture();
    for (let f = 4000; f > 3000; f -= 50) edit(plans.changePlan(planId(), { cutoffHz: f }));
    endGesture();
    expect(way().plans[1].cutoffHz).toBe(3050);
    undo();
    expect(way().plans[1].cutoffHz).toBe(4000);
    undo();
    expect(way().plans[1].cutoffHz).toBe(4000);
    redo();
    expect(way().plans[1].cutoffHz).toBe(3050);
  });
});

test('the range of the curves is the audio band, or what the corners call for', () => {
  expect(gridFor(band)).toMatchObject({ fromHz: 5, toHz: 50e3 });
  const high = structuredClone(rumble);
  high.variants[0].ways[0].plans[0].cutoffHz = 20e3;
  expect(gridFor(high)).toMatchObject({ fromHz: 20, toHz: 500e3 });
});

test('the parts list as CSV names every reference once', () => {
  const lines = must(partsCsvOf(band)).trim().split('\n');
  expect(lines[0]).toBe('kind,value_si,name,tolerance_pct,references,per_board,boards,total');
  const references = lines
    .slice(1)
    .filter((l) => !l.startsWith('besides'))
    .flatMap((l) => l.split(',')[4].split(' '));
  // What feeds the board and is plugged into it stands at the end.
  expect(lines[lines.length - 1]).toMatch(/^besides,,jack,/);
  expect(new Set(references).size).toBe(references.length);
});

test('another alignment brings its own meaning of the cutoff; the same one keeps what was chosen', () => {
  const plan = () => way().plans[0];
  edit(plans.changePlan(plan().id, { alignment: 'bessel' }));
  edit(plans.changePlan(plan().id, { cutoffAt: '-3db' }));
  edit(plans.changePlan(plan().id, { alignment: 'bessel', cutoffHz: 500 }));
  expect(plan()).toMatchObject({ cutoffAt: '-3db', cutoffHz: 500 });
  for (const id of ['butterworth', 'linkwitz-riley', 'chebyshev', 'bessel'] as const) {
    edit(plans.changePlan(plan().id, { cutoffAt: '-3db' }));
    edit(plans.changePlan(plan().id, { alignment: id }));
    expect([id, plan().cutoffAt]).toEqual([id, alignmentById(id).defaultCutoffAt]);
  }
});

test('a ladder of another order has none of its old parts; of another cutoff it keeps them', () => {
  const crossover = demoDesigns().find((d) => d.title === 'Tone cabinet, two-way')!;
  openDesign(structuredClone(crossover));
  const ladder = () => edits.currentWayOf(now()).stages.find((s) => s.target.kind === 'plan')!;
  const plan = () => edits.currentWayOf(now()).plans[0];
  edit(parts.choosePart(ladder().id, 'L1', { use: { kind: 'single', values: [2e-3] } }));
  edit(plans.changePlan(plan().id, { cutoffHz: plan().cutoffHz * 1.1 }));
  expect(ladder().parts.L1.use?.values).toEqual([2e-3]);
  edit(plans.changePlan(plan().id, { order: plan().order + 1 }));
  expect(ladder().parts).toEqual({});
});

test('of a long history the last forty steps follow another tab’s change, and it opens over no other design', () => {
  for (let i = 0; i < 60; i++) edit(record.setTitle(`step ${i}`));
  adoptDesign({ ...rumble, title: 'another' });
  expect(now().title).toBe('step 59');
  adoptDesign({ ...now(), brief: { ...now().brief, note: 'theirs' } });
  const { pastStates } = documentStore.temporal.getState();
  expect(pastStates).toHaveLength(40);
  expect(pastStates.every(({ design }) => design!.brief.note === 'theirs')).toBe(true);
  undo();
  expect(now()).toMatchObject({ title: 'step 58', brief: { note: 'theirs' } });
});
