import { appendFileSync, mkdirSync } from 'node:fs';
import { expect } from '@playwright/test';

/** Where `npm run long` finds what was tried: a line each of name, how often it was tried, how often it failed. */
const TALLY = 'test-results/attacks.csv';

/** Writes a line of the table, and fails where anything did. */
export function told(name: string, tried: number, failed: readonly string[]): void {
  mkdirSync('test-results', { recursive: true });
  appendFileSync(TALLY, `${name.replaceAll(',', '')},${tried},${failed.length}\n`);
  expect(failed).toEqual([]);
}
