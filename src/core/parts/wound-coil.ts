import { copperOf, INSULATED } from './grades';
import { failure, success, type Result } from '../result';

/** What a coil is to be wound of: bare wire (m), the former's radius and the width between its cheeks (m). */
export interface CoilFormer {
  readonly wireM: number;
  readonly radiusM: number;
  readonly widthM: number;
}
/** A coil as it is wound, layer on layer. */
export interface WoundCoil {
  readonly turns: number;
  readonly layers: number;
  readonly turnsPerLayer: number;
  /** What so many whole turns come to, H. */
  readonly henry: number;
  readonly lengthM: number;
  readonly ohm: number;
  readonly copperKg: number;
  readonly outerRadiusM: number;
}

const MU_0 = 4e-7 * Math.PI;
/** More is no coil for a loudspeaker, and takes its time. */
const MOST_TURNS = 800;

interface Turn {
  readonly radiusM: number;
  readonly alongM: number;
}

/**
 * Winds turns until there is as much inductance as wanted (H): every turn a circle of its own, with its own inductance
 * and that with each of the others (J. C. Maxwell, A Treatise on Electricity and Magnetism, 1873, 701; of a turn: E. B.
 * Rosa, F. W. Grover, Bulletin of the Bureau of Standards 8, 1912, eq. 63). Fails with `no-room` where not one turn
 * goes between the cheeks, `too-many-turns` (`most`) where the former is too small for so much.
 */
export function woundCoil(henry: number, former: CoilFormer): Result<WoundCoil, 'no-room' | 'too-many-turns'> {
  const pitch = former.wireM * INSULATED;
  const turnsPerLayer = Math.floor(former.widthM / pitch + 1e-9);
  if (turnsPerLayer < 1) return failure('no-room', { wireMm: 1000 * former.wireM, widthMm: 1000 * former.widthM });
  const wound: Turn[] = [];
  let have = 0;
  for (;;) {
    const next = turnAt(wound.length, turnsPerLayer, pitch, former.radiusM);
    const more = wound.reduce((sum, turn) => sum + 2 * mutual(turn, next), own(next, former.wireM / 2));
    // The nearer of two whole numbers of turns.
    if (wound.length > 0 && Math.abs(have + more - henry) > Math.abs(have - henry)) break;
    wound.push(next);
    have += more;
    if (wound.length > MOST_TURNS) return failure('too-many-turns', { most: MOST_TURNS });
  }
  const lengthM = wound.reduce((sum, { radiusM }) => sum + 2 * Math.PI * radiusM, 0);
  const layers = Math.ceil(wound.length / turnsPerLayer);
  return success({
    turns: wound.length,
    layers,
    turnsPerLayer,
    henry: have,
    lengthM,
    ...copperOf(lengthM, former.wireM),
    outerRadiusM: former.radiusM + layers * pitch,
  });
}

const turnAt = (i: number, perLayer: number, pitch: number, formerM: number): Turn => {
  const layer = Math.floor(i / perLayer);
  const at = i % perLayer;
  return {
    radiusM: formerM + (layer + 0.5) * pitch,
    // Every second layer is wound back.
    alongM: (layer % 2 === 0 ? at : perLayer - 1 - at) * pitch,
  };
};

/** Inductance of a single turn of round wire, current spread evenly, H. */
const own = ({ radiusM }: Turn, wireRadiusM: number): number =>
  MU_0 * radiusM * (Math.log((8 * radiusM) / wireRadiusM) - 1.75);

/** Of two circles about one axis: μ0 √(ab) ((2/k − k) K − (2/k) E), k² = 4ab/((a+b)² + z²), H. */
function mutual(a: Turn, b: Turn): number {
  const product = a.radiusM * b.radiusM;
  const k = Math.sqrt((4 * product) / ((a.radiusM + b.radiusM) ** 2 + (a.alongM - b.alongM) ** 2));
  const { first, second } = completeElliptic(k);
  return MU_0 * Math.sqrt(product) * ((2 / k - k) * first - (2 / k) * second);
}

/** Complete elliptic integrals of the first and second kind, of a modulus, by the arithmetic-geometric mean. */
function completeElliptic(k: number): { first: number; second: number } {
  let [a, g] = [1, Math.sqrt(1 - k * k)];
  let [sum, power] = [1 - (k * k) / 2, 1];
  while (Math.abs(a - g) > 1e-15 * a) {
    const half = (a - g) / 2;
    [a, g] = [(a + g) / 2, Math.sqrt(a * g)];
    sum -= power * half * half;
    power *= 2;
  }
  const first = Math.PI / (2 * a);
  return { first, second: first * sum };
}
