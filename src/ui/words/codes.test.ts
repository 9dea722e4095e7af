import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Failure } from '@/core/result';
import { FAILURES, failureWords } from './failures';

const ROOT = join(__dirname, '../..');
/** Data of any name, as text, number and list at once. */
const ANY = new Proxy({}, { get: () => [1] }) as Failure['data'];

/** Every code that core and interface fail with, by their own text. */
function codesInUse(): string[] {
  const files = readdirSync(ROOT, { recursive: true, encoding: 'utf8' }).filter((f) => /(?<!\.test)\.tsx?$/.test(f));
  return [
    ...new Set(
      files.flatMap((f) =>
        [...readFileSync(join(ROOT, f), 'utf8').matchAll(/failure\(\s*'([a-z-]+)'/g)].map((m) => m[1]),
      ),
    ),
  ];
}

test('every failure has a sentence of its own, and none speaks of what is not there', () => {
  const codes = codesInUse();
  expect(codes.length).toBeGreaterThan(50);
  for (const code of [...codes, 'job-failed', 'worker-lost']) {
    const words = failureWords({ ok: false, code, data: ANY });
    expect([code, words]).not.toEqual([code, expect.stringContaining(`(${code})`)]);
    expect([code, words]).not.toEqual([code, expect.stringMatching(/NaN|\[object/)]);
  }
});

test('no code is said in two ways', () => {
  const codes = FAILURES.flatMap((words) => Object.keys(words));
  expect(codes.filter((code, i) => codes.indexOf(code) !== i)).toEqual([]);
});
