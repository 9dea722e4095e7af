import { must } from '../../result';
import { DeckBoard, deckOf, FREQ_HZ, heard, linear, runner, toleranceOf } from '../../testing/deck-board';
import { denseCurve } from '../../testing/dense-response';
import { seeded } from '../../testing/seeded';

describe('what is of the recording, and not of the board', () => {
  const design = linear[0];
  const boardOf = (seed: string) => new DeckBoard(deckOf(design), seeded(seed)).drawn(toleranceOf(design)).toString();
  const sound = Math.max(...denseCurve(deckOf(design), FREQ_HZ).levelDb);
  const judged = async (
    change: (curve: ReturnType<typeof heard>) => Partial<ReturnType<typeof heard>>,
    deck: string,
  ) => {
    const curve = heard(deck, sound, seeded('recorded'));
    const measured = [{ probe: 'out', ...curve, ...change(curve) }];
    const asked = { kind: 'rank-faults', design, variantId: design.currentVariant, measured } as const;
    return must(await runner.run<'rank-faults'>({ ...asked, measured }));
  };
  const turned = (turn: (f: number) => number) => (curve: ReturnType<typeof heard>) => ({
    phaseDeg: curve.phaseDeg.map((deg, i) => deg + turn(curve.freqHz[i])),
  });

  test.each([1 / 48_000, 2 / 48_000, 0.004])(
    'a delay of %d s between recording and reference is no fault',
    async (s) => {
      const { healthy } = await judged(
        turned((f) => -360 * f * s),
        boardOf('late'),
      );
      expect(healthy).toBeGreaterThan(0.5);
    },
  );

  test('an inverted recording is said first', async () => {
    const { healthy, ranked: list } = await judged(
      turned(() => 180),
      boardOf('inverted'),
    );
    expect(healthy).toBeLessThan(0.01);
    expect(list[0].kind).toBe('inverted');
    expect(list[0].probability).toBeGreaterThan(0.9);
  });

  test('a nominal board recorded without any noise is sound', async () => {
    const { levelDb, phaseDeg } = denseCurve(deckOf(design), FREQ_HZ);
    const clean = () => ({ levelDb, phaseDeg, noiseDb: FREQ_HZ.map(() => -289) }) as never;
    expect((await judged(clean, boardOf('clean'))).healthy).toBeGreaterThan(0.5);
  });

  test('nothing but noise is an open joint, a short or a dead device, not a refusal', async () => {
    const silent = (curve: ReturnType<typeof heard>) => ({
      levelDb: curve.levelDb.map((_, i) => -95 + Math.sin(i * i)),
      phaseDeg: curve.phaseDeg.map((_, i) => (i * 137.5) % 360),
      noiseDb: FREQ_HZ.map(() => -95) as never,
    });
    const { healthy, ranked: list } = await judged(silent, boardOf('silent'));
    expect(healthy).toBeLessThan(1e-6);
    expect(['open', 'short', 'dead']).toContain(list[0].kind);
  });
});
