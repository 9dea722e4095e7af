import { parseArgs } from 'node:util';
import { CommandError } from '../cli/command-error';
import { DESIGN_VERBS } from '../cli/design-verbs';
import { findings, isOff, type Desk, type Finding, type Judged, type Time, type Told } from './checks';
import { drawDesign, type Drawn } from './draw-designs';

/** What a case came to. */
export interface Case {
  readonly seed: number;
  readonly drawn: Drawn;
  readonly findings: readonly Finding[];
  /** Why the product refused it, where it did: no design, no solution. */
  readonly refused: string | null;
}

async function said(verb: string, words: readonly string[], file?: string): Promise<string> {
  const { options, run, files } = DESIGN_VERBS[verb];
  const { values } = parseArgs({ args: [...words], options, allowPositionals: true, strict: true });
  const io = { readFile: () => file ?? '', readBytes: () => new Uint8Array(), note: () => {} };
  const answer = await run({ files: files === 1 ? ['design.json'] : [], values: values as Record<string, string>, io });
  return typeof answer === 'string' ? answer : '';
}

/** Draws one design, asks for every figure, and holds each to its second method. */
export async function auditCase(seed: number): Promise<Case> {
  const drawn = drawDesign(seed);
  try {
    const design = await said('design', drawn.words);
    const ask = async <T>(verb: string): Promise<T> => JSON.parse(await said(verb, [], design)) as T;
    const desk = await ask<Desk>('desk');
    const told: Told = {
      desk,
      time: await ask<Time>('time'),
      judged: desk.stable ? await ask<Judged[]>('judge') : [],
      netlist: await said('netlist', [], design),
    };
    return { seed, drawn, findings: findings(drawn, told), refused: null };
  } catch (error) {
    if (error instanceof CommandError) return { seed, drawn, findings: [], refused: error.message };
    throw error;
  }
}

interface Row {
  readonly figure: string;
  readonly cases: number;
  readonly worst: number;
  readonly failed: number;
}

/** A row for each figure: how often it was held, how far it was off at worst in parts of what is allowed, failures. */
export function tableOf(cases: readonly Case[]): Row[] {
  const all = cases.flatMap((c) => c.findings);
  return [...new Set(all.map((f) => f.figure))].sort().map((figure) => {
    const own = all.filter((f) => f.figure === figure);
    return {
      figure,
      cases: own.length,
      worst: Math.max(...own.map((f) => Math.abs(f.said - f.found) / (f.within || 1))),
      failed: own.filter(isOff).length,
    };
  });
}

/** How a failure is seen again. */
export const again = ({ drawn }: Case): string =>
  `npm run -s reed -- design ${drawn.words.join(' ')} --out case.json && npm run -s reed -- desk case.json`;
