import { AS_BUILT, compile } from '../../design/compiled/compile';
import { demoDesigns } from '../../design/demo/demo';
import { stageTopology } from '../../design/stages/stage-topology';
import { must } from '../../result';
import { JobRunner } from '../run-job';

const runner = new JobRunner();
const [rumble, hiss, band] = demoDesigns();

test('a shelf’s card says what a design is, draws it, and knows what it is found by', async () => {
  const cardOf = (design: unknown) => runner.run<'shelf-card'>({ kind: 'shelf-card', design });
  for (const design of [rumble, hiss, band]) {
    const card = must(await cardOf(design));
    expect(card.curve?.levelDb.every(Number.isFinite)).toBe(true);
    expect(card).toMatchObject({ note: design.brief.note, variants: design.variants.length });
    const [way] = design.variants[0].ways;
    for (const stage of way.stages)
      expect(card.words).toEqual(expect.arrayContaining([...stageTopology(stage, way).words]));
  }
  expect(must(await cardOf(rumble)).summary).toMatch(/^\w+ high-pass \d, [\d.]+\sHz$/);
  // An older version is read as at every other door; what does not read is no card.
  const { version: _, ...torn } = rumble;
  expect(await cardOf(torn)).toMatchObject({ ok: false });
  expect(await cardOf('a photograph')).toMatchObject({ ok: false });
  // What has no curve as it stands is a card all the same: with values pinned that no other can go with.
  const impossible = structuredClone(hiss);
  const { parts } = impossible.variants[0].ways[0].stages[0];
  for (const name of ['C1', 'C2']) parts[name] = { pinned: true, use: { kind: 'single', values: [1] } };
  expect(compile(impossible, impossible.variants[0], AS_BUILT)).toMatchObject({ ok: false });
  expect(must(await cardOf(impossible))).toMatchObject({ curve: null, variants: impossible.variants.length });
});
