import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const ROOT = join(__dirname, '..');
const folder = mkdtempSync(join(tmpdir(), 'reed-'));

function reed(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  return new Promise((resolve) => {
    execFile(
      process.execPath,
      ['--import', 'tsx', 'cli/reed.ts', ...args],
      { cwd: ROOT, env: { ...process.env, INIT_CWD: folder } },
      (error, out, err) => resolve({ code: error ? Number(error.code) : 0, out, err }),
    );
  });
}
const rows = (csv: string) =>
  csv
    .trim()
    .split('\n')
    .slice(1)
    .map((line) => line.split(',').map(Number));

test('synth writes a deck that response reads: an eighth-order Butterworth at 1 kHz', async () => {
  expect(
    await reed(
      'synth',
      '--response',
      'lowpass',
      '--alignment',
      'butterworth',
      '--order',
      '8',
      '--cutoff',
      '1k',
      '--out',
      'b8.cir',
    ),
  ).toMatchObject({ code: 0, out: '' });
  expect(readFileSync(join(folder, 'b8.cir'), 'utf8')).toContain('Vin in 0 AC 1 0');
  const { code, out } = await reed(
    'response',
    'b8.cir',
    '--from',
    '100',
    '--to',
    '10k',
    '--points-per-decade',
    '4',
  );
  expect(code).toBe(0);
  expect(out.split('\n')[0]).toBe('frequency_hz,magnitude_db,phase_deg');
  for (const [f, db] of rows(out))
    expect(db).toBeCloseTo(-10 * Math.log10(1 + (f / 1000) ** 16), 4);
}, 60_000);

test('every alignment, low-pass and high-pass, has its cutoff where the contract says', async () => {
  const at: Record<string, number> = {
    butterworth: -3.0103,
    bessel: -3.0103,
    'critically-damped': -3.0103,
    'linkwitz-riley': -6.0206,
    chebyshev: -0.5,
  };
  for (const [alignment, level] of Object.entries(at))
    for (const response of ['lowpass', 'highpass']) {
      await reed(
        'synth',
        '--response',
        response,
        '--alignment',
        alignment,
        '--order',
        '4',
        '--cutoff',
        '2k',
        '--gain',
        '-3',
        '--out',
        'a.cir',
      );
      writeFileSync(join(folder, 'grid.csv'), 'frequency\n2000\n');
      const [[, db]] = rows((await reed('response', 'a.cir', '--grid', 'grid.csv')).out);
      expect(db).toBeCloseTo(level - 3, 3);
    }
}, 120_000);

test('probes: a difference of nodes, and a current', async () => {
  writeFileSync(join(folder, 'p.cir'), 'divider\nV1 in 0 AC 3\nR1 in m 1k\nR2 m 0 2k\n.end\n');
  const one = async (probe: string) =>
    rows(
      (
        await reed(
          'response',
          'p.cir',
          '--probe',
          probe,
          '--from',
          '1',
          '--to',
          '10',
          '--points-per-decade',
          '1',
        )
      ).out,
    )[0][1];
  expect(await one('m')).toBeCloseTo(20 * Math.log10(2), 6);
  expect(await one('v(in,m)')).toBeCloseTo(0, 6);
  expect(await one('i(V1)')).toBeCloseTo(-60, 6);
}, 60_000);

test('topologies lists the circuits as JSON', async () => {
  const list = JSON.parse((await reed('topologies')).out);
  expect(list).toEqual(
    expect.arrayContaining([
      expect.objectContaining({
        id: 'sallen-key-unity-gain',
        family: 'op-amp',
        responses: ['lowpass', 'highpass'],
        orders: [2],
      }),
    ]),
  );
}, 30_000);

test.each([
  [['response', 'nofile.cir'], 2, "cannot read 'nofile.cir'"],
  [['nonsense'], 2, "no verb 'nonsense'"],
  [['response'], 2, 'takes one file'],
  [
    ['synth', '--order', '4', '--cutoff', '1k', '--alignment', 'nope'],
    2,
    "--alignment 'nope' is not on offer",
  ],
  [['synth', '--order', '4', '--cutoff', '-1k'], 2, '--cutoff'],
  [['synth', '--order', 'x', '--cutoff', '1k'], 2, "--order 'x' is not a number"],
  [
    ['synth', '--order', '3', '--cutoff', '1k', '--alignment', 'linkwitz-riley'],
    2,
    'choose from: 2, 4, 6, 8',
  ],
  [['response', 'bad.cir'], 2, 'line 3: '],
  [['response', 'good.cir', '--probe', 'zz'], 2, "--probe 'zz'"],
  [
    [
      'synth',
      '--order',
      '4',
      '--cutoff',
      '1k',
      '--topology',
      'sallen-key-unity-gain',
      '--gain',
      '6',
    ],
    3,
    'miss the gain',
  ],
  [['response', 'good.cir', '--wat', '1'], 2, 'wat'],
  [['response', 'nosolution.cir'], 3, 'no single solution'],
])(
  '%j ends with %d and one plain line',
  async (args, code, message) => {
    writeFileSync(join(folder, 'bad.cir'), 't\nV1 out 0 AC 1\nR1 out 0 -5\n');
    writeFileSync(join(folder, 'good.cir'), 't\nV1 out 0 AC 1\nR1 out 0 5\n');
    writeFileSync(
      join(folder, 'nosolution.cir'),
      't\nV1 in 0 AC 1\nR1 in out 1k\nR2 out 0 1k\nE1 a 0 a 0 1\nR3 a 0 1k\n',
    );
    const got = await reed(...args);
    expect(got.code).toBe(code);
    expect(got.err).toContain(message);
    expect(got.err.trim().split('\n')).toHaveLength(1);
  },
  30_000,
);
