import { demoDesigns } from '../demo/demo';
import type { Variant } from './schema';
import { atSetting, settingOf } from './setting';

const variants = demoDesigns().flatMap((d) => d.variants);
const having = (what: (v: Variant) => boolean) => variants.find(what) as Variant;

test('every variant stands again as it stood, whatever was turned since', () => {
  for (const variant of variants) {
    const turned: Variant = {
      ...variant,
      controls: variant.controls.map((c) => ({ ...c, position: 1 - c.position })),
      ways: variant.ways.map((way) => ({
        ...way,
        polarity: variant.join === 'acoustic' && way.polarity === 1 ? -1 : way.polarity,
      })),
      ...(variant.listening ? { listening: { ...variant.listening, acrossDeg: 30, upDeg: -10 } } : {}),
    };
    expect(atSetting(turned, settingOf(variant))).toEqual(variant);
  }
});

test('a control that is gone is passed over, and one that came since stands as it stands', () => {
  const variant = having((v) => v.controls.length > 0);
  const [control] = variant.controls;
  const since = { ...variant, controls: [{ ...control, id: 'new', position: 0.9 }] };
  expect(atSetting(since, settingOf(variant)).controls).toEqual(since.controls);
});

test('outputs and modes of stages come back', () => {
  const variant = having((v) => v.ways.some((w) => w.stages.length > 0));
  const other = structuredClone(variant);
  for (const stage of other.ways.flatMap((w) => w.stages)) Object.assign(stage, { output: 'other', mode: 'other' });
  const back = atSetting(other, settingOf(variant)).ways.flatMap((w) => w.stages);
  const before = variant.ways.flatMap((w) => w.stages);
  back.forEach((stage, i) => {
    if (before[i].output !== '') expect(stage.output).toBe(before[i].output);
    if (before[i].mode !== '') expect(stage.mode).toBe(before[i].mode);
  });
});

test('ways that sound together keep their polarities and the place they were heard from; others have none', () => {
  const listening = { fromHz: 200, toHz: 15e3, levelDb: null, distanceM: 2, acrossDeg: 10, upDeg: 0, lowestOhm: 3.5 };
  const cabinet: Variant = { ...having((v) => v.join === 'acoustic'), listening };
  const [first] = cabinet.ways;
  expect(settingOf(cabinet).polarities?.[first.id]).toBe(first.polarity);
  const filter = having((v) => v.join !== 'acoustic');
  expect(settingOf(filter)).not.toHaveProperty('polarities');
  expect(settingOf(filter)).not.toHaveProperty('acrossDeg');
  const { positions, outputs, modes } = settingOf(cabinet);
  const across: Variant = { ...cabinet, listening: { ...listening, acrossDeg: 25, upDeg: 5 } };
  expect(atSetting(across, { positions, outputs, modes }).listening).toMatchObject({ acrossDeg: 25, upDeg: 5 });
  const zero = { positions, outputs, modes, acrossDeg: 0, upDeg: 0 };
  expect(atSetting(across, zero).listening).toMatchObject({ acrossDeg: 0, upDeg: 0 });
});
