import { must } from '../result';
import { parsePair, parseQuantity } from '../units/quantity';
import { guessColumns, readBankTable, stagesOfTable } from './bank-csv';
import { evaluateExpression, MOST_DEPTH } from './deck/expression';
import { readDeck } from './deck/read-deck';
import { readPartList } from './part-list';
import { readResponseText } from './response-text';
import { readScopeCsv } from './scope-csv';
import { readStockCsv } from './stock-csv';

/** A bank's table by what its headings seem to mean. */
const readBank = (text: string) => {
  const table = readBankTable(text);
  return stagesOfTable(table, guessColumns(table));
};

const none = () => undefined;

test.each([
  ['parentheses', (n: number) => `${'('.repeat(n)}1${')'.repeat(n)}`],
  ['powers', (n: number) => `1${'^1'.repeat(n)}`],
  ['functions', (n: number) => `${'abs('.repeat(n)}1${')'.repeat(n)}`],
])('%s are read to a stated depth, and refused in a sentence beyond it', (_, nested) => {
  expect(evaluateExpression(nested(MOST_DEPTH), none)).toBe(1);
  expect(() => evaluateExpression(nested(MOST_DEPTH + 1), none)).toThrow('more than 100 deep');
  expect(() => evaluateExpression(nested(50_000), none)).toThrow(/deep|letters/);
});

test('a long row of signs is no nesting', () => {
  expect(evaluateExpression(`${'-'.repeat(3001)}1`, none)).toBe(-1);
  expect(evaluateExpression(`${'+-'.repeat(1000)}1`, none)).toBe(1);
});

test('parameters that refer to one another far down are refused with their line', () => {
  const chain = (n: number) =>
    `t\n${Array.from({ length: n }, (_, i) => `.param p${i}={p${i + 1}}`).join('\n')}\n.param ` +
    `p${n}=1k\nV1 a 0 1\nR1 a 0 {p0}\n`;
  expect(readDeck(chain(150)).ok).toBe(true);
  expect(readDeck(chain(3000))).toMatchObject({ ok: false, data: { message: expect.stringContaining('200 deep') } });
});

/** More than four times as long by a good margin, and well under the sixteen of a reader that is quadratic. */
const NEARLY_LINEAR = 10;

/**
 * How many times as long a text four times as long takes to read: about 4 of a linear reader. Both are read in turn and
 * each keeps its best time, so that what else the machine does can only be mistaken for growth if it falls on every
 * reading of the long text.
 */
function growth(read: (text: string) => unknown, of: (n: number) => string, n = 20_000): number {
  const texts = [of(n), of(4 * n)];
  const best = [Infinity, Infinity];
  const ratio = () => best[1] / Math.max(0.3, best[0]);
  for (let round = 0; round < 3 || (round < 30 && ratio() >= NEARLY_LINEAR); round++)
    texts.forEach((text, i) => {
      const began = performance.now();
      read(text);
      best[i] = Math.min(best[i], performance.now() - began);
    });
  return ratio();
}

test.each<[string, (text: string) => unknown, (n: number) => string]>([
  ['digits and _ as a value', (t) => parseQuantity(t, 'resistance'), (n) => `${'1'.repeat(n)}_`],
  ['blanks as a value', (t) => parseQuantity(`1${t}1`, 'resistance'), (n) => ' '.repeat(n)],
  ['pluses as a pair', (t) => parsePair(t, 'resistance'), (n) => '1+'.repeat(n)],
  ['digits and _ in a deck', readDeck, (n) => `t\nR1 a 0 ${'1'.repeat(n)}_\nV1 a 0 1\n`],
  ['blanks in a deck', readDeck, (n) => `t\nR1 a 0${' '.repeat(n)}x\nV1 a 0 1\n`],
  ['parentheses in a deck', readDeck, (n) => `t\nR1 a 0 ${' (1'.repeat(n / 3)}\nV1 a 0 1\n`],
  ['blanks in a part list', readPartList, (n) => `1${' '.repeat(n)}x`],
  ['blanks in the headings of a bank', readBank, (n) => `band,R1${' '.repeat(n)}x,R2,C1,C2\na,1k,1k,1n,1n\n`],
  ['lines of a bank', readBank, (n) => `band,R1,R2,C1,C2\n${'a,1k,1k,1n,1n\n'.repeat(n)}`],
  ['one line of a scope’s capture', readScopeCsv, (n) => '1,2,'.repeat(n)],
  ['digits and x in a response', readResponseText, (n) => `1 2\n${'1'.repeat(n)}x 3\n`],
  [
    'digits in a stock table',
    (t) => readStockCsv(t, () => 'id'),
    (n) => `kind,value,count\nresistor,${'1'.repeat(n)}x,3\n`,
  ],
  ['digits in a bank table', readBank, (n) => `band,R1,R2,C1,C2\na,${'1'.repeat(n)}x,1k,1n,1n\n`],
  [
    'instances and parameters of a subcircuit',
    readDeck,
    (n) => {
      const each = n / 20;
      const several = (of: (i: number) => string) => Array.from({ length: each }, (_, i) => of(i)).join(' ');
      return `t\n.subckt s a b params: ${several((i) => `p${i}=${i}`)}\nR1 a b {p1}\n.ends\nV1 a 0 1\n${several(
        (i) => `\nX${i} a 0 s`,
      )}\n`;
    },
  ],
])('%s: four times as much takes nowhere near sixteen times as long', (_, read, of) => {
  expect(growth(read, of)).toBeLessThan(NEARLY_LINEAR);
});

test('what is too long is refused with its length, and what is left is not lost', () => {
  expect(parseQuantity('1'.repeat(70), 'resistance')).toMatchObject({
    code: 'quantity-unreadable',
    data: { rest: '70 letters' },
  });
  expect(must(parseQuantity(`1${'0'.repeat(6)}`, 'resistance'))).toBe(1e6);
  expect(readDeck('x'.repeat(2_000_001))).toMatchObject({ data: { message: expect.stringContaining('2000001') } });
});
