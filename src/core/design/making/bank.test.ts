import { levelsDb } from '../../analysis/curves/response';
import { AcSolver } from '../../analysis/ac/solver';
import { bankBands, bankCentres } from '../../filter/bank';
import { BANK_COLUMNS, guessColumns, readBankTable, stagesOfTable, writeBankCsv } from '../../format/bank-csv';
import { buildSheet } from '../building/build-sheet';
import { runBank } from '../../jobs/bank/bank';
import { logGrid } from '../../math/grid';
import { neighbours } from '../../parts/preferred';
import { bruteCurve } from '../../testing/brute-curve';
import { must } from '../../result';
import {
  bankOfParts,
  bandPeaks,
  bankTable,
  bankWays,
  levelBank,
  reaches,
  snapBank,
  trimmedPart,
  type BankSpec,
  USUAL_BANK,
} from './bank';
import { AS_BUILT, compile } from '../compiled/compile';
import { createDesign } from './create';
import { onlyCurrentWays } from '../document/current-way';
import { designSchema, type Design, type Variant, type Way } from '../document/schema';

/** A bank's table by what its headings seem to mean. */
const readBank = (text: string) => {
  const table = readBankTable(text);
  return stagesOfTable(table, guessColumns(table));
};

let n = 0;
const makeId = () => `b${n++}`;
const solver = new AcSolver();
const SPEC: BankSpec = USUAL_BANK;
const base = createDesign('bank', () => [], makeId);
const design: Design = {
  ...base,
  brief: { ...base.brief, source: { name: '', ohm: 0 } },
  preferences: { ...base.preferences, resistorSeries: 'E96', capacitorSeries: 'E6' },
};
const bankOf = (patch: Partial<BankSpec> = {}): Variant => {
  const spec = { ...SPEC, ...patch };
  return { ...design.variants[0], bank: spec, ways: must(bankWays(spec, makeId)) };
};
const curve = (way: Way, freqHz: Float64Array, values: 'exact' | 'chosen' = 'chosen'): Float64Array => {
  const built = must(
    compile(design, { ...design.variants[0], ways: [way] }, { ...AS_BUILT, values, devices: 'ideal' }),
  );
  return levelsDb(must(solver.sweep(built.circuit, freqHz, [built.ways[0].output]))[0]);
};
const peakOf = (way: Way): number =>
  curve(way, logGrid(way.plans[0].cutoffHz / 2, way.plans[0].cutoffHz * 2, 401)).reduce(
    (m, v) => Math.max(m, v),
    -Infinity,
  );

test('half octaves lie √2 apart and neighbours meet where both are 3 dB down', () => {
  const centres = bankCentres('half', 110, 12);
  expect(centres[2] / centres[0]).toBeCloseTo(2, 12);
  const bands = must(bankBands(centres));
  const ways = must(bankWays(SPEC, makeId));
  bands.slice(1).forEach(({ lowHz }, i) => {
    expect(lowHz).toBeCloseTo(bands[i].highHz, 9);
    for (const way of [ways[i], ways[i + 1]])
      expect(curve(way, Float64Array.of(lowHz), 'exact')[0]).toBeCloseTo(-10 * Math.log10(2), 2);
  });
  expect(bankBands([100, 90])).toMatchObject({ code: 'bank-bands' });
  expect(bankBands([100])).toMatchObject({ code: 'bank-bands' });
});

test.each([1, 2, 3])(
  'twelve half octaves of %d stages, snapped to E96 and E6: every peak within a quarter of a decibel, ' +
    'every value one of its series',
  (stages) => {
    const snapped = must(snapBank(bankOf({ stages }), design));
    for (const way of snapped.ways) {
      expect(Math.abs(peakOf(way))).toBeLessThan(0.25);
      for (const stage of way.stages)
        for (const [part, { use }] of Object.entries(stage.parts)) {
          const { below, above } = neighbours(use!.values[0], part.startsWith('R') ? 'E96' : 'E6');
          expect([part, below]).toEqual([part, above]);
        }
    }
  },
  60_000,
);

test('the gain that makes up what stages tuned apart lose is what puts the exact peak at 0 dB', () => {
  for (const stages of [2, 3]) {
    const [way] = bankOf({ stages, flatnessDb: 0.5 }).ways;
    expect(curve(way, logGrid(80, 150, 801), 'exact').reduce((m, v) => Math.max(m, v), -Infinity)).toBeCloseTo(0, 2);
  }
});

test('a bank’s table comes back as the same curves, and what each stage really does', () => {
  const variant = must(snapBank(bankOf(), design));
  const rows = must(bankTable(variant, design));
  expect(rows).toHaveLength(24);
  const back = bankOfParts(must(readBank(writeBankCsv(rows))), makeId);
  expect(back.map((w) => w.name)).toEqual(variant.ways.map((w) => w.name));
  back.forEach((way, i) => {
    const grid = logGrid(20, 20e3, 61);
    const [a, b] = [curve(way, grid), curve(variant.ways[i], grid)];
    a.forEach((level, k) => expect(level).toBeCloseTo(b[k], 6));
  });
  for (const row of rows) expect(Math.abs(row.centreHz! / row.wantedHz - 1)).toBeLessThan(0.02);
});

test('a trimmer reaches the target with the worst parts of their tolerance, and one too small does not', () => {
  const rows = must(bankTable(must(snapBank(bankOf(), design)), design));
  for (const { parts: v, wantedHz, trim } of rows) {
    const needs = (k: number) =>
      1 /
      ((2 * Math.PI * wantedHz) ** 2 * v.R2 * (1 + k / 100) * v.C1 * (1 + (5 * k) / 100) * v.C2 * (1 + (5 * k) / 100) -
        1 / (v.R1 * (1 - k / 100)));
    expect(trim!.ohm).toBeCloseTo(needs(0), 6);
    for (const worst of [needs(1), needs(-1)]) {
      expect(worst).toBeGreaterThan(trim!.fixedOhm);
      expect(worst).toBeLessThan(trim!.fixedOhm + trim!.trimmerOhm);
    }
  }
});

test('a bank whose levels drift is levelled by its input resistors alone', () => {
  const variant = must(snapBank(bankOf({ count: 6 }), design));
  // Every band's first input resistor larger than the one before: levels fall.
  const drifting = {
    ...variant,
    ways: variant.ways.map((way, i) => ({
      ...way,
      stages: way.stages.map((stage, k) =>
        k > 0
          ? stage
          : {
              ...stage,
              parts: {
                ...stage.parts,
                R1: {
                  use: {
                    kind: 'single' as const,
                    values: [stage.parts.R1.use!.values[0] * 1.05 ** i],
                  },
                },
              },
            },
      ),
    })),
  };
  const [before, level] = [must(bandPeaks(drifting, design)), must(levelBank(drifting, design))];
  const after = must(bandPeaks(level, design));
  const range = (peaks: number[]) => Math.max(...peaks) - Math.min(...peaks);
  expect(range(before)).toBeGreaterThan(1);
  expect(range(after)).toBeLessThan(0.25);
  level.ways.forEach((way, i) =>
    way.stages.forEach((stage, k) =>
      expect([stage.parts.C1, stage.parts.C2, stage.parts.R2]).toEqual([
        drifting.ways[i].stages[k].parts.C1,
        drifting.ways[i].stages[k].parts.C2,
        drifting.ways[i].stages[k].parts.R2,
      ]),
    ),
  );
});

test('free centres, a low-pass and a high-pass at the ends; all bands and their sum at once', () => {
  const variant = bankOf({ rule: 'free', centresHz: [100, 250, 1000, 3000], ends: true });
  expect(variant.ways.map((w) => w.plans[0].response)).toEqual(['lowpass', 'bandpass', 'bandpass', 'highpass']);
  const whole = { ...design, variants: [variant], currentVariant: variant.id };
  expect(designSchema.safeParse(whole).error).toBeUndefined();
  const bank = must(
    runBank(
      {
        kind: 'bank',
        design: whole,
        variantId: variant.id,
        grid: { fromHz: 20, toHz: 20e3, points: 61 },
      },
      solver,
    ),
  );
  expect(bank.bands).toHaveLength(4);
  // Far below all but the low-pass, and far above all but the high-pass, the sum is that band.
  expect(bank.sumDb[0]).toBeCloseTo(bank.bands[0].levelDb[0], 0);
  expect(bank.sumDb[60]).toBeCloseTo(bank.bands[3].levelDb[60], 0);
});

test('only the way that is worked on goes to the desk', () => {
  const variant = { ...bankOf({ count: 3 }) };
  const whole = {
    ...design,
    variants: [{ ...variant, currentWay: variant.ways[1].id }],
    currentVariant: variant.id,
  };
  expect(onlyCurrentWays(whole).variants[0].ways.map((w) => w.id)).toEqual([variant.ways[1].id]);
});

test.each([
  ['band,R1,R2,C1\nx,1k,2k,10n\n', 'bank-columns', 'C2'],
  ['band,R1,R2,C1,C2\nx,1k,zwei,10n,10n\n', 'bank-lines', 'line 2, R2: “zwei”'],
  ['band,R1,R2,C1,C2\n,1k,2k,10n,10n\n', 'bank-lines', 'line 2, band'],
])('%j is refused, and says where', (text, code, where) => {
  const read = readBank(text);
  expect(read).toMatchObject({ ok: false, code });
  expect(JSON.stringify(read)).toContain(where);
});

test('levelled, no band leaves its note: tuning and level are brought home together', () => {
  const ways = must(
    bankWays(
      { rule: 'octave', firstHz: 190, count: 5, centresHz: [], stages: 1, flatnessDb: 0.02, ends: false },
      makeId,
    ),
  );
  const base = createDesign('bank', () => [], makeId);
  const variant = must(snapBank({ ...base.variants[0], ways }, base));
  const level = must(levelBank(variant, base));
  const rows = must(bankTable(level, base));
  for (const row of rows) expect(Math.abs(row.centreHz! / row.wantedHz - 1)).toBeLessThan(0.016);
  const peaks = must(bandPeaks(level, base));
  expect(Math.max(...peaks) - Math.min(...peaks)).toBeLessThan(1);
});

test('a tilt is told apart by its causes: parts, or the levels fed in', async () => {
  const { JobRunner } = await import('../../jobs/run-job');
  const runner = new JobRunner();
  const ways = must(
    bankWays(
      { rule: 'third', firstHz: 5000, count: 5, centresHz: [], stages: 1, flatnessDb: 0.02, ends: false },
      makeId,
    ),
  );
  const base = createDesign('bank', () => [], makeId);
  const bank = async (patch: (way: Way, i: number) => Way, resistorSeries: 'E192' | 'E6' = 'E192') => {
    const design = {
      ...base,
      preferences: { ...base.preferences, resistorSeries },
      variants: [{ ...base.variants[0], ways: ways.map(patch) }],
    };
    return must(
      await runner.run<'bank'>({
        kind: 'bank',
        design,
        variantId: design.currentVariant,
        grid: { fromHz: 20, toHz: 20e3, points: 101 },
      }),
    ).drift!;
  };
  const fed = await bank((way, i) => ({
    ...way,
    levelTrimDb: i,
    stages: way.stages.map((s) => ({ ...s, device: 'ideal' })),
  }));
  expect(fed.levelsDb).toBeCloseTo(4, 9);
  expect(fed.opAmpsDb).toBeCloseTo(0, 6);
  const coarse = await bank((way) => ({ ...way, stages: way.stages.map((s) => ({ ...s, device: 'ideal' })) }), 'E6');
  expect(Math.abs(coarse.db)).toBeGreaterThan(0.1);
  expect(coarse.partsDb / coarse.db).toBeCloseTo(1, 1);
  // Slow op-amps: what goes with ideal ones is the tilt of the peaks with them less that without, each by brute force.
  const slow = await bank((way) => ({ ...way, stages: way.stages.map((s) => ({ ...s, device: 'micropower-1mhz' })) }));
  const peaksWith = (devices: 'ideal' | 'real') =>
    ways.map((way) => {
      const design = {
        ...base,
        preferences: { ...base.preferences, resistorSeries: 'E192' as const },
        variants: [
          {
            ...base.variants[0],
            ways: [{ ...way, stages: way.stages.map((s) => ({ ...s, device: 'micropower-1mhz' })) }],
          },
        ],
      };
      const built = must(compile(design, design.variants[0], { ...AS_BUILT, devices }));
      return bruteCurve(built.circuit, built.ways[0].output, 1000, 30e3).highest().levelDb;
    });
  // Slope of a least-squares line by its normal equations, over the four steps from the first band to the last.
  const tilt = (y: number[]) => (4 * (-2 * y[0] - y[1] + y[3] + 2 * y[4])) / 10;
  expect(slow.opAmpsDb).toBeCloseTo(tilt(peaksWith('real')) - tilt(peaksWith('ideal')), 3);
  expect(Math.abs(slow.opAmpsDb)).toBeGreaterThan(0.05);
  expect([coarse.levelsDb, coarse.opAmpsDb]).toEqual([expect.closeTo(0, 9), expect.closeTo(0, 6)]);
});

test('a maker’s own headings and units are read, and a trimmer in series is set to what its stage needs', () => {
  const text = [
    'Channel;Input (k);to ground [k];Trim (k);Feedback kΩ;C nF;f0',
    'low;68;3.3;2.2;150;10;440',
    'high;68k;2k7;470;150;10;900',
  ].join('\n');
  const table = readBankTable(text);
  const map = guessColumns(table);
  expect(Object.fromEntries(BANK_COLUMNS.map(({ id }) => [id, map[id]]))).toEqual({
    band: { column: 0, unit: '' },
    R1: { column: 1, unit: 'kΩ' },
    R1b: { column: 2, unit: 'kΩ' },
    trimmer: { column: 3, unit: 'kΩ' },
    R2: { column: 4, unit: 'kΩ' },
    C1: { column: 5, unit: 'nF' },
    C2: { column: 5, unit: 'nF' },
    wanted_hz: { column: 6, unit: 'Hz' },
  });
  const ohms = { ...map, trimmer: { column: 3, unit: 'Ω' } };
  const stages = must(stagesOfTable(table, ohms));
  expect(stages[1]).toEqual({
    band: 'high',
    parts: { R1: 68e3, R1b: 2700, R2: 150e3, C1: expect.closeTo(10e-9, 18), C2: expect.closeTo(10e-9, 18) },
    wantedHz: 900,
    trimmerOhm: 470,
  });
  const base = createDesign('bank', () => [], makeId);
  const variant = { ...base.variants[0], ways: bankOfParts(must(stagesOfTable(table, map)), makeId) };
  const rows = must(bankTable(variant, base));
  // 1/R1b = ω² R2 C² − 1/R1 (multiple feedback: ω² = (1/R1 + 1/R1b)/(R2 C²)).
  const needs = (hz: number) => 1 / ((2 * Math.PI * hz) ** 2 * 150e3 * 1e-16 - 1 / 68e3);
  expect(rows.map((r) => r.trim)).toEqual([
    expect.objectContaining({ listed: true, fixedOhm: 3300, trimmerOhm: 2200 }),
    expect.objectContaining({ listed: true, fixedOhm: 2700, trimmerOhm: 470e3 }),
  ]);
  for (const [i, hz] of [440, 900].entries()) {
    expect(rows[i].trim!.settingOhm).toBeCloseTo(needs(hz) - [3300, 2700][i], 3);
  }
  // 10.0 kΩ is more than 3.3 kΩ and the whole of 2.2 kΩ; 2.15 kΩ is less than 2.7 kΩ.
  expect(rows.map((r) => reaches(r.trim!))).toEqual([false, false]);
  // Both sides of its reach.
  expect(reaches({ ...rows[0].trim!, settingOhm: -1 })).toBe(false);
  expect(reaches({ ...rows[0].trim!, settingOhm: 2201 })).toBe(false);
  expect(reaches({ ...rows[0].trim!, settingOhm: 2199 })).toBe(true);
  // Set, the stage stands where it is wanted, and the list buys the trimmer, not its setting.
  const set = {
    ...variant,
    ways: variant.ways.map((way) => ({
      ...way,
      stages: way.stages.map((stage) => ({
        ...stage,
        parts: {
          ...stage.parts,
          R1b: trimmedPart(1500, 4700, needs(stage.target.kind === 'own' ? stage.target.freqHz : 0) - 1500),
        },
      })),
    })),
  };
  const within = must(bankTable(set, base)).filter((r) => reaches(r.trim!));
  expect(within.map((r) => r.band)).toEqual(['high']);
  for (const row of within) expect(row.centreHz! / row.wantedHz).toBeCloseTo(1, 9);
  const bought = must(buildSheet({ ...base, variants: [set] }, set)).parts.filter((l) => l.kind === 'potentiometer');
  expect(bought.map((l) => [l.value, l.perBoard])).toEqual([[4700, 2]]);
});
