import { MOST_EXPONENT } from './graph';
import type { Bytes } from './wasm-bytes';

const get = (body: Bytes, local: number) => body.byte(0x20).unsigned(local);
const set = (body: Bytes, local: number) => body.byte(0x21).unsigned(local);
const constant = (body: Bytes, value: number) => body.byte(0x44).double(value);
const [ADD, SUBTRACT, MULTIPLY, DIVIDE] = [0xa0, 0xa1, 0xa2, 0xa3];

/**
 * ln 2 in two pieces, the first with its low bits clear, so that k times it is exact (W. Cody and W. Waite, Software
 * Manual for the Elementary Functions, ch. 6).
 */
const LN2_HIGH = 6.9314718036912381649e-1;
const LN2_LOW = 1.90821492927058770002e-10;

/** 1.5·2^52: added to a number of moderate size it leaves it rounded to a whole number in the low bits. */
const ROUNDER = 6755399441055744;

/**
 * Pushes Σ coefficients[i]·xⁱ for x in a local, in pairs that the processor can work on side by side (G. Estrin, 1960).
 */
function polynomial(body: Bytes, x: number, square: number, coefficients: readonly number[]): void {
  const pairs = Array.from({ length: Math.ceil(coefficients.length / 2) }, (_, i) =>
    coefficients.slice(2 * i, 2 * i + 2),
  );
  // Horner over pairs, in the square.
  for (let i = pairs.length - 1; i >= 0; i--) {
    if (i < pairs.length - 1) get(body, square).byte(MULTIPLY);
    const [low, high] = pairs[i];
    constant(body, low);
    if (high !== undefined) {
      constant(body, high);
      get(body, x).byte(MULTIPLY, ADD);
    }
    if (i < pairs.length - 1) body.byte(ADD);
  }
}

const INVERSE_FACTORIALS = Array.from({ length: 13 }, (_, n) =>
  Array.from({ length: n }, (_, k) => k + 1).reduce((product, k) => product / k, 1),
);

/**
 * Replaces x on the stack by e^x, good to about an ulp for −700 … 200, the most it goes to: k = round(x / ln 2), a
 * polynomial of the rest, and 2^k through the exponent's bits.
 */
export function emitExponential(body: Bytes, [rest, shifted, square]: readonly number[]): void {
  constant(body, -700).byte(0xa5);
  constant(body, MOST_EXPONENT).byte(0xa4);
  set(body, rest);
  get(body, rest);
  constant(body, Math.LOG2E).byte(MULTIPLY);
  constant(body, ROUNDER).byte(ADD);
  set(body, shifted);
  get(body, shifted);
  constant(body, ROUNDER).byte(SUBTRACT);
  set(body, square);
  get(body, rest);
  get(body, square);
  constant(body, LN2_HIGH).byte(MULTIPLY, SUBTRACT);
  get(body, square);
  constant(body, LN2_LOW).byte(MULTIPLY, SUBTRACT);
  set(body, rest);
  get(body, rest);
  get(body, rest).byte(MULTIPLY);
  set(body, square);
  polynomial(body, rest, square, INVERSE_FACTORIALS);
  get(body, shifted);
  // (k + 1023) << 52, read as a double; the shift drops all but k.
  body.byte(0xbd, 0x42).signed(1023).byte(0x7c, 0x42).signed(52).byte(0x86, 0xbf, MULTIPLY);
}

const SIMD = 0xfd;

/**
 * The same for two numbers side by side (f64x2). Its constants come from memory, where `constant` says: as immediates
 * they would be made anew at every use. `locals` are three of the vector type.
 */
export function emitExponentialPair(
  body: Bytes,
  [rest, shifted, square]: readonly number[],
  constant: (value: number) => number,
): void {
  const known = (value: number) => body.byte(0x41, 0x00, SIMD, 0x00, 0x04).unsigned(constant(value));
  const op = (code: number) => body.byte(SIMD).unsigned(code);
  const [add, subtract, multiply] = [() => op(0xf0), () => op(0xf1), () => op(0xf2)];
  known(-700);
  op(0xf5);
  known(MOST_EXPONENT);
  op(0xf4);
  set(body, rest);
  get(body, rest);
  known(Math.LOG2E);
  multiply();
  known(ROUNDER);
  add();
  set(body, shifted);
  get(body, shifted);
  known(ROUNDER);
  subtract();
  set(body, square);
  get(body, rest);
  get(body, square);
  known(LN2_HIGH);
  multiply();
  subtract();
  get(body, square);
  known(LN2_LOW);
  multiply();
  subtract();
  set(body, rest);
  get(body, rest);
  get(body, rest);
  multiply();
  set(body, square);
  const pairs = Array.from({ length: Math.ceil(INVERSE_FACTORIALS.length / 2) }, (_, i) =>
    INVERSE_FACTORIALS.slice(2 * i, 2 * i + 2),
  );
  for (let i = pairs.length - 1; i >= 0; i--) {
    const inner = i < pairs.length - 1;
    if (inner) {
      get(body, square);
      multiply();
    }
    const [low, high] = pairs[i];
    if (high === undefined) known(low);
    else {
      get(body, rest);
      known(high);
      multiply();
      known(low);
      add();
    }
    if (inner) add();
  }
  // (k + 1023) << 52 in both lanes.
  get(body, shifted);
  body.byte(0x42).signed(1023).byte(SIMD, 0x12);
  op(0xce);
  body.byte(0x41).signed(52);
  op(0xcb);
  multiply();
}

/**
 * Replaces a positive, normal x on the stack by its natural logarithm: exponent times ln 2, and 2 atanh((m − 1)/(m +
 * 1)) of a mantissa about 1 (M. Abramowitz and I. Stegun, Handbook of Mathematical Functions, 4.1.27).
 */
export function emitLogarithm(body: Bytes, [mantissa, exponent, square]: readonly number[]): void {
  set(body, mantissa);
  get(body, mantissa).byte(0xbd, 0x42).signed(52).byte(0x88, 0x42).signed(1023).byte(0x7d, 0xb9);
  set(body, exponent);
  // Divide by 2^exponent, through its bits.
  get(body, mantissa);
  get(body, exponent).byte(0xfc, 0x06, 0x42).signed(1023).byte(0x7c, 0x42).signed(52).byte(0x86, 0xbf, DIVIDE);
  set(body, mantissa);
  // Above √2 halve once more, so that the series stays short.
  for (const [local, value, op] of [
    [exponent, 1, ADD],
    [mantissa, 0.5, MULTIPLY],
  ] as const) {
    get(body, local);
    constant(body, value).byte(op);
    get(body, local);
    get(body, mantissa);
    constant(body, Math.SQRT2).byte(0x64, 0x1b);
    set(body, local);
  }
  get(body, mantissa);
  constant(body, 1).byte(SUBTRACT);
  get(body, mantissa);
  constant(body, 1).byte(ADD, DIVIDE);
  set(body, mantissa);
  get(body, mantissa);
  get(body, mantissa).byte(MULTIPLY);
  set(body, square);
  for (let n = 12; n >= 0; n--) {
    if (n < 12) get(body, square).byte(MULTIPLY);
    constant(body, 2 / (2 * n + 1));
    if (n < 12) body.byte(ADD);
  }
  get(body, mantissa).byte(MULTIPLY);
  get(body, exponent);
  constant(body, Math.LN2).byte(MULTIPLY, ADD);
}
