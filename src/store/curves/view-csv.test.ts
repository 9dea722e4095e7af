import Papa from 'papaparse';
import { AcSolver } from '@/core/analysis/ac/solver';
import { demoDesigns } from '@/core/design/demo/demo';
import { runAcoustics } from '@/core/jobs/loudspeaker/acoustics';
import { runAngles, runDecay } from '@/core/jobs/loudspeaker/speaker-views';
import { must } from '@/core/result';
import { deskOf } from '@/core/testing/desk-of';
import { csvOfView, type ViewAnswers } from './view-csv';

const solver = new AcSolver();
const NONE: ViewAnswers = { desk: null, acoustics: null, time: null, angles: null, decay: null, comparison: null };
const cabinet = demoDesigns().find((d) => d.title === 'Tone cabinet, two-way')!;
const grid = { fromHz: 20, toHz: 20e3, points: 31 };
const asked = { design: cabinet, variantId: cabinet.currentVariant };
const acoustics = must(runAcoustics({ kind: 'acoustics', ...asked, ghostVariantId: null, grid }, solver));

/** Rows by the header's names. */
const read = (csv: string | null): Record<string, number>[] =>
  Papa.parse<Record<string, number>>(csv!, { header: true, dynamicTyping: true, skipEmptyLines: true }).data;

test('of a crossover: ways, sum and load, and the sum is that of the ways as they are turned', () => {
  const rows = read(csvOfView('ways', { ...NONE, acoustics }));
  expect(rows).toHaveLength(31);
  expect(Object.keys(rows[0])).toEqual([
    'frequency_hz',
    'woofer_db_spl',
    'woofer_deg',
    'woofer_volts_db',
    'tweeter_db_spl',
    'tweeter_deg',
    'tweeter_volts_db',
    'sum_db_spl',
    'sum_deg',
    'target_db_spl',
    'load_ohm',
    'load_deg',
  ]);
  for (const row of rows) {
    const turn = (db: number, deg: number) => [10 ** (db / 20), (deg * Math.PI) / 180] as const;
    const [a, pa] = turn(row.woofer_db_spl, row.woofer_deg);
    const [b, pb] = turn(row.tweeter_db_spl, row.tweeter_deg);
    const sum = 20 * Math.log10(Math.hypot(a * Math.cos(pa) + b * Math.cos(pb), a * Math.sin(pa) + b * Math.sin(pb)));
    expect(row.sum_db_spl).toBeCloseTo(sum, 3);
    expect(row.load_ohm).toBeGreaterThan(2);
  }
  expect(read(csvOfView('load', { ...NONE, acoustics }))).toEqual(rows);
});

test('two ways of one name are told apart; a name of signs alone is a way', () => {
  const [way] = acoustics.ways;
  const twice = { ...acoustics, ways: [way, way, { ...way, name: '—' }] };
  const names = Object.keys(read(csvOfView('ways', { ...NONE, acoustics: twice }))[0]);
  expect(names).toEqual(expect.arrayContaining(['woofer_db_spl', 'woofer_db_spl_2', 'way_db_spl']));
  expect(new Set(names).size).toBe(names.length);
});

test('angles and decay are written slice by slice', () => {
  const angles = must(runAngles({ kind: 'angles', ...asked, grid, lobeHz: 2000 }, solver));
  const [first] = read(csvOfView('angles', { ...NONE, angles }));
  expect(first['up_0_deg_db_spl']).toBeCloseTo(angles.up.find((u) => u.deg === 0)!.sumDb[0], 6);
  expect(first['across_60_deg_db_spl']).toBeCloseTo(angles.across.find((u) => u.deg === 60)!.sumDb[0], 6);
  const decay = must(runDecay({ kind: 'decay', ...asked, ghostVariantId: null }, solver));
  const rows = read(csvOfView('decay', { ...NONE, decay }));
  expect(rows).toHaveLength(decay.freqHz.length);
  expect(rows[5]['after_0.4_ms_db_spl']).toBeCloseTo(decay.slices.find((s) => s.ms === 0.4)!.levelDb[5], 6);
});

test('a step in volts against seconds; what is not there has no column', () => {
  const time = {
    timeS: Float64Array.of(0, 1e-3),
    drive: Float64Array.of(1, 1),
    asBuilt: Float64Array.of(0, 0.5),
    ideal: null,
    ghost: Float64Array.of(0, 0.4),
    settling: null,
    bare: null,
    harmonics: null,
  };
  expect(read(csvOfView('step', { ...NONE, time }))).toEqual([
    { time_s: 0, input_v: 1, as_built_v: 0, ghost_v: 0 },
    { time_s: 0.001, input_v: 1, as_built_v: 0.5, ghost_v: 0.4 },
  ]);
});

test('a path’s response, with and without a ghost; a view that has no answer yet is no table', () => {
  const [rumble] = demoDesigns();
  const desk = deskOf(rumble);
  const alone = read(csvOfView('response', { ...NONE, desk }));
  expect(Object.keys(alone[0])).not.toContain('ghost_db');
  expect(alone[7].as_built_db).toBeCloseTo(desk.asBuilt.levelDb[7], 6);
  const both = read(csvOfView('delay', { ...NONE, desk: { ...desk, ghost: desk.asBuilt } }));
  expect(both[7].ghost_deg).toBeCloseTo(desk.asBuilt.phaseDeg[7], 6);
  for (const view of ['response', 'step', 'ways', 'angles', 'decay'] as const) expect(csvOfView(view, NONE)).toBeNull();
});
