import { readFileSync, writeFileSync } from 'node:fs';
import { readWav, writeFloatWav } from '../src/core/format/wav';
import { must } from '../src/core/result';
import { reedCommand } from './testing/reed-command';

// Every call is a process of its own.
jest.setTimeout(60_000);

const { file, reed } = reedCommand();
const FILTER = ['design', '--response', 'lowpass', '--alignment', 'butterworth', '--order', '4', '--cutoff', '1k'];

beforeAll(async () => {
  await reed(...FILTER, '--out', 'filter.json');
  await reed('sweep', '--from', '10', '--to', '21k', '--seconds', '1', '--out', 'sweep.wav');
  await reed('bench', 'filter.json', '--of', 'cable', '--in', 'sweep.wav', '--out', 'cable.wav');
});

const rows = (csv: string) =>
  csv
    .trim()
    .split('\n')
    .slice(1)
    .map((line) => line.split(',').map(Number));

test('sweep, bench and analyse give the response of the board that was drawn, within its tolerances', async () => {
  const { samples, rateHz } = must(readWav(readFileSync(file('sweep.wav'))));
  expect([rateHz, samples.length]).toEqual([48e3, 48e3 + 48e3]);
  expect(await reed('bench', 'filter.json', '--seed', '2', '--in', 'sweep.wav', '--out', 'board.wav')).toMatchObject({
    code: 0,
  });
  const said = await reed(
    'analyse',
    'board.wav',
    '--sweep',
    'sweep.wav',
    '--reference',
    'cable.wav',
    '--out',
    'board.csv',
  );
  expect(said).toMatchObject({ code: 0, out: '' });
  expect(said.err).toMatch(/ms late; .* ms listened to; sweeps: 1/);
  const csv = readFileSync(file('board.csv'), 'utf8');
  expect(csv.split('\n')[0]).toBe('frequency_hz,magnitude_db,phase_deg,noise_db,h2_db,h3_db');
  await reed('deck', 'filter.json', '--out', 'filter.cir');
  const predicted = rows((await reed('response', 'filter.cir', '--grid', 'board.csv')).out);
  const measured = rows(csv);
  measured.forEach(([f, db], i) => {
    if (f < 30 || f > 5000) return;
    // Two sections with parts of one and five per cent.
    expect(Math.abs(db - predicted[i][1])).toBeLessThan(3);
    if (f < 200) expect(Math.abs(db - predicted[i][1])).toBeLessThan(0.1);
  });
  expect(measured.some(([f, db], i) => f > 500 && Math.abs(db - predicted[i][1]) > 0.01)).toBe(true);
});

test('a fault that was hidden is ranked first, and a sound board is called sound', async () => {
  const measured = async (name: string, ...options: string[]) => {
    await reed('bench', 'filter.json', '--seed', '3', ...options, '--in', 'sweep.wav', '--out', `${name}.wav`);
    await reed('analyse', `${name}.wav`, '--sweep', 'sweep.wav', '--reference', 'cable.wav', '--out', `${name}.csv`);
    return JSON.parse((await reed('faults', 'filter.json', '--measured', `${name}.csv`, '--capacitors', '5')).out) as {
      healthy: number;
      ranked: { what: string; part: string; kind: string; probability: number; sameAs: string[] }[];
      values: { designator: string; likely: number; lowRatio: number; highRatio: number }[];
      next: { probe: string; fromHz: number; toHz: number } | null;
    };
  };
  const broken = await measured('broken', '--fault', 'C101=x0.7', '--snr', '70');
  expect(broken.healthy).toBeLessThan(0.01);
  expect(broken.ranked[0]).toMatchObject({ part: 'C101', kind: 'value' });
  expect(broken.ranked[0].what).toMatch(/^C101 is about .* where .* is expected: measure it\.$/);
  expect(broken.ranked.map((r) => r.probability)).toEqual(
    broken.ranked.map((r) => r.probability).sort((a, b) => b - a),
  );
  const sound = await measured('sound');
  expect(sound.healthy).toBeGreaterThan(0.9);
  for (const { lowRatio, highRatio } of sound.values) expect(lowRatio).toBeLessThan(highRatio);
});

test('a meter alone names what is dead, or what lost its feedback; a few millivolts are nothing', async () => {
  await reed('design', '--topology', 'multiple-feedback', '--out', 'inverting.json');
  const read = async (volts: string) =>
    JSON.parse((await reed('faults', 'inverting.json', '--volts', `out=${volts}`)).out) as {
      healthy: number;
      ranked: { part: string; kind: string }[];
    };
  expect((await read('4m')).healthy).toBeGreaterThan(0.5);
  const stuck = await read('-13.2');
  expect(stuck.healthy).toBeLessThan(0.01);
  expect(
    stuck.ranked
      .slice(0, 2)
      .map((r) => `${r.kind} ${r.part}`)
      .sort(),
  ).toEqual(['dead U1', 'open R2']);
});

test('what bends is run in time: a diode filter’s recording has harmonics that a cable’s has not', async () => {
  await reed('design', '--topology', 'diode-legs', '--out', 'bent.json');
  await reed('sweep', '--from', '50', '--to', '5k', '--seconds', '0.2', '--level', '-6', '--out', 'short.wav');
  expect(await reed('bench', 'bent.json', '--in', 'short.wav', '--out', 'bent.wav')).toMatchObject({ code: 0 });
  const harmonics = async (name: string) =>
    rows((await reed('analyse', `${name}.wav`, '--sweep', 'short.wav')).out).filter(([f]) => f > 200 && f < 800);
  await reed('bench', 'bent.json', '--of', 'cable', '--in', 'short.wav', '--out', 'straight.wav');
  const third = async (name: string) => Math.max(...(await harmonics(name)).map(([, db, , , , h3]) => h3 - db));
  expect(await third('bent')).toBeGreaterThan(-65);
  expect(await third('straight')).toBeLessThan(-80);
});

test.each([
  [['sweep', '--from', '10'], '--out is missing'],
  [['sweep', '--to', '30k', '--out', 'x.wav'], '--to is at most 0.495 of --rate'],
  [['sweep', '--seconds', '500', '--out', 'x.wav'], '--seconds lies between'],
  [['analyse', 'sweep.wav'], '--sweep is missing'],
  [['analyse', 'filter.json', '--sweep', 'sweep.wav'], 'the recording is not a WAV file'],
  [['analyse', 'silent.wav', '--sweep', 'sweep.wav'], 'the recording is silent'],
  [['analyse', 'slow.wav', '--sweep', 'sweep.wav'], 'the recording has 44100 samples a second; 48000 are wanted'],
  [['analyse', 'sweep.wav', '--sweep', 'silent.wav'], 'not an exponential sweep'],
  [['bench', 'filter.json', '--in', 'sweep.wav'], '--out is missing'],
  [['bench', 'filter.json', '--in', 'sweep.wav', '--out', 'x.wav', '--fault', 'R1'], 'is no fault'],
  [['bench', 'filter.json', '--in', 'sweep.wav', '--out', 'x.wav', '--fault', 'R77=open'], "no part 'R77'"],
  [['bench', 'filter.json', '--in', 'sweep.wav', '--out', 'x.wav', '--of', 'air'], 'neither board nor cable'],
  [['bench', 'filter.json', '--in', 'sweep.wav', '--out', 'x.wav', '--rate', '96k'], '96000 are wanted'],
  [['faults', 'filter.json'], '--measured or --volts is missing'],
  [['faults', 'filter.json', '--volts', 'out'], "--volts 'out' is no NODE=V"],
  [['faults', 'filter.json', '--volts', 'moon=1'], 'there is no such place; there are: '],
  [['faults', 'filter.json', '--measured', 'filter.json'], 'the first line is to name frequency_hz'],
  [['faults', 'filter.json', '--measured', 'odd.csv'], 'odd.csv: line 3'],
  [['faults', 'filter.json', '--measured', 'few.csv'], 'fewer than three points'],
  [['faults', 'filter.json', '--measured', 'good.csv@moon'], 'there is no such place; there are: '],
  [['faults', 'filter.json', '--measured', 'good.csv', '--resistors', '90'], '--resistors is over 0'],
])('%p says what is wrong, in one line', async (args, words) => {
  writeFileSync(file('silent.wav'), writeFloatWav(new Float32Array(96_000), 48e3));
  writeFileSync(file('slow.wav'), writeFloatWav(new Float32Array(96_000).fill(0.5), 44.1e3));
  writeFileSync(file('odd.csv'), 'frequency_hz,magnitude_db\n20,0\n10,0\n30,0\n');
  writeFileSync(file('few.csv'), 'frequency_hz,magnitude_db\n20,0\n30,0\n');
  writeFileSync(file('good.csv'), 'frequency_hz,magnitude_db\n20,0\n30,0\n40,0\n50,0\n');
  const { code, out, err } = await reed(...args);
  expect({ code, out }).toEqual({ code: 2, out: '' });
  expect(err).toContain(words);
  expect(err.trim().split('\n')).toHaveLength(1);
});
