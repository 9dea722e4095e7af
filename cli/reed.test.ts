import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { must } from '../src/core/result';
import { readWav, writeFloatWav } from '../src/core/format/wav';
import { ran, reedCommand } from './testing/reed-command';

// Every call is a process of its own.
jest.setTimeout(60_000);

const { folder, reed } = reedCommand();

test('the command as it stands, uncompiled, says the same as compiled', async () => {
  const args = ['design', '--topology', 'twin-t', '--set', 'notchHz=60'];
  const plain = await ran(folder, ['--import', 'tsx', 'cli/reed.ts'], args);
  expect(plain.code).toBe(0);
  expect(plain).toEqual(await reed(...args));
});

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
  const { code, out } = await reed('response', 'b8.cir', '--from', '100', '--to', '10k', '--points-per-decade', '4');
  expect(code).toBe(0);
  expect(out.split('\n')[0]).toBe('frequency_hz,magnitude_db,phase_deg');
  for (const [f, db] of rows(out)) expect(db).toBeCloseTo(-10 * Math.log10(1 + (f / 1000) ** 16), 4);
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
      (await reed('response', 'p.cir', '--probe', probe, '--from', '1', '--to', '10', '--points-per-decade', '1')).out,
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
  [['synth', '--order', '4', '--cutoff', '1k', '--alignment', 'nope'], 2, "--alignment 'nope' is not on offer"],
  [['synth', '--order', '4', '--cutoff', '-1k'], 2, '--cutoff'],
  [['synth', '--order', 'x', '--cutoff', '1k'], 2, "--order 'x' is not a number"],
  [['synth', '--order', '3', '--cutoff', '1k', '--alignment', 'linkwitz-riley'], 2, 'choose from: 2, 4, 6, 8'],
  [['response', 'bad.cir'], 2, 'line 3: '],
  [['response', 'good.cir', '--probe', 'zz'], 2, "--probe 'zz'"],
  [
    ['synth', '--order', '4', '--cutoff', '1k', '--topology', 'sallen-key-unity-gain', '--gain', '6'],
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

describe('verbs about designs', () => {
  const file = (name: string) => join(folder, name);

  test('a design is written, described, written as a deck that the solver reads, and chosen for', async () => {
    expect(
      await reed(
        'design',
        '--topology',
        'multiple-feedback-band-pass',
        '--set',
        'centerHz=870',
        '--set',
        'q=4',
        '--op-amp',
        'ideal',
        '--out',
        file('band.json'),
      ),
    ).toMatchObject({ code: 0 });
    const said = JSON.parse((await reed('desk', file('band.json'))).out);
    expect(said.stable).toBe(true);
    const [low, high] = said.marks
      .filter((m: { kind: string }) => m.kind === 'cutoff')
      .map((m: { frequencyHz: number }) => m.frequencyHz);
    const peak = said.marks.find((m: { kind: string }) => m.kind === 'peak');
    expect(peak.q).toBeCloseTo(Math.sqrt(low * high) / (high - low), 6);
    // What it says of its edges is what its own deck does there.
    expect(await reed('deck', file('band.json'), '--devices', 'ideal', '--out', file('band.cir'))).toMatchObject({
      code: 0,
    });
    writeFileSync(file('grid.csv'), `frequency_hz\n${low}\n${peak.frequencyHz}\n${high}\n`);
    const levels = (await reed('response', file('band.cir'), '--grid', file('grid.csv'))).out
      .trim()
      .split('\n')
      .slice(1)
      .map((line) => Number(line.split(',')[1]));
    expect(levels[0] - levels[1]).toBeCloseTo(-10 * Math.log10(2), 3);
    expect(levels[2] - levels[1]).toBeCloseTo(-10 * Math.log10(2), 3);
    const chosen = JSON.parse((await reed('choose', file('band.json'), '--how', 'pairs')).out);
    writeFileSync(file('chosen.json'), JSON.stringify(chosen.design));
    // A pair's halves stand in the deck by one name.
    const cards = (await reed('deck', file('chosen.json'), '--devices', 'ideal')).out
      .split('\n')
      .map((line) => line.split(' ')[0]);
    const twice = JSON.parse((await reed('desk', file('chosen.json'))).out).parts.map(
      (p: { designator: string }) => p.designator,
    );
    for (const name of twice)
      expect(cards.includes(name) || (cards.includes(`${name}a`) && cards.includes(`${name}b`))).toBe(true);
    const board = JSON.parse((await reed('board', file('chosen.json'), '--kind', 'strip', '--out', file('board'))).out);
    expect(JSON.parse(readFileSync(file('board/strip-plan.json'), 'utf8'))).toEqual(board);
    expect(board.violations).toEqual([]);
    // Rows and columns from 1; two pins share a row uncut, or a wire, only where they share a net.
    const { rows, columns, cuts, pins, links } = board.plan as {
      rows: number;
      columns: number;
      cuts: number[][];
      pins: { row: number; column: number; net: string }[];
      links: number[][];
    };
    for (const [row, column] of [...cuts, ...pins.map((p) => [p.row, p.column]), ...links.map((l) => [l[0], l[1]])])
      expect([row >= 1 && row <= rows, column >= 1 && column <= columns]).toEqual([true, true]);
    // Every row is used, the outermost by a wire or a lead.
    const used = [...pins.map((p) => p.row), ...links.flatMap(([from, , to]) => [from, to])];
    expect([Math.min(...used), Math.max(...used)]).toEqual([1, rows]);
    for (const a of pins)
      for (const b of pins)
        if (
          a.row === b.row &&
          !cuts.some(([row, column]) => row === a.row && (column - a.column) * (column - b.column) < 0)
        )
          expect(a.net).toBe(b.net);
    const bought = (await reed('parts', file('chosen.json'), '--boards', '2')).out
      .trim()
      .split('\n')
      .slice(1)
      .map((line) => line.split(','));
    // Twice as many for two boards; every part of the desk's list is named.
    for (const row of bought) expect(Number(row.at(-1))).toBeGreaterThanOrEqual(2 * Number(row.at(-2)));
    for (const name of twice)
      expect(bought.some((row) => new RegExp(`\\b${name}[ab]?\\b`).test(row.join(' ')))).toBe(true);
    expect((await reed('parts', file('chosen.json'), '--boards', '2')).out).toMatch(
      /^kind,value,name,tolerance_pct,references,per_board,total\n/,
    );
  });

  test('a step, limits and a trim procedure: every figure that exists, and null for what does not', async () => {
    const low = ['--response', 'lowpass', '--alignment', 'butterworth', '--order', '2', '--cutoff', '1k'];
    const limits = ['--pass', '1,0.5@..500', '--stop', '60@3k..'];
    await reed('design', ...low, '--op-amp', 'ideal', ...limits, '--out', file('low.json'));
    const step = JSON.parse((await reed('time', file('low.json'))).out);
    expect(step.settles).toBe(true);
    expect(step.finalLevel).toBeCloseTo(1, 6);
    // Of the section that its parts make: exp(−π ζ/√(1 − ζ²)).
    const { q } = JSON.parse((await reed('desk', file('low.json'))).out).stages[0].got;
    const zeta = 1 / (2 * q);
    expect(step.overshootPct).toBeCloseTo(100 * Math.exp((-Math.PI * zeta) / Math.sqrt(1 - zeta * zeta)), 1);
    const judged = JSON.parse((await reed('judge', file('low.json'))).out);
    expect(judged.map((j: { kind: string; met: boolean }) => [j.kind, j.met])).toEqual([
      ['pass', true],
      ['stop', false],
    ]);
    expect(judged[0]).toMatchObject({ downDb: 1, upDb: 0.5, toHz: 500 });
    await reed('design', '--topology', 'multiple-feedback', '--mode', 'highpass', '--out', file('high.json'));
    const high = JSON.parse((await reed('time', file('high.json'))).out);
    expect([high.settles, high.overshootPct, high.settle2PctS]).toEqual([true, null, null]);
    expect(JSON.parse((await reed('trim', file('low.json'))).out)).toEqual([]);
    expect((await reed('netlist', file('low.json'))).out).toBe((await reed('deck', file('low.json'))).out);
  });

  test('a crossover of measured drivers; a file that is none is refused with its name', async () => {
    const drivers = join(__dirname, '../public/drivers');
    const woofer = `1=${drivers}/alder-165-response.txt,${drivers}/alder-165-impedance.txt`;
    const made = await reed('design', '--ways', '2', '--cutoff', '2.3k', '--order', '2', '--driver-files', woofer);
    expect(made.code).toBe(0);
    const design = JSON.parse(made.out);
    expect(design.drivers[0].measuredImpedance.freqHz.length).toBeGreaterThan(50);
    expect(design.drivers[1].measuredImpedance).toBeNull();
    expect(design.variants[0].ways.map((w: { polarity: number }) => w.polarity)).toEqual([1, -1]);
    expect((await reed('design', '--ways', '2', '--cutoff', '1k,2k')).err).toContain('--cutoff');
    expect((await reed('design', '--ways', '2', '--cutoff', '1k', '--driver-files', 'x')).code).toBe(2);
  });

  test('limits are matched; what is no limit, no circuit, no parameter is said in a line', async () => {
    const found = JSON.parse((await reed('match', '--keep', '1@..900', '--lose', '35@2k..')).out);
    expect(found.find((m: { alignment: string }) => m.alignment === 'butterworth')).toMatchObject({ order: 6 });
    for (const m of found) expect(m.marginDb).toBeGreaterThan(-1e-3);
    // Of a Butterworth the room at both limits is 10 log(1 + u^2n) from either side.
    const flat = found.find((m: { alignment: string }) => m.alignment === 'butterworth');
    const lossDb = (f: number) => 10 * Math.log10(1 + (f / flat.cutoffHz) ** (2 * flat.order));
    expect(flat.marginDb).toBeCloseTo(Math.min(1 - lossDb(900), lossDb(2000) - 35), 4);
    expect(await reed('match', '--keep', 'much', '--lose', '35@2k..')).toMatchObject({ code: 2 });
    expect(await reed('design', '--topology', 'nothing-such')).toMatchObject({
      code: 2,
      err: expect.stringContaining('reed topologies'),
    });
    expect(await reed('design', '--topology', 'twin-t', '--set', 'colour=3')).toMatchObject({
      code: 2,
      err: expect.stringContaining('notchHz'),
    });
    expect(await reed('desk', file('band.cir'))).toMatchObject({ code: 2, err: expect.stringContaining('JSON') });
  });

  test('a recording comes out as long as it went in, at the level its curve says', async () => {
    await reed(
      'design',
      '--topology',
      'first-order-buffered',
      '--mode',
      'lowpass',
      '--set',
      'cutoffHz=2k',
      '--op-amp',
      'ideal',
      '--out',
      file('low.json'),
    );
    const rate = 44_100;
    const samples = Float32Array.from({ length: rate / 4 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 6000 * i) / rate));
    writeFileSync(file('in.wav'), writeFloatWav(samples, rate));
    expect(await reed('render', file('low.json'), '--in', file('in.wav'), '--out', file('out.wav'))).toMatchObject({
      code: 0,
      out: '',
    });
    const out = must(readWav(readFileSync(file('out.wav'))));
    expect([out.samples.length, out.rateHz]).toEqual([samples.length, rate]);
    await reed('deck', file('low.json'), '--devices', 'ideal', '--out', file('low.cir'));
    const level = Number(
      (await reed('response', file('low.cir'), '--from', '6k', '--to', '6.001k', '--points-per-decade', '1')).out
        .split('\n')[1]
        .split(',')[1],
    );
    const settled = out.samples.subarray(4000, 10_000);
    const rms = Math.sqrt(settled.reduce((sum, v) => sum + v * v, 0) / settled.length);
    expect(20 * Math.log10((rms * Math.SQRT2) / 0.5)).toBeCloseTo(level, 1);
  });
});
