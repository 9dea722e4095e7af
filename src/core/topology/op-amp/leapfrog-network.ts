/** How a leapfrog is put together: its integrators, and what comes into each. */

/** By form: its order, and whether it has nulls. */
export const FORMS: ReadonlyMap<string, { readonly order: number; readonly nulls: boolean }> = new Map(
  [true, false].flatMap((nulls) =>
    [3, 4, 5, 6, 7, 8].map((order) => [`order ${order}${nulls ? ', nulls' : ''}`, { order, nulls }] as const),
  ),
);
export const orderOf = (form: string): number => FORMS.get(form)?.order ?? 3;
export const hasNulls = (form: string): boolean => FORMS.get(form)?.nulls ?? false;
export const WITH_NULLS = [...FORMS.keys()].filter(hasNulls);

/**
 * Signs with which the integrators stand for node voltages and coil currents: − + + − − + + −, so that only every
 * coil's current is wanted turned over besides.
 */
export const signOf = (k: number): 1 | -1 => ([-1, 1, 1, -1] as const)[(k - 1) % 4];

/** One input of an integrator: what it comes from, through what. `turned` takes it from the inverter. */
export interface Input {
  readonly part: string;
  readonly kind: 'resistor' | 'capacitor';
  readonly from: number | 'in';
  readonly turned: boolean;
}

/**
 * Inputs of integrator k of n: the source or the neighbour before, the neighbour after, and through traps the nodes two
 * away.
 */
export function inputsOf(form: string, k: number): Input[] {
  const n = orderOf(form);
  const node = k % 2 === 1;
  const inputs: Input[] = [
    k === 1
      ? { part: 'Rin', kind: 'resistor', from: 'in', turned: false }
      : { part: `R${k}a`, kind: 'resistor', from: k - 1, turned: node },
  ];
  if (k < n) inputs.push({ part: `R${k}b`, kind: 'resistor', from: k + 1, turned: node });
  if (hasNulls(form) && node && k > 1) inputs.push({ part: `C${k}f`, kind: 'capacitor', from: k - 2, turned: false });
  if (hasNulls(form) && node && k + 2 <= n)
    inputs.push({ part: `C${k}b`, kind: 'capacitor', from: k + 2, turned: false });
  return inputs;
}
const known = new Map<string, Input[][]>();
export function inputsByState(form: string): Input[][] {
  const before = known.get(form);
  if (before) return before;
  const made = states(form).map((k) => inputsOf(form, k));
  known.set(form, made);
  return made;
}
export const losesAt = (form: string, k: number): boolean => k === 1 || k === orderOf(form);
export const states = (form: string): number[] => Array.from({ length: orderOf(form) }, (_, i) => i + 1);
