import { valueDraws, type VaryingSlot } from '../../analysis/tolerance/spread';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import type { Board } from '../../design/compiled/board';
import { designatorsOf } from '../../design/stages/designators';
import type { Design, Variant } from '../../design/document/schema';
import { failure, success, type Result } from '../../result';

/**
 * One board of a variant: every part drawn within its tolerance, those of a batch together. The same seed gives the
 * same board. Fails as the design does.
 */
export function drawBoard(design: Design, variant: Variant, seed: number): Result<Board> {
  const compiled = compile(design, variant, { ...AS_BUILT, rest: 'left' });
  if (!compiled.ok) return compiled;
  const varying = new Map<string, VaryingSlot>();
  for (const { stageId, part, tolerancePct, batch } of compiled.value.parts) {
    const element = `${stageId}.${part}`;
    if (stageId !== null && !varying.has(element)) varying.set(element, { slot: varying.size, tolerancePct, batch });
  }
  const shares = valueDraws(
    new Float64Array(varying.size).fill(1),
    [...varying.values()],
    seed,
  )(new Float64Array(varying.size));
  return success({
    factors: new Map([...varying.keys()].map((element, i) => [element, shares[i]])),
    failed: new Map(),
    dead: new Set(),
  });
}

/** A fault as it is written: `R3=open`, `C1=short`, `R3=x10`, `R3~R4`, `U1=dead`. */
const WRITTEN = /^(?:([^=~]+)=(?:(open|short|dead)|x([\d.]+(?:e[+-]?\d+)?))|([^=~]+)~([^=~]+))$/i;

/**
 * A board with one fault more. Fails with `bad-fault` (`fault`) for what is no fault, `no-such-part` (`part`, `parts`),
 * or `swap-of-kinds` where the two parts are not of one kind.
 */
export function withFault(design: Design, variant: Variant, board: Board, fault: string): Result<Board> {
  const read = WRITTEN.exec(fault.trim());
  if (!read) return failure('bad-fault', { fault });
  const compiled = compile(design, variant, { ...AS_BUILT, rest: 'left' });
  if (!compiled.ok) return compiled;
  const names = designatorsOf(compiled.value.ways);
  const called = new Map([...names].map(([element, name]) => [name.toUpperCase(), element]));
  const missing = (part: string) => failure('no-part-there', { part, parts: [...called.keys()].sort().join(', ') });
  const [, one, state, factor, first, second] = read;
  const element = called.get((one ?? first).trim().toUpperCase());
  if (!element) return missing((one ?? first).trim());
  const set = <T>(map: ReadonlyMap<string, T>, ...entries: [string, T][]) => new Map([...map, ...entries]);
  const valueOf = (of: string): { kind: string; value: number } | null => {
    for (const { stage, parts } of compiled.value.ways.flatMap((way) => way.stages))
      for (const { spec, chosen } of parts)
        if (`${stage.id}.${spec.name}` === of) return { kind: spec.kind, value: chosen };
    return null;
  };
  if (state?.toLowerCase() === 'dead') {
    if (valueOf(element)) return failure('bad-fault', { fault });
    return success({ ...board, dead: new Set([...board.dead, element]) });
  }
  const own = valueOf(element);
  if (!own) return failure('bad-fault', { fault });
  if (state)
    return success({ ...board, failed: set(board.failed, [element, state.toLowerCase() as 'open' | 'short']) });
  const shareOf = (of: string) => board.factors.get(of) ?? 1;
  if (factor !== undefined) {
    const share = Number(factor);
    if (!(share > 0)) return failure('bad-fault', { fault });
    return success({ ...board, factors: set(board.factors, [element, shareOf(element) * share]) });
  }
  const other = called.get(second.trim().toUpperCase());
  const its = other && valueOf(other);
  if (!other || !its) return missing(second.trim());
  if (its.kind !== own.kind) return failure('swap-of-kinds', { fault });
  return success({
    ...board,
    factors: set(
      board.factors,
      [element, (its.value * shareOf(other)) / own.value],
      [other, (own.value * shareOf(element)) / its.value],
    ),
  });
}
