import 'fake-indexeddb/auto';
import { strToU8, zipSync } from 'fflate';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { demoDesigns } from '@/core/design/demo/demo';
import { OP_AMPS } from '@/core/device/op-amps';
import { readDesignText, writeDesign } from '@/core/design/document/migrate';
import { guessColumns, readBankTable, stagesOfTable } from '@/core/format/bank-csv';
import { readDeck } from '@/core/format/deck/read-deck';
import { readOpAmpCsv } from '@/core/format/op-amp-csv';
import { readDriverCurve, readResponseText } from '@/core/format/response-text';
import { readStockCsv, writeStockCsv } from '@/core/format/stock-csv';
import { readWav, writeFloatWav } from '@/core/format/wav';
import { demoStock } from '@/core/parts/stock';
import type { Result } from '@/core/result';
import { seeded } from '@/core/testing/seeded';
import { readShelfFile } from './read-backup';
import { newId } from '../new-id';

/** A bank's table by what its headings seem to mean. */
const readBank = (text: string) => {
  const table = readBankTable(text);
  return stagesOfTable(table, guessColumns(table));
};

const RUNS = 20_000;
const NASTY = [
  '',
  '"',
  '{',
  '}',
  '[',
  ']',
  '\0',
  '\ud800',
  '../',
  'null',
  '1e999',
  '-1',
  'NaN',
  '__proto__',
  ',',
  ';',
  '\n',
  '(',
  '9'.repeat(40),
];
const random = seeded('mutated files');
const upTo = (n: number) => Math.floor(random() * n);

/** A text with a few places cut, doubled or written over. */
function mutated(text: string): string {
  let out = text;
  for (let k = 1 + upTo(3); k > 0; k--) {
    const [from, length] = [upTo(out.length + 1), upTo(20)];
    const piece = out.slice(from, from + length);
    const nasty = NASTY[upTo(NASTY.length)];
    out = out.slice(0, from) + [nasty, piece + piece, nasty + piece, ''][upTo(4)] + out.slice(from + length);
    if (random() < 0.05) out = out.slice(0, upTo(out.length + 1));
  }
  return out;
}
function mutatedBytes(bytes: Uint8Array): Uint8Array {
  const out = Uint8Array.from(bytes);
  for (let k = 1 + upTo(6); k > 0; k--) out[upTo(out.length)] = upTo(256);
  return random() < 0.2 ? out.slice(0, upTo(out.length + 1)) : out;
}

const designs = demoDesigns().slice(0, 4);
const driver = readFileSync(join(__dirname, '../../../public/drivers/finch-25-response.txt'), 'utf8')
  .split('\n')
  .slice(0, 40)
  .join('\n');
const deck =
  't\n.param r={2*(1k+1)}\n.subckt half a b\nR1 a b {r}\n.ends\nX1 in out half\nC1 out 0 10n\nV1 in 0 AC 1\n.end\n';
const TEXTS: [string, string[], (text: string) => Result<unknown>][] = [
  ['a design', designs.map(writeDesign), readDesignText],
  ['a deck', [deck], readDeck],
  ['a response', [driver], readResponseText],
  ['a driver', [driver], (t) => readDriverCurve(t, 'response')],
  ['a stock table', [writeStockCsv(demoStock(newId))], (t) => readStockCsv(t, newId)],
  [
    'an op-amp table',
    ['name,gain_bandwidth_hz,slew_v_per_s\nown,3meg,5e6\n'],
    (t) => readOpAmpCsv(t, OP_AMPS[0], newId),
  ],
  ['a bank table', ['band,R1,R2,C1,C2,R1b\nlow,68k,150k,10n,10n,3k3\n'], readBank],
];

test.each(TEXTS)('%s: whatever is done to its text, it reads or says why, and never throws', (_, samples, read) => {
  let refused = 0;
  for (let i = 0; i < RUNS / 10; i++) {
    const text = mutated(samples[i % samples.length]);
    const got = read(text);
    if (!got.ok) {
      refused++;
      expect(got.code).not.toBe('');
    }
  }
  expect(refused).toBeGreaterThan(0);
});

test('a design that was taken can be written and read again as it is', () => {
  for (let i = 0; i < RUNS / 10; i++) {
    const read = readDesignText(mutated(writeDesign(designs[i % designs.length])));
    if (read.ok) expect(readDesignText(writeDesign(read.value))).toEqual(read);
  }
});

test('sounds and backups, byte by byte', () => {
  const wav = new Uint8Array(
    writeFloatWav(
      Float32Array.from({ length: 200 }, (_, i) => Math.sin(i)),
      48_000,
    ),
  );
  const zip = zipSync({ 'a.json': strToU8(writeDesign(designs[0])), 'stock.json': strToU8('[]') });
  for (let i = 0; i < RUNS / 10; i++) {
    expect(typeof readWav(mutatedBytes(wav)).ok).toBe('boolean');
    expect(typeof readShelfFile(mutatedBytes(zip), 'x.zip').ok).toBe('boolean');
  }
});
