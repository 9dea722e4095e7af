import { demoDesigns } from '@/core/design/demo';
import { AS_BUILT, compile } from '@/core/design/compile';
import { designSchema, type Design } from '@/core/design/schema';
import { USUAL_PHOTOCELL } from '@/core/device/photocell';
import { must } from '@/core/result';
import { documentStore, edit, openDesign, undo } from './document';
import { currentVariantOf } from './edits';
import * as edits from './network-edits';

const demo = (title: string): Design => demoDesigns().find((d) => d.title.startsWith(title))!;
const now = (): Design => documentStore.getState().design as Design;
const stages = () => currentVariantOf(now()).ways[0].stages;
/** What every edit leaves: a valid document that compiles. */
const stands = () => {
  expect(designSchema.safeParse(now()).success).toBe(true);
  must(compile(now(), currentVariantOf(now()), AS_BUILT));
};

test('attenuator and make-up are one step, and one undo takes both back', () => {
  openDesign(structuredClone(demo('Stopped flute')));
  const [legs, maker] = stages();
  edit(edits.setPadAndMakeUp(legs.id, -12, { stageId: maker.id, gain: 500 }));
  expect(stages().map((s) => s.target)).toMatchObject([{ parameters: { padDb: -12 } }, { parameters: { gain: 200 } }]);
  undo();
  expect(stages().map((s) => s.target)).toMatchObject([{ parameters: { padDb: -20 } }, { parameters: { gain: 8 } }]);
});

test('a follower goes in at its joint, bootstrapped, into what it is to drive', () => {
  openDesign(structuredClone(demo('Stopped flute')));
  edit(edits.insertFollower(1, 12e3, 3.85));
  expect(stages().map((s) => s.topology)).toEqual(['diode-legs', 'emitter-follower', 'common-emitter']);
  expect(stages()[1]).toMatchObject({
    mode: 'bootstrapped',
    target: { parameters: { loadOhm: 12e3, emitterVolts: 3.85 } },
  });
  stands();
  undo();
  expect(stages()).toHaveLength(2);
});

test('a cell of one’s own is the design’s, valid, and can be given back', () => {
  openDesign(structuredClone(demo('Plucked')));
  edit(
    edits.setPhotocell({
      ...USUAL_PHOTOCELL,
      points: [
        [1e-4, 20e3],
        [1e-2, 500],
      ],
    }),
  );
  expect(now().preferences.photocell?.points).toEqual([
    [1e-4, 20e3],
    [1e-2, 500],
  ]);
  stands();
  edit(edits.setPhotocell(null));
  expect(now().preferences.photocell).toBeUndefined();
});

test.each(['common-emitter', 'emitter-follower', 'wah-inductor', 'wah-inductorless', 'diode-legs', 'ota-leapfrog'])(
  '%s can be added to a path, in every form, and takes its controls with it',
  (id) => {
    openDesign(structuredClone(demo('Reed voice')));
    const before = currentVariantOf(now()).controls.length;
    edit(edits.addNetwork(id));
    const stage = stages()[1];
    expect(stage.topology).toBe(id);
    stands();
    const moved = Object.values(stage.parts).filter((p) => p.control).length;
    expect(currentVariantOf(now()).controls).toHaveLength(before + moved);
    if (id.startsWith('wah'))
      expect(currentVariantOf(now()).controls[before]).toMatchObject({ kind: 'pedal', taper: 'linear' });
    for (const form of {
      'diode-legs': ['high-pass'],
      'ota-leapfrog': ['fifth order'],
      'common-emitter': ['bootstrapped'],
      'emitter-follower': ['bootstrapped'],
    }[id] ?? []) {
      edit(edits.setForm(stage.id, form));
      expect(stages()[1].mode).toBe(form);
      stands();
    }
  },
);
