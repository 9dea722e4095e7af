import { createDesign, createPlan } from '../design/making/create';
import { demoDesigns } from '../design/demo/demo';
import type { Design } from '../design/document/schema';
import { buildSheet } from '../design/building/build-sheet';
import { must } from '../result';
import { JobRunner } from './run-job';
import type { DeskRequest, DeskResult } from './desk/desk-types';

let n = 0;
const makeId = () => `j${n++}`;
const runner = new JobRunner();
const [rumble, hiss, band] = demoDesigns();
const GRID = { fromHz: 5, toHz: 50e3, points: 401 };
const desk = async (design: Design, patch: Partial<DeskRequest> = {}): Promise<DeskResult> =>
  must(
    await runner.run<'desk'>({
      kind: 'desk',
      design,
      variantId: design.currentVariant,
      ghostVariantId: null,
      grid: GRID,
      ...patch,
    }),
  );

/**
 * A design with ideal parts of the E192 series, no source resistance and no load, so that figures are the textbook's.
 */
function textbook(order: number, alignment: Parameters<typeof createPlan>[2], patch: object = {}): Design {
  const base = createDesign(
    't',
    (id) => [{ ...createPlan(id(), 'lowpass', alignment, order, 1000), ...patch }],
    makeId,
  );
  return {
    ...base,
    brief: { ...base.brief, source: { name: '', ohm: 0 }, load: { name: '', ohm: null } },
    preferences: { ...base.preferences, resistorSeries: 'E192' },
  };
}

describe('desk', () => {
  test('marks the cutoff, the slope and, with a high Q, the peak', async () => {
    const result = await desk(textbook(8, 'butterworth'));
    const cutoff = result.marks.find((m) => m.kind === 'cutoff');
    expect(Math.abs((cutoff?.freqHz ?? 0) / 1000 - 1)).toBeLessThan(0.01);
    const slope = result.marks.find((m) => m.kind === 'slope');
    expect(slope?.kind === 'slope' && slope.slopeDbPerOctave).toBeCloseTo(-48, 0);
    expect(result.stages.map((s) => s.target?.q.toFixed(4))).toEqual(['0.5098', '0.6013', '0.9000', '2.5629']);
    const base = textbook(2, 'butterworth');
    const sharp: Design = {
      ...base,
      variants: base.variants.map((v) => ({
        ...v,
        ways: v.ways.map((w) => ({
          ...w,
          stages: w.stages.map((s) => ({
            ...s,
            target: {
              kind: 'own' as const,
              of: null,
              response: 'lowpass' as const,
              order: 2 as const,
              freqHz: 1000,
              q: 3,
              gainDb: 0,
            },
          })),
        })),
      })),
    };
    const peaky = await desk(sharp);
    expect(peaky.marks.some((m) => m.kind === 'peak' && m.freqHz < 1000)).toBe(true);
  });

  test('ideal of a fourth-order Linkwitz-Riley is 6.02 dB down at its cutoff', async () => {
    const result = await desk(textbook(4, 'linkwitz-riley'), {
      grid: { fromHz: 100, toHz: 10e3, points: 201 },
    });
    expect(result.freqHz[100]).toBeCloseTo(1000, 6);
    expect(result.ideal.levelDb[100]).toBeCloseTo(-6.0206, 4);
  });

  test('a load through an output resistor costs what the divider says, and the cure mends it', async () => {
    const result = await desk(band);
    const last = result.joints.at(-1);
    expect(last?.lossDb).toBeCloseTo(20 * Math.log10(2200 / 3200), 1);
    expect(last).toMatchObject({ verdict: 'bad', fromOhm: 1000 });
    expect(last?.seesOhm).toBeCloseTo(2200, 6);
    const cure = result.checks.find((c) => c.id === `joint-${last?.index}`)?.cure;
    expect(cure?.kind).toBe('set-output-resistor');
    const ohm = cure?.kind === 'set-output-resistor' ? cure.ohm : NaN;
    const mended: Design = {
      ...band,
      variants: band.variants.map((v, i) =>
        i === 0 ? { ...v, ways: [{ ...v.ways[0], outputResistor: { ohm } }] } : v,
      ),
    };
    expect((await desk(mended)).joints.at(-1)?.verdict).toBe('ok');
  });

  test('a passive stage into a heavy load is told to be buffered; a stiff source costs nothing', async () => {
    const base = textbook(1, 'butterworth');
    const passive: Design = {
      ...base,
      brief: { ...base.brief, load: { name: 'x', ohm: 10e3 } },
      variants: base.variants.map((v) => ({
        ...v,
        ways: v.ways.map((w) => ({
          ...w,
          stages: w.stages.map((s) => ({ ...s, topology: 'first-order-passive' })),
        })),
      })),
    };
    const result = await desk(passive);
    expect(result.joints[0].lossDb).toBeCloseTo(0, 9);
    expect(result.checks.find((c) => c.id === 'joint-1')).toMatchObject({
      level: 'bad',
      cure: { kind: 'use-topology', topology: 'first-order-buffered' },
    });
  });

  test('a mask is met or missed by its room at the worst place', async () => {
    const base = textbook(2, 'butterworth');
    const limit = (kind: 'at-most' | 'at-least', freqHz: number, db: number) => ({
      id: kind,
      kind,
      side: kind === 'at-most' ? ('below' as const) : ('above' as const),
      freqHz,
      db,
    });
    const masked: Design = {
      ...base,
      brief: { ...base.brief, mask: [limit('at-most', 500, 1), limit('at-least', 4000, 30)] },
    };
    const { brief, checks } = await desk(masked);
    // |H|² = 1/(1 + (f/fc)⁴): 0.263 dB down at half the cutoff, 24.1 dB at four times.
    expect(brief[0]).toMatchObject({ met: true, atHz: 500 });
    expect(brief[0].byDb).toBeCloseTo(1 - 0.2633, 1);
    expect(brief[1]).toMatchObject({ met: false });
    expect(brief[1].byDb).toBeCloseTo(24.1 - 30, 0);
    expect(checks.filter((c) => c.code.startsWith('brief')).map((c) => c.level)).toEqual(['ok', 'bad']);
  });

  test('op-amps: reach, bandwidth, stability, swing and slew are judged with numbers', async () => {
    const at = (cutoffHz: number, device: string, volts = 1) => {
      const base = textbook(2, 'butterworth', { cutoffHz });
      return desk(
        {
          ...base,
          brief: { ...base.brief, signalVolts: volts },
          variants: base.variants.map((v) => ({
            ...v,
            ways: v.ways.map((w) => ({ ...w, stages: w.stages.map((s) => ({ ...s, device })) })),
          })),
        },
        { grid: { fromHz: 10, toHz: 10e6, points: 301 } },
      );
    };
    const codes = (result: DeskResult, level: string) =>
      result.checks.filter((c) => c.level === level).map((c) => c.code);
    expect(codes(await at(1e6, 'micropower-1mhz'), 'bad')).toContain('beyond-reach');
    expect(codes(await at(150e3, 'micropower-1mhz'), 'bad')).toContain('bandwidth');
    expect(codes(await at(1000, 'fast-50mhz-decompensated'), 'bad')).toContain('not-stable');
    expect(codes(await at(1000, 'jfet-audio-3mhz', 9), 'bad')).toContain('swing');
    expect(codes(await at(20e3, 'micropower-1mhz', 6), 'bad')).toContain('slew');
    expect(codes(await at(1000, 'jfet-audio-3mhz'), 'bad')).toEqual([]);
  });

  test('ghost, retuned and bypassed stages show in the traces', async () => {
    const withGhost = await desk(band, { ghostVariantId: band.variants[1].id });
    expect(withGhost.ghost?.levelDb[0]).toBeGreaterThan(withGhost.asBuilt.levelDb[0]);
    const bypassed: Design = {
      ...band,
      variants: band.variants.map((v) => ({
        ...v,
        ways: v.ways.map((w) => ({
          ...w,
          stages: w.stages.map((s) => ({ ...s, bypassed: true })),
        })),
      })),
    };
    const flat = await desk(bypassed);
    expect(Math.max(...flat.asBuilt.levelDb) - Math.min(...flat.asBuilt.levelDb)).toBeLessThan(1e-9);
  });

  test(
    'parts left out still give an answer where capacitors hold the node; a variant that is not there is ' + 'a failure',
    async () => {
      const broken: Design = {
        ...rumble,
        variants: rumble.variants.map((v) => ({
          ...v,
          ways: v.ways.map((w) => ({
            ...w,
            stages: w.stages.map((s) => ({
              ...s,
              parts: { R1: { leftOut: true }, R2: { leftOut: true } },
            })),
          })),
        })),
      };
      const answer = await runner.run<'desk'>({
        kind: 'desk',
        design: broken,
        variantId: broken.currentVariant,
        ghostVariantId: null,
        grid: GRID,
      });
      expect(answer.ok).toBe(true);
      expect(
        await runner.run<'desk'>({
          kind: 'desk',
          design: rumble,
          variantId: 'nope',
          ghostVariantId: null,
          grid: GRID,
        }),
      ).toMatchObject({ code: 'no-such-variant' });
    },
  );
});

test(
  'detail: in a unity-gain Sallen-Key each part moves the cutoff by half its change, and leaving out ' +
    'C2 costs nothing at DC',
  async () => {
    const design = textbook(2, 'butterworth');
    const stage = design.variants[0].ways[0].stages[0].id;
    const parts = must(
      await runner.run<'detail'>({
        kind: 'detail',
        design,
        variantId: design.currentVariant,
        stageId: stage,
      }),
    );
    for (const part of parts) expect(part.movesCutoff).toBeCloseTo(-0.5, 2);
    // S of Q to C1 is ½ and to C2 −½ (Sallen-Key unity gain).
    expect(parts.find((p) => p.part === 'C1')?.movesQ).toBeCloseTo(0.5, 2);
    expect(parts.find((p) => p.part === 'C2')?.movesQ).toBeCloseTo(-0.5, 2);
    expect(parts.every((p) => p.leaveOut === null || Math.abs(p.leaveOut.costDb) > 0.1)).toBe(true);
  },
);

test('compare: equal parts spread least and feel their parts most', async () => {
  const candidates = must(
    await runner.run<'compare'>({ kind: 'compare', design: band, variantId: band.currentVariant }),
  );
  const by = (id: string) => {
    const figures = candidates.find((c) => c.topology === id)?.figures;
    if (!figures || 'ok' in figures) throw new Error('no figures');
    return figures;
  };
  expect(by('sallen-key-equal-parts').worstSensitivityOfQ).toBeGreaterThan(
    by('sallen-key-unity-gain').worstSensitivityOfQ,
  );
  expect(by('sallen-key-unity-gain').partCount).toBeLessThan(by('multiple-feedback').partCount);
  expect(candidates.find((c) => c.current)?.topology).toBe('sallen-key-unity-gain');
});

test('time: a critically damped low-pass does not overshoot, a Butterworth of second order by 4.3 %', async () => {
  const step = async (alignment: 'critically-damped' | 'butterworth') => {
    const design = textbook(2, alignment);
    return must(
      await runner.run<'time'>({
        kind: 'time',
        design,
        variantId: design.currentVariant,
        ghostVariantId: null,
        wave: { kind: 'step' },
      }),
    );
  };
  const overshoot = async (alignment: 'critically-damped' | 'butterworth') => {
    const { settling } = await step(alignment);
    return settling?.figures === 'found' ? settling.end?.overshootPct : undefined;
  };
  expect(await overshoot('critically-damped')).toBeLessThan(0.1);
  expect(await overshoot('butterworth')).toBeCloseTo(4.3, 0);
  const square = must(
    await runner.run<'time'>({
      kind: 'time',
      design: band,
      variantId: band.currentVariant,
      ghostVariantId: band.variants[1].id,
      wave: { kind: 'periodic', wave: 'square', freqHz: 500 },
    }),
  );
  expect(square.settling).toBeNull();
  expect(square.ghost?.length).toBe(square.timeS.length);
});

describe('spread', () => {
  const request = {
    kind: 'spread' as const,
    design: hiss,
    variantId: hiss.currentVariant,
    seed: 3,
    runs: 200,
    grid: { fromHz: 100, toHz: 50e3, points: 101 },
  };
  test('the same seed draws the same builds, another seed others', async () => {
    const [a, b, c] = [
      must(await runner.run<'spread'>(request)),
      must(await runner.run<'spread'>(request)),
      must(await runner.run<'spread'>({ ...request, seed: 4 })),
    ];
    // The first sweeps are replayed and later ones compiled, which differ in the last digit.
    a.p95Db.forEach((level, i) => expect(b.p95Db[i]).toBeCloseTo(level, 10));
    expect(a.p95Db).not.toEqual(c.p95Db);
    a.freqHz.forEach((_, i) =>
      expect(
        a.minDb[i] <= a.p05Db[i] && a.p05Db[i] <= a.p50Db[i] && a.p50Db[i] <= a.p95Db[i] && a.p95Db[i] <= a.maxDb[i],
      ).toBe(true),
    );
    expect(a.blame.reduce((sum, part) => sum + part.share, 0)).toBeCloseTo(1, 0);
  });
  test('the scatter of a single RC is that of its two tolerances', async () => {
    const design = textbook(1, 'butterworth');
    const result = must(
      await runner.run<'spread'>({
        ...request,
        design,
        variantId: design.currentVariant,
        runs: 4000,
        grid: { fromHz: 500, toHz: 2000, points: 61 },
      }),
    );
    const draws = result.cutoffs[0].drawsHz;
    const mean = draws.reduce((s, v) => s + v, 0) / draws.length;
    const sigma = Math.sqrt(draws.reduce((s, v) => s + (v - mean) ** 2, 0) / draws.length) / mean;
    // Uniform ±1 % and ±5 %: σ² = (0.01² + 0.05²)/3; 4,000 draws know it to about 1 %.
    expect(Math.abs(sigma / Math.sqrt((0.01 ** 2 + 0.05 ** 2) / 3) - 1)).toBeLessThan(0.04);
    expect(result.blame[0].part).toBe('C1');
  });
  test('stops when asked to, and has said how far it was', async () => {
    const signal = { aborted: false };
    const seen: number[] = [];
    const answer = await runner.run<'spread'>(
      { ...request, runs: 10_000 },
      {
        signal,
        pause: async () => {},
        progress: (share) => {
          seen.push(share);
          if (seen.length === 3) signal.aborted = true;
        },
      },
    );
    expect(answer).toMatchObject({ ok: false, code: 'cancelled', data: { done: 75 } });
    expect(seen).toHaveLength(3);
  });
});

test('build sheet: every pin is wired once, every part counted', () => {
  const sheet = must(buildSheet({ ...band, preferences: { ...band.preferences, boards: 3 } }, band.variants[0]));
  const references = sheet.parts.flatMap((line) => line.references);
  expect(new Set(references).size).toBe(references.length);
  expect(references).toContain('Rout');
  for (const line of sheet.parts) expect(line.total).toBe(3 * line.perBoard);
  const pins = sheet.connections.flatMap((c) => c.pins);
  expect(new Set(pins).size).toBe(pins.length);
  for (const reference of references)
    expect(pins.filter((p) => p.startsWith(`${reference} `)).length).toBe(reference.startsWith('U') ? 3 : 2);
  expect(sheet.connections.map((c) => c.net)).toEqual(expect.arrayContaining(['ground', 'input', 'output']));
});

test('topologies', async () => {
  expect(must(await runner.run<'topologies'>({ kind: 'topologies' })).map((t) => t.id)).toContain('multiple-feedback');
});

test('what is no request says so, with its place, before anything is worked out', async () => {
  const ask = (request: object) => runner.run(request as never);
  expect(await ask({ kind: 'no-such' })).toMatchObject({ ok: false, code: 'bad-request', data: { at: 'kind' } });
  const given = { kind: 'desk', design: rumble, variantId: rumble.currentVariant, ghostVariantId: null };
  expect(await ask({ ...given, grid: { ...GRID, fromHz: NaN } })).toMatchObject({
    code: 'bad-request',
    data: { kind: 'desk', at: 'grid.fromHz' },
  });
  expect(await ask({ ...given, design: {}, grid: GRID })).toMatchObject({
    code: 'bad-request',
    data: { at: 'design' },
  });
});
