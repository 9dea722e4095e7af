import fc from 'fast-check';
import { logGrid } from '../../math/grid';
import type { Result } from '../../result';
import { JobRunner, type JobAnswers } from '../run-job';
import { orLong } from '@/testing/extent';

const GRID = logGrid(10, 1e5, 9);

/** Decks of every kind of card. */
const GOOD = [
  `coupled
.param k1=0.9 l={1m*2}
.subckt side a b params: r=1k
Ra a m {r}
Cb m b 10n
.ends
Vin in 0 DC 1 AC 1 SIN(0 1 1k 0 0 30)
L1 in a {l}
L2 b 0 4m
K1 L1 L2 {k1}
X1 a out side r=2.2k
R1 out 0 1k
R2 b out 47k
.end
`,
  `amplifier
VCC vcc 0 12
Vin in 0 AC 1 PULSE(0 10m 10u 1u 1u 100u 200u)
C1 in b 1u
R1 vcc b 47k
R2 b 0 10k
R3 vcc out 4.7k
R4 e 0 1k
D1 out clamp dd
R5 clamp 0 1meg
Q1 out b e qq
.model qq NPN(IS=1e-14 BF=150 VAF=80 CJE=8p CJC=3p TF=0.3n RB=50)
.model dd D(IS=1e-13 N=1.2 RS=2)
.end
`,
  `controlled
Vin in 0 AC 1 PWL(0 0 10u 1 20u 1 30u 0)
R1 in m 10k
E1 out 0 0 m 1e5
R2 m out 22k
C2 m out 1n
G1 0 g out 0 1m
R3 g 0 1k
F1 0 f Vin 2
R4 f 0 50
H1 h 0 Vin 100
R5 h 0 1k
.end
`,
];

type Kind = 'response' | 'operating-point' | 'transient' | 'noise' | 'poles' | 'tolerance';
const KINDS: readonly Kind[] = ['response', 'operating-point', 'transient', 'noise', 'poles', 'tolerance'];
const runner = new JobRunner();

function run(deck: string, kind: Kind): Promise<Result<JobAnswers[Kind]>> {
  const common = { deck, probe: 'out', freqHz: GRID };
  switch (kind) {
    case 'operating-point':
      return runner.run<'operating-point'>({ kind, deck });
    case 'transient':
      return runner.run<'transient'>({ kind, deck, stopS: 50e-6, stepS: 5e-6, probes: ['out'] });
    case 'noise':
      return runner.run<'noise'>({ kind, ...common, source: 'vin' });
    case 'poles':
      return runner.run<'poles'>({ kind, deck, probe: 'out' });
    case 'tolerance':
      return runner.run<'tolerance'>({
        kind,
        ...common,
        runs: 5,
        seed: 1,
        resistors: 1,
        capacitors: 5,
        inductors: 5,
      });
    default:
      return runner.run<'response'>({ kind: 'response', ...common });
  }
}

/** Every number of an answer. */
function numbers(value: unknown): number[] {
  if (typeof value === 'number') return [value];
  if (value instanceof Float64Array) return [...value];
  return value !== null && typeof value === 'object' ? Object.values(value).flatMap(numbers) : [];
}

test.each(GOOD.flatMap((deck) => KINDS.map((kind) => [deck.split('\n')[0], kind, deck] as const)))(
  '%s: %s',
  async (_, kind, deck) => {
    const answer = await run(deck, kind);
    expect(answer).toMatchObject({ ok: true });
    if (answer.ok) expect(numbers(answer.value).every(Number.isFinite)).toBe(true);
  },
);

const SCRAPS = [
  '',
  '0',
  ' ',
  '\n',
  '{',
  '}',
  '(',
  ')',
  '=',
  '-',
  '+',
  '.',
  'R1',
  'X',
  'out',
  '1e30',
  '1e-30',
  'é',
  '9e999',
  'k',
  'meg',
  '.model',
  '.subckt',
  'Q1',
  'ac',
  '*',
  ';',
  ',',
];
const mutation = fc.record({
  deck: fc.constantFrom(...GOOD),
  kind: fc.constantFrom(...KINDS),
  edits: fc.array(fc.tuple(fc.nat(2000), fc.constantFrom(...SCRAPS), fc.nat(6)), {
    minLength: 1,
    maxLength: 3,
  }),
});

const SPOILT = orLong(1000, 3000);

test(`${SPOILT} spoilt decks: each gives an answer of numbers or a plain error, and none hangs`, async () => {
  let answers = 0;
  await fc.assert(
    fc.asyncProperty(mutation, async ({ deck, kind, edits }) => {
      let text = deck;
      for (const [at, insert, drop] of edits)
        text = text.slice(0, at % text.length) + insert + text.slice((at % text.length) + drop);
      const answer = await run(text, kind);
      if (answer.ok) {
        answers++;
        expect(numbers(answer.value).some(Number.isNaN)).toBe(false);
      } else expect(answer.code).toMatch(/^[a-z-]+$/);
    }),
    { numRuns: SPOILT },
  );
  // Mutations that miss everything of weight still solve: the test is not one of refusals alone.
  expect(answers).toBeGreaterThan(SPOILT / 15);
}, 240_000);

test('a ladder of two thousand nodes is solved in AC without a dense matrix', async () => {
  const lines = ['long line', 'Vin n0 0 AC 1'];
  for (let i = 0; i < 2000; i++) lines.push(`R${i} n${i} n${i + 1} 1`, `C${i} n${i + 1} 0 1p`);
  const answer = await runner.run<'response'>({
    kind: 'response',
    deck: lines.join('\n'),
    probe: 'n2000',
    freqHz: Float64Array.of(1),
  });
  expect(answer).toMatchObject({ ok: true });
  if (answer.ok) expect(answer.value.levelDb[0]).toBeCloseTo(0, 3);
  expect(await runner.run<'poles'>({ kind: 'poles', deck: lines.join('\n'), probe: 'n2000' })).toMatchObject({
    ok: false,
    code: 'too-large',
  });
}, 60_000);
