import type { Assembled } from '../../circuit/structure';
import { linearise } from '../../analysis/rest/linearise';
import { operatingPointNear } from '../../analysis/rest/operating-point';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import type { CompileOptions } from '../../design/compiled/writing';
import type { Design, Variant } from '../../design/document/schema';
import { failure, success, type Result } from '../../result';

/** A variant as it is built, beside what was asked for. */
export interface BuiltVariant extends Compilation {
  readonly variant: Variant;
}

/** Fails as the design does, or with `no-such-variant`. @param options what differs from as built. */
export function builtVariant(
  design: Design,
  variantId: string,
  options: Partial<CompileOptions> = {},
): Result<BuiltVariant> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, { ...AS_BUILT, ...options });
  return built.ok ? success({ ...built.value, variant }) : built;
}

/**
 * How a circuit is compiled that runs in time: its op-amps slew and reach no further than their rails, and its rest is
 * found by what runs it.
 */
export const IN_TIME = { rest: 'left', opAmps: 'limited', chains: 'folded' } as const satisfies Partial<CompileOptions>;

/** The circuit that runs in time: the bent one where anything bends. */
export const runningCircuit = ({ live, circuit }: Compilation): Assembled => live?.circuit ?? circuit;
/** What a source of a circuit gives at rest, V or A. */
export const restOfSource = ({ sources }: Assembled, name: string): number => sources?.get(name)?.dc ?? 0;

/** A circuit with other part values: what it is to a small signal, and where it rests if anything bends. */
export interface MovedCircuit {
  readonly small: Assembled;
  /** Volts and amperes in the order of the live circuit's unknowns; null where nothing bends. */
  readonly rest: Float64Array | null;
}

/**
 * A circuit with other part values, at the rest that those values bring where devices bend. Fails as the operating
 * point does. @param near a rest that theirs cannot be far from, and is looked for nowhere else; absent: that of the
 * circuit as it is, and then from scratch.
 */
export function circuitWith(
  { live, circuit }: Compilation,
  values: Float64Array,
  near?: Float64Array,
): Result<MovedCircuit> {
  if (!live) return success({ small: { structure: circuit.structure, values }, rest: null });
  const moved = { ...live.circuit, values: values.slice(0, live.circuit.values.length) };
  const rest = operatingPointNear(moved, near ?? live.rest, { stay: near !== undefined });
  return rest.ok ? success({ small: linearise(moved, rest.value), rest: rest.value }) : rest;
}

/** What a circuit is to a small signal with other part values. Fails as the operating point does. */
export function smallSignalWith(built: Compilation, values: Float64Array): Result<Assembled> {
  const moved = circuitWith(built, values);
  return moved.ok ? success(moved.value.small) : moved;
}
