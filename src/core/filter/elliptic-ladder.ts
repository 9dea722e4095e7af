import { solvePositive } from '../math/newton';
import { failure, success, type Result } from '../result';
import { butterworth } from './alignments/butterworth';
import { elliptic, ellipticSelectivity } from './alignments/elliptic';
import { fromSections } from './zero-pole';
import { doublyTerminated } from './passive-ladder';
import { chebyshev } from './alignments/chebyshev';
import { polynomialProduct } from './rational';
import { add, complex, divide, multiply, scale, type Complex } from '../math/complex';

/**
 * A ladder between 1 ohm and 1 ohm, ripple edge at 1 rad/s: capacitors to ground at its nodes, and in line between them
 * coils, each with a capacitor across it that makes a null (none across the last coil of an even order). One more node
 * than coils, or as many.
 */
export interface EllipticLadder {
  readonly shunt: readonly number[];
  readonly coils: readonly number[];
  readonly traps: readonly number[];
}

type Polynomial = readonly number[];
const sum = (a: Polynomial, b: Polynomial): number[] =>
  Array.from({ length: Math.max(a.length, b.length) }, (_, i) => (a[i] ?? 0) + (b[i] ?? 0));

/**
 * Denominator of the ladder's transfer function, lowest power first, from its chain matrix: a shunt 1/Y, a trap in line
 * of impedance sL/(1 + s²LC), whose own denominators are kept apart so that all stays polynomial.
 */
function ladderDenominator({ shunt, coils, traps }: EllipticLadder): number[] {
  // (A B; C D) with everything in line multiplied through by its trap's 1 + s²LC.
  let [a, b, c, d]: Polynomial[] = [[1], [0], [0], [1]];
  shunt.forEach((farad, k) => {
    [a, c] = [sum(a, polynomialProduct(b, [0, farad])), sum(c, polynomialProduct(d, [0, farad]))];
    if (k === coils.length) return;
    const [trap, coil] = [
      [1, 0, coils[k] * traps[k]],
      [0, coils[k]],
    ];
    [a, b, c, d] = [
      polynomialProduct(a, trap),
      sum(polynomialProduct(b, trap), polynomialProduct(a, coil)),
      polynomialProduct(c, trap),
      sum(polynomialProduct(d, trap), polynomialProduct(c, coil)),
    ];
  });
  // 2·Vs/Vout between equal terminations: A + B + C + D.
  return sum(sum(a, b), sum(c, d));
}

function monicFromPoles(poles: readonly Complex[]): number[] {
  let product: number[] = [1];
  for (const p of poles) {
    if (p.im < 0) continue;
    product = polynomialProduct(product, p.im > 1e-12 ? [p.re ** 2 + p.im ** 2, -2 * p.re, 1] : [-p.re, 1]);
  }
  return product;
}

const permutations = <T>(list: readonly T[]): T[][] =>
  list.length < 2
    ? [[...list]]
    : list.flatMap((item, i) =>
        permutations([...list.slice(0, i), ...list.slice(i + 1)]).map((rest) => [item, ...rest]),
      );

const known = new Map<string, Result<EllipticLadder, 'not-a-ladder'>>();

/**
 * The ladder of an elliptic low-pass: its poles say what the denominator is, each trap's null is one of its zeros, and
 * the elements follow by Newton's method, from those of a Chebyshev of the same order, for whichever order of the traps
 * leaves all of them positive (tables: A. I. Zverev, Handbook of Filter Synthesis, ch. 5). An even order stands on the
 * transformed approximation, with its highest null at infinity and its lowest reflection zero at DC (R. Saal and E.
 * Ulbrich, On the Design of Filters by Synthesis, IRE Trans. CT-5, 1958): its attenuation is what was asked for, its
 * poles are its own. What has no such ladder is refused: `not-a-ladder`.
 */
export function ellipticLadder(
  order: number,
  rippleDb: number,
  attenuationDb: number,
): Result<EllipticLadder, 'not-a-ladder'> {
  const key = `${order} ${rippleDb} ${attenuationDb}`;
  const before = known.get(key);
  if (before) return before;
  const found = synthesise(order, rippleDb, attenuationDb);
  if (known.size > 200) known.clear();
  known.set(key, found);
  return found;
}

/** What the ladder has to do: monic denominator (lowest power first) and the nulls. */
interface Wanted {
  readonly denominator: Polynomial;
  readonly nulls: readonly number[];
}

function wantedOf(order: number, rippleDb: number, attenuationDb: number): Wanted {
  const sections = elliptic.prototype(order, { rippleDb, attenuationDb, cutoffAt: 'own' });
  const { poles } = fromSections(sections);
  const nulls = sections.flatMap((s) => (s.order === 2 && s.zero !== undefined ? [s.zero] : []));
  if (order % 2 === 1) return { denominator: monicFromPoles(poles), nulls };
  // ω² → c(ω² − a)/(b − ω²): the lowest reflection zero goes to DC, so that equal terminations pass it, the highest
  // null to infinity, the ripple edge stays.
  const b = Math.max(...nulls) ** 2;
  const a = 1 / (ellipticSelectivity(order, rippleDb, attenuationDb) ** 2 * b);
  const c = (b - 1) / (1 - a);
  const moved = poles.map((p) =>
    leftRoot(scale(divide(add(multiply(p, p), complex(a)), add(multiply(p, p), complex(b))), c)),
  );
  return {
    denominator: monicFromPoles(moved),
    nulls: nulls.filter((z) => z ** 2 < b * (1 - 1e-12)).map((z) => Math.sqrt((c * (z ** 2 - a)) / (b - z ** 2))),
  };
}

/** The root of a square that lies in the left half plane; of a pair's square, one of the pair each. */
function leftRoot({ re, im }: Complex): Complex {
  const real = -Math.sqrt((Math.hypot(re, im) + re) / 2);
  return complex(real, im / (2 * real));
}

/** Where the search for elements starts: what a ladder without nulls has. */
function startsOf(order: number, rippleDb: number): number[][] {
  const plain = [
    doublyTerminated(chebyshev.prototype(order, { rippleDb, cutoffAt: 'own' }), 1, 'shunt-capacitor'),
    doublyTerminated(chebyshev.prototype(order + 1, { rippleDb, cutoffAt: 'own' }), 1, 'shunt-capacitor'),
    doublyTerminated(butterworth.prototype(order, { rippleDb, cutoffAt: 'own' }), 1, 'shunt-capacitor'),
  ];
  return plain.flatMap((ladder) =>
    ladder.ok ? [ladder.value.elements.slice(0, order).map((e) => Math.max(0.05, 0.8 * e))] : [],
  );
}

function synthesise(order: number, rippleDb: number, attenuationDb: number): Result<EllipticLadder, 'not-a-ladder'> {
  if (order < 3) return failure('not-a-ladder', { order });
  const { denominator: wanted, nulls } = wantedOf(order, rippleDb, attenuationDb);
  for (const start of startsOf(order, rippleDb))
    for (const zeros of permutations(nulls)) {
      // With one trap between two nodes the ladder is the same from either side; left free, its ends would be a double
      // root that Newton's method only crawls to.
      const symmetric = order === 3;
      const ladderOf = (given: readonly number[]): EllipticLadder => {
        const x = symmetric ? [given[0], given[1], given[0]] : given;
        const coils = x.filter((_, i) => i % 2 === 1);
        // An even order's last coil has no trap: its null is at infinity.
        return {
          shunt: x.filter((_, i) => i % 2 === 0),
          coils,
          traps: coils.map((l, k) => (k < zeros.length ? 1 / (l * zeros[k] ** 2) : 0)),
        };
      };
      const solved = solvePositive(
        (x) => {
          const got = ladderDenominator(ladderOf(x));
          // Compared at unit size at DC: 2 for equal terminations. The highest power follows from the rest, and is one
          // equation too.
          return wanted.slice(1).map((w, i) => got[i + 1] / got[0] / (w / wanted[0]) - 1);
        },
        start.slice(0, symmetric ? 2 : order),
      );
      if (solved.ok) return success(ladderOf(solved.value));
    }
  return failure('not-a-ladder', { order });
}
