import { parseArgs } from 'node:util';
import { CommandError } from '../cli/command-error';
import { DESIGN_VERBS } from '../cli/design-verbs';
import { MEASURE_VERBS } from '../cli/measure-verbs';
import { readDesignText } from '../src/core/design/document/migrate';
import { JobRunner } from '../src/core/jobs/run-job';
import { buildFindings } from './build-checks';
import { DenseNetlist } from './dense-netlist';
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

const VERBS = { ...DESIGN_VERBS, ...MEASURE_VERBS };

/** What a verb says. @param file the design it is of. @param others files that its options name */
async function said(
  verb: string,
  words: readonly string[],
  file?: string,
  others: ReadonlyMap<string, string> = new Map(),
): Promise<string> {
  const { options, run, files } = VERBS[verb];
  const { values } = parseArgs({ args: [...words], options, allowPositionals: true, strict: true });
  const readFile = (name: string) => others.get(name) ?? file ?? '';
  const io = { readFile, readBytes: () => new Uint8Array(), note: () => {} };
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
    const found = findings(drawn, told);
    return { seed, drawn, findings: [...found, ...(await builtFindings(drawn, seed, design, told))], refused: null };
  } catch (error) {
    if (error instanceof CommandError) return { seed, drawn, findings: [], refused: error.message };
    throw error;
  }
}

const runner = new JobRunner();

async function builtFindings(drawn: Drawn, seed: number, text: string, { netlist }: Told): Promise<Finding[]> {
  const read = readDesignText(text);
  if (!read.ok) throw new Error(`a design of ours is not read: ${read.code}`);
  const files = new Map<string, string>();
  return buildFindings({
    drawn,
    seed,
    design: read.value,
    netlist: new DenseNetlist(netlist),
    runner,
    said: (verb, words, file = text) => said(verb, words, file, files),
    files,
  });
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
