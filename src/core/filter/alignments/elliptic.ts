import { add, complex, divide, multiply, type Complex } from '../../math/complex';
import { sectionsOfPoles } from '../section';
import {
  halfPowerOmega,
  HIGHEST_ORDER,
  ordersUpTo,
  scaleSections,
  withZeros,
  type Alignment,
} from './define-alignment';

/** Moduli of Landen's descending transformation, until nothing is left. */
function landen(modulus: number): number[] {
  const list: number[] = [];
  for (let k = modulus; k > 1e-16;) {
    const complement = Math.sqrt(1 - k * k);
    k = (k / (1 + complement)) ** 2;
    list.push(k);
    if (list.length > 12) break;
  }
  return list;
}

function ascend(start: Complex, moduli: readonly number[]): Complex {
  let w = start;
  for (let i = moduli.length - 1; i >= 0; i--)
    w = divide(multiply(w, complex(1 + moduli[i])), add(complex(1), multiply(complex(moduli[i]), multiply(w, w))));
  return w;
}

/** cd(uK, k) for complex u. */
const cde = (u: Complex, moduli: readonly number[]): Complex => {
  const [a, b] = [(u.re * Math.PI) / 2, (u.im * Math.PI) / 2];
  return ascend(complex(Math.cos(a) * Math.cosh(b), -Math.sin(a) * Math.sinh(b)), moduli);
};
/** sn(uK, k) for complex u. */
const sne = (u: Complex, moduli: readonly number[]): Complex => {
  const [a, b] = [(u.re * Math.PI) / 2, (u.im * Math.PI) / 2];
  return ascend(complex(Math.sin(a) * Math.cosh(b), Math.cos(a) * Math.sinh(b)), moduli);
};

/** The v for which sn(jvK, k) = jy. */
function inverseSn(y: number, modulus: number): number {
  let [w, before] = [y, modulus];
  for (const next of landen(modulus)) {
    w = ((w / (1 + Math.sqrt(1 + w * w * before * before))) * 2) / (1 + next);
    before = next;
  }
  return (2 / Math.PI) * Math.asinh(w);
}

/** Arithmetic-geometric mean. */
function agm(a: number, b: number): number {
  for (let i = 0; i < 60 && Math.abs(a - b) > 1e-16 * a; i++) [a, b] = [(a + b) / 2, Math.sqrt(a * b)];
  return a;
}

/** Terms of a theta series: its nome lies well under one for every order and attenuation on offer. */
const THETA_TERMS = 40;

/**
 * Selectivity k of an order and discrimination k1: the nome of k is that of k1 to the power 1/n, q = exp(−π K1′/(n
 * K1)), and √k = θ2(q)/θ3(q). In nomes nothing is lost where k1 is so small that its complement rounds to one (M.
 * Abramowitz, I. Stegun, Handbook of Mathematical Functions, 16.38 and 17.6).
 */
function degreeEquation(order: number, discrimination: number): number {
  const complement = Math.sqrt((1 - discrimination) * (1 + discrimination));
  const nome = Math.exp((-Math.PI * agm(1, complement)) / (order * agm(1, discrimination)));
  let [even, odd] = [1, 1];
  for (let m = 1; m < THETA_TERMS; m++) {
    even += 2 * nome ** (m * m);
    odd += nome ** (m * (m + 1));
  }
  return ((2 * nome ** 0.25 * odd) / even) ** 2;
}

/**
 * Selectivity k: ripple edge over stop-band edge. Reflection zeros are the reciprocals of the nulls over it.
 * @param attenuationDb of the stop band.
 */
export const ellipticSelectivity = (order: number, rippleDb: number, attenuationDb: number): number =>
  degreeEquation(order, Math.sqrt((10 ** (rippleDb / 10) - 1) / (10 ** (attenuationDb / 10) - 1)));

/**
 * Equal ripples on both sides, the narrowest transition of all: poles j·cd((u_i − jv)K, k), zeros j/(k cd(u_i K, k)),
 * ripple edge at 1 rad/s (W. Cauer; computed by Landen's transformation: S. Orfanidis, Lecture Notes on Elliptic Filter
 * Design, 2006, equations 47 to 63).
 */
export const elliptic: Alignment = {
  id: 'elliptic',
  name: 'Elliptic (Cauer)',
  reason: 'The narrowest transition there is; ripple on both sides of it.',
  orders: ordersUpTo(HIGHEST_ORDER),
  hasRipple: true,
  hasAttenuation: true,
  ownCutoff: 'ripple edge',
  defaultCutoffAt: 'own',
  prototype(order, { rippleDb, attenuationDb = 40, cutoffAt }) {
    const epsilon = Math.sqrt(10 ** (rippleDb / 10) - 1);
    const discrimination = epsilon / Math.sqrt(10 ** (attenuationDb / 10) - 1);
    if (order === 1) {
      const single = sectionsOfPoles([complex(-1 / epsilon)]);
      return cutoffAt === 'own' ? single : scaleSections(single, 1 / halfPowerOmega(single));
    }
    const k = degreeEquation(order, discrimination);
    const moduli = landen(k);
    const v = inverseSn(1 / epsilon, discrimination) / order;
    const u = Array.from({ length: Math.floor(order / 2) }, (_, i) => (2 * i + 1) / order);
    const turned = ({ re, im }: Complex) => complex(-im, re);
    const upper = u.map((x) => turned(cde(complex(x, -v), moduli)));
    const real = order % 2 === 1 ? [turned(sne(complex(0, v), moduli))] : [];
    const poles = [...upper, ...upper.map(({ re, im }) => complex(re, -im)), ...real.map(({ re }) => complex(re))].map(
      ({ re, im }) => complex(-Math.abs(re), im),
    );
    const zeros = u.map((x) => 1 / (k * cde(complex(x), moduli).re));
    const sections = withZeros(sectionsOfPoles(poles), zeros);
    return cutoffAt === 'own'
      ? sections
      : scaleSections(sections, 1 / halfPowerOmega(sections, order % 2 === 0 ? 10 ** (rippleDb / 10) : 1));
  },
  dcLevelDb: (order, { rippleDb }) => (order % 2 === 0 ? -rippleDb : 0),
};
