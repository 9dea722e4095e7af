import { demoDesigns } from '@/core/design/demo/demo';
import { AS_BUILT, compile } from '@/core/design/compiled/compile';
import { designSchema, type Design } from '@/core/design/document/schema';
import { USUAL_PHOTOCELL } from '@/core/device/photocell';
import { must } from '@/core/result';
import { documentStore, edit, openDesign, undo } from '../document';
import { currentVariantOf, selectWay } from './edits';
import * as edits from './network-edits';
import { choosePart, holdDecided } from './part-edits';

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

describe('a resistor on a pot or a switch', () => {
  const cabinet = demo('Tone cabinet, two');
  const ways = () => currentVariantOf(now()).ways;
  const padOf = () => ways()[1].stages.find((s) => s.topology === 'driver-pad')!;
  const ohmOf = (part: string) =>
    must(compile(now(), currentVariantOf(now()), AS_BUILT))
      .ways[1].stages.find((s) => s.stage.id === padOf().id)!
      .parts.find((p) => p.spec.name === part)!.chosen;
  const pot = { kind: 'rheostat', totalOhm: 22, endOhm: 1, mismatchPct: 0 } as const;
  const control = (at = 0) => currentVariantOf(now()).controls[at];

  beforeEach(() => {
    openDesign(structuredClone(cabinet));
    edit(selectWay(ways()[1].id));
  });

  test('begins where the resistor was, on a shaft of its own that says whose it is', () => {
    edit(edits.holdPart(padOf().id, 'R1', pot, undefined, 3.2));
    expect(ohmOf('R1')).toBeCloseTo(3.2, 9);
    expect(control()).toMatchObject({ name: 'R1 of Pad', kind: 'pot', taper: 'linear', position: 2.2 / 22 });
    stands();
  });

  test.each([
    [0.2, 0],
    [1, 0],
    [23, 1],
    [99, 1],
    [undefined, 0.5],
  ])('of %d ohm it begins at %d of its turn', (startOhm, position) => {
    edit(edits.holdPart(padOf().id, 'R1', pot, undefined, startOhm));
    expect(control().position).toBeCloseTo(position, 9);
  });

  test('a switch begins at the position nearest to what was there, by ratio', () => {
    const ohms = [1, 2, 4.7, 10, 22];
    edit(edits.holdPart(padOf().id, 'R1', { kind: 'switch', ohms }, undefined, 6.5));
    expect(control()).toMatchObject({ kind: 'switch', position: 0.5 });
    expect(ohmOf('R1')).toBe(4.7);
    edit(edits.holdPart(padOf().id, 'R2', { kind: 'switch', ohms }, undefined, 7.1));
    expect(ohmOf('R2')).toBe(10);
  });

  test('a second gang turns with the first, off by what it is off', () => {
    edit(edits.holdPart(padOf().id, 'R1', pot, undefined, 12));
    edit(edits.holdPart(padOf().id, 'R2', pot, control().id));
    expect(currentVariantOf(now()).controls).toHaveLength(1);
    edit(edits.changeHeld(padOf().id, 'R2', { mismatchPct: 10 }));
    edit(edits.setControl(control().id, { position: 0.25 }));
    expect([ohmOf('R1'), ohmOf('R2')]).toEqual([expect.closeTo(6.5, 9), expect.closeTo(1 + 5.5 * 1.1, 9)]);
    // The first let go, the shaft stays for the other; both let go, it goes.
    edit(edits.releasePart(padOf().id, 'R1'));
    expect(currentVariantOf(now()).controls).toHaveLength(1);
    edit(edits.releasePart(padOf().id, 'R2'));
    expect(currentVariantOf(now()).controls).toEqual([]);
    expect(padOf().parts.R2.control).toBeUndefined();
    stands();
  });

  test('no more than sixteen shafts: the seventeenth part stays as it is', () => {
    edit((draft) => {
      for (let i = 0; i < 16; i++)
        currentVariantOf(draft).controls.push({ id: `c${i}`, name: 'x', kind: 'pot', position: 0, taper: 'linear' });
      const stage = currentVariantOf(draft).ways[1].stages[0];
      for (let i = 0; i < 16; i++) stage.parts[`R${100 + i}`] = { control: { ...pot, control: `c${i}` } };
    });
    const before = now();
    edit(edits.holdPart(padOf().id, 'R1', pot, undefined, 3));
    expect(now()).toBe(before);
    edit(edits.holdPart(padOf().id, 'R1', pot, 'c3'));
    expect(padOf().parts.R1.control).toMatchObject({ control: 'c3' });
  });

  test('what is not there, or not of that kind, is left alone', () => {
    const before = now();
    for (const change of [
      edits.holdPart('nobody', 'R1', pot),
      edits.changeHeld(padOf().id, 'R1', { endOhm: 3 }),
      edits.releasePart(padOf().id, 'R9'),
      edits.setControl('nobody', { position: 0.2 }),
      edits.setForm(padOf().id, 'no such form'),
      edits.setForm(ways()[1].stages[0].id, 'two resistors'),
      edits.setParameter('nobody', 'lossDb', 3),
      edits.addNetwork('sallen-key-unity-gain'),
    ])
      edit(change);
    expect(now()).toBe(before);
  });

  test('another form keeps the choices that have a place in it and drops the others', () => {
    edit(edits.holdPart(padOf().id, 'R2', pot, undefined, 12));
    edit(choosePart(padOf().id, 'R1', { use: { kind: 'single', values: [3.9] } }));
    edit(edits.setForm(padOf().id, 'one resistor'));
    expect(padOf().parts).toEqual({ R1: { use: { kind: 'single', values: [3.9] } } });
    expect(currentVariantOf(now()).controls).toEqual([]);
  });
});

test('what turns a pot of the circuit’s own is not let go', () => {
  openDesign(structuredClone(demo('Reed voice')));
  edit(edits.addNetwork('wah-inductor'));
  const wah = stages()[1];
  const [name, choice] = Object.entries(wah.parts).find(([, p]) => p.control?.kind === 'wiper')!;
  const before = now();
  edit(edits.releasePart(wah.id, name));
  expect(now()).toBe(before);
  edit(edits.changeHeld(wah.id, name, { endOhm: 33 }));
  expect(stages()[1].parts[name].control).toEqual({ ...choice.control, endOhm: 33 });
});

test('a circuit that asks for what it is to drive gets the brief’s load', () => {
  openDesign(structuredClone(demo('Reed voice')));
  edit((draft) => void (draft.brief.load.ohm = 33e3));
  edit(edits.addNetwork('emitter-follower'));
  expect(stages()[1].target).toMatchObject({ parameters: { loadOhm: 33e3 } });
  edit((draft) => void (draft.brief.load.ohm = null));
  edit(edits.addNetwork('emitter-follower'));
  expect(stages()[2].target).not.toMatchObject({ parameters: { loadOhm: 33e3 } });
});

test('a corner that is asked of typed values is met around them: 1 kΩ and 70 Hz are 2.27 µF', () => {
  openDesign(structuredClone(demo('Horn preamplifier')));
  const { id } = stages()[0];
  edit(choosePart(id, 'Ri', { use: { kind: 'single', values: [1000] } }));
  edit((draft) => {
    holdDecided(id)(draft);
    edits.setParameter(id, 'bottomHz', 70)(draft);
  });
  const { parts } = must(compile(now(), currentVariantOf(now()), AS_BUILT)).ways[0].stages[0];
  const of = (name: string) => parts.find((p) => p.spec.name === name)!;
  expect(of('Ri')).toMatchObject({ exact: 1000, chosen: 1000 });
  expect(of('Ci').exact * 2 * Math.PI * 70 * 1000).toBeCloseTo(1, 9);
  // E6 has 2.2 µF.
  expect(of('Ci').chosen).toBeCloseTo(2.2e-6, 12);
  stands();
});
