import { AS_BUILT, compile } from '@/core/design/compiled/compile';
import { copyVariant } from '@/core/design/making/copy-variant';
import { demoDesigns } from '@/core/design/demo/demo';
import { designSchema, type Design } from '@/core/design/document/schema';
import { must } from '@/core/result';
import { documentStore, edit, openDesign, undo } from '../document';
import { changeChain, setControlChain, setJackRange, setTrimmers } from './chain-edits';
import { currentVariantOf, setTopology } from './edits';
import { addNetwork, setForm } from './network-edits';
import { addMove, changeMove, changeSequence, changeStep, removeMove } from './played-edits';

const now = (): Design => documentStore.getState().design as Design;
const variant = () => currentVariantOf(now());
const stage = () => variant().ways[0].stages[0];
const names = () => variant().controls.map((c) => c.name);
/** What every edit leaves: a valid document that compiles, with no control that turns nothing. */
const stands = () => {
  expect(designSchema.safeParse(now()).success).toBe(true);
  must(compile(now(), variant(), AS_BUILT));
  const held = new Set(
    variant().ways.flatMap((w) => w.stages.flatMap((s) => Object.values(s.parts).map((p) => p.control?.control))),
  );
  expect(variant().controls.filter((c) => !held.has(c.id))).toEqual([]);
};
const open = (title: string) =>
  openDesign(structuredClone(demoDesigns().find((d) => d.title.startsWith(title)) as Design));

test('a chain is given, asked for other figures, taken off again; undo brings each back', () => {
  open('Reed voice');
  expect(names()).toEqual(['Cutoff CV']);
  edit(setControlChain(stage().id, 'exponential-converter'));
  expect(stage().controlledBy).toMatchObject({ circuit: 'exponential-converter', form: 'tempco resistor' });
  expect(stage().parts.I1).toBeUndefined();
  expect(names()).toEqual(['Cutoff', 'Pitch CV', 'Modulation CV', 'Modulation depth']);
  stands();
  edit(setControlChain(stage().id, 'exponential-converter', 'heated pair'));
  expect(stage().controlledBy?.form).toBe('heated pair');
  stands();
  const before = stage().parts.Rc4.use;
  edit(changeChain(stage().id, { voltsPerOctave: 0.5 }));
  expect(stage().controlledBy?.parameters.voltsPerOctave).toBe(0.5);
  expect(stage().parts.Rc4.use).not.toEqual(before);
  expect(names()).toHaveLength(4);
  stands();
  edit(setTrimmers(stage().id, [{ part: 'Rc4', ohm: 100e3, fixedOhm: 82e3 }]));
  expect(stage().parts.Rc4.use?.values).toEqual([82e3, 18e3]);
  edit(setControlChain(stage().id, null));
  expect(stage().controlledBy).toBeUndefined();
  expect(names()).toHaveLength(1);
  stands();
  undo();
  expect(names()).toHaveLength(4);
  expect(stage().parts.Rc4.use?.values).toEqual([82e3, 18e3]);
});

test('a jack keeps its volts when its range is another, as far as they lie in it; an empty range is refused', () => {
  open('Drone');
  const jack = () => {
    const held = stage().parts.Jc1.control;
    const at = variant().controls.find((c) => c.id === held?.control)?.position ?? NaN;
    return held?.kind === 'voltage' ? held.fromVolts + (held.toVolts - held.fromVolts) * at : NaN;
  };
  expect(jack()).toBeCloseTo(0, 9);
  edit(setJackRange(stage().id, 'Jc1', { fromVolts: -1, toVolts: 9 }));
  expect(jack()).toBeCloseTo(0, 9);
  edit(setJackRange(stage().id, 'Jc1', { fromVolts: 2, toVolts: 5 }));
  expect(jack()).toBeCloseTo(2, 9);
  edit(setJackRange(stage().id, 'Jc1', { fromVolts: 5, toVolts: 5 }));
  expect(jack()).toBeCloseTo(2, 9);
  stands();
});

test('another circuit in its place keeps having a chain; one without a current has none; forms keep theirs', () => {
  open('Drone');
  edit(setTopology(stage().id, 'ota-state-variable'));
  expect(stage().controlledBy?.circuit).toBe('exponential-converter');
  stands();
  edit(setForm(stage().id, 'band-pass'));
  expect(stage().controlledBy?.circuit).toBe('exponential-converter');
  stands();
  edit(setTopology(stage().id, 'diode-legs'));
  expect(stage().controlledBy?.circuit).toBe('linear-converter');
  stands();
  edit(setTopology(stage().id, 'wah-inductor'));
  expect(stage().controlledBy).toBeUndefined();
  stands();
  edit(addNetwork('ota-one-pole'));
  expect(variant().ways[0].stages[1].controlledBy?.circuit).toBe('exponential-converter');
  stands();
});

test('what is played is the design’s: steps, tempo and moves, undone and copied with the controls they move', () => {
  open('Reed voice');
  edit(changeStep(2, { semitones: -5, slide: true }));
  edit(changeSequence({ bpm: 90 }));
  expect(variant().played?.sequence).toMatchObject({ bpm: 90 });
  expect(variant().played?.sequence.steps[2]).toMatchObject({ semitones: -5, slide: true });
  const [control] = variant().controls;
  const move = {
    controlId: control.id,
    depth: 0.2,
    by: { kind: 'oscillation' as const, hz: 2, shape: 'sine' as const },
  };
  edit(addMove(move));
  edit(changeMove(0, { ...move, depth: -0.4 }));
  expect(variant().played?.moves).toEqual([{ ...move, depth: -0.4 }]);
  stands();
  let made = 0;
  const copy = copyVariant(variant(), 'copy', 'Z', '', () => `copied-${made++}`);
  expect(copy.played?.moves[0].controlId).toBe(copy.controls[0].id);
  expect(copy.controls[0].id).not.toBe(control.id);
  edit(removeMove(0));
  expect(variant().played?.moves).toEqual([]);
  undo();
  expect(variant().played?.moves).toHaveLength(1);
});
