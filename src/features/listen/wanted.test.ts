import { CATALOGUE } from '@/core/catalogue/catalogue';
import { countingIds } from '@/core/design/making/create';
import { FIRST_SEQUENCE, type Move } from '@/core/design/document/played';
import type { Design, Variant } from '@/core/design/document/schema';
import { FIRST_WANTED, listenRequest, movedControl, NO_CONTROL, OWN_S, playOf, SUM, type Wanted } from './wanted';

const starting = (id: string): Design => CATALOGUE.find((e) => e.id === id)!.start(countingIds('w'));
const ladder = starting('transistor-ladder');
const [first] = ladder.variants;
/** The same circuit again: its controls have ids of their own and the same names. */
const second: Variant = {
  ...first,
  id: 'second',
  controls: first.controls.map((c) => ({ ...c, id: `${c.id}'` })),
};
const wanted: Wanted = { ...FIRST_WANTED, volts: 0.5 };
const own = { name: 'bell.wav', samples: new Float32Array(24_000), rateHz: 48_000 };

describe('a variant that is rendered beside another', () => {
  const by = { kind: 'envelope', attackS: 0.01, decayS: 0.1, accent: 0 } as const;
  const moves: Move[] = [first.controls[0].id, 'gone'].map((controlId) => ({ controlId, depth: 0.2, by }));
  const moving: Variant = { ...first, played: { sequence: FIRST_SEQUENCE, moves } };

  test('is moved by its own control of the same name, and by none that it has not', () => {
    const asked = listenRequest(ladder, second, moving, wanted, 'notes');
    expect(asked.variantId).toBe('second');
    expect(asked.envelope?.controlId).toBe(`${movedControl(first, wanted)!.id}'`);
    expect(asked.moves?.map((m) => m.controlId)).toEqual([`${first.controls[0].id}'`]);
    const bare = { ...second, controls: [] };
    expect(listenRequest(ladder, bare, moving, wanted, 'notes')).toMatchObject({ envelope: null, moves: [] });
  });

  test('by per cent of the travel, as fast as is said; by nothing where that is said', () => {
    const shape = { depth: -25, attackS: 0.1, decayS: 0.2 };
    expect(listenRequest(ladder, first, first, { ...wanted, shape }, 'notes').envelope).toMatchObject({
      depth: -0.25,
      attackS: 0.1,
      decayS: 0.2,
    });
    expect(listenRequest(ladder, first, first, { ...wanted, control: NO_CONTROL }, 'notes').envelope).toBeNull();
    expect(movedControl(first, wanted)?.kind).toBe('cv');
    expect(movedControl(first, { ...wanted, control: first.controls[0].id })).toBe(first.controls[0]);
  });
});

test('notes in turn, or a sequence of two rounds that no envelope moves', () => {
  const notes = listenRequest(ladder, first, first, { ...wanted, clef: 'high', noteS: 0.25 }, 'notes');
  expect(notes).toMatchObject({ source: 'saw', notesHz: [220, 330, 440, 294], noteS: 0.25, volts: 0.5 });
  expect(notes).not.toHaveProperty('sequence');
  const sequence = listenRequest(ladder, first, first, wanted, 'sequence');
  expect(sequence).toMatchObject({ sequence: { of: FIRST_SEQUENCE, rounds: 2 }, envelope: null });
  expect(playOf(first, 'sequence')).toEqual({ kind: 'sequence', of: FIRST_SEQUENCE });
  expect(playOf(first, 'keys')).toEqual({ kind: 'keys' });
  expect(playOf(first, 'notes')).toEqual({ kind: 'steady' });
});

test('a recording is played once as long as it is, over and over for eight seconds, and never as a sequence', () => {
  const asked = (looped: boolean, seconds = 0.5) =>
    listenRequest(
      ladder,
      first,
      first,
      { ...wanted, source: { ...own, samples: new Float32Array(48_000 * seconds) }, looped },
      'sequence',
    );
  expect(asked(false)).toMatchObject({ notesHz: [1], noteS: 0.5, source: { rateHz: 48_000 } });
  expect(asked(false, 20).noteS).toBe(OWN_S);
  expect(asked(true)).toMatchObject({ noteS: OWN_S, looped: true });
  expect(asked(false)).not.toHaveProperty('sequence');
  expect(asked(false).envelope).not.toBeNull();
});

test('of a crossover all is heard, or a way that it has; of anything else no part is asked for', () => {
  const crossover = starting('crossover-2');
  const [variant] = crossover.variants;
  const heard = (part: string) => listenRequest(crossover, variant, variant, { ...wanted, part }, 'notes').part;
  expect(heard(SUM)).toBe(SUM);
  expect(heard(variant.ways[1].name)).toEqual({ way: variant.ways[1].name });
  expect(heard('Subwoofer')).toBe(SUM);
  expect(listenRequest(ladder, first, first, wanted, 'notes')).not.toHaveProperty('part');
});
