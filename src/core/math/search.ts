const GOLDEN = (Math.sqrt(5) - 1) / 2;

/**
 * The place of the least of a function with one dip between two ends, by golden section, one evaluation a step (J.
 * Kiefer, Sequential minimax search for a maximum, Proc. Amer. Math. Soc. 4, 1953). Each step leaves 0.618 of the
 * stretch: 24 a hundred-thousandth of it, 32 a few ten-millionths.
 */
export function leastBetween(
  of: (x: number) => number,
  from: number,
  to: number,
  steps = 32,
): { readonly at: number; readonly value: number } {
  let [low, high] = [from, to];
  let [a, b] = [high - GOLDEN * (high - low), low + GOLDEN * (high - low)];
  let [atA, atB] = [of(a), of(b)];
  for (let step = 0; step < steps; step++) {
    if (atA < atB) {
      [high, b, atB] = [b, a, atA];
      a = high - GOLDEN * (high - low);
      atA = of(a);
    } else {
      [low, a, atA] = [a, b, atB];
      b = low + GOLDEN * (high - low);
      atB = of(b);
    }
  }
  const at = (low + high) / 2;
  return { at, value: of(at) };
}

/** The greatest of a function with one hump likewise. */
export function greatestBetween(
  of: (x: number) => number,
  from: number,
  to: number,
  steps?: number,
): { readonly at: number; readonly value: number } {
  const { at, value } = leastBetween((x) => -of(x), from, to, steps);
  return { at, value: -value };
}

/**
 * Where a condition that holds from some place on begins to, between two positive ends, by halving the logarithm until
 * the ends are so near (as a share) or nothing lies between them.
 */
export function beginsBetween(holds: (x: number) => boolean, from: number, to: number, near = 4e-16): number {
  let [low, high] = [from, to];
  while (high / low > 1 + near) {
    const middle = Math.sqrt(low) * Math.sqrt(high);
    if (middle <= low || middle >= high) break;
    if (holds(middle)) high = middle;
    else low = middle;
  }
  return Math.sqrt(low) * Math.sqrt(high);
}
