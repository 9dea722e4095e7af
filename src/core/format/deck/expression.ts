import { deckNumber } from './number';

const FUNCTIONS: Record<string, (...x: number[]) => number> = {
  sqrt: Math.sqrt,
  exp: Math.exp,
  log: Math.log,
  ln: Math.log,
  log10: Math.log10,
  sin: Math.sin,
  cos: Math.cos,
  tan: Math.tan,
  atan: Math.atan,
  abs: Math.abs,
  min: Math.min,
  max: Math.max,
  pow: Math.pow,
};

/** No expression is longer, or nests deeper, parentheses, functions and powers together. */
const MOST_LETTERS = 4000;
export const MOST_DEPTH = 100;

/** What could not be read in an expression. */
export class ExpressionError extends Error {}

const TOKENS = /(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d+)?[a-zµ]*|[a-z_][\w.]*|\*\*|[-+*/^(),]|\S/gi;

/**
 * Evaluates a deck's arithmetic: numbers with suffixes, names, + − * / ^ (or **), parentheses, the usual functions, pi.
 * Throws ExpressionError naming what it stumbled over.
 */
export function evaluateExpression(text: string, lookup: (name: string) => number | undefined): number {
  if (text.length > MOST_LETTERS)
    throw new ExpressionError(`an expression has ${text.length} letters; the most is ${MOST_LETTERS}`);
  const value = new Reading(text.match(TOKENS) ?? [], lookup).whole();
  if (!Number.isFinite(value)) throw new ExpressionError('the value is not finite');
  return value;
}

/** Recursive descent, a method for each precedence, lowest first. */
class Reading {
  private at = 0;
  private depth = 0;

  constructor(
    private readonly tokens: readonly string[],
    private readonly lookup: (name: string) => number | undefined,
  ) {}

  whole(): number {
    const value = this.sum();
    if (this.at < this.tokens.length) throw new ExpressionError(`'${this.tokens[this.at]}' does not belong there`);
    return value;
  }

  private sum = (): number => {
    let value = this.product();
    for (let sign = this.taken('+', '-'); sign; sign = this.taken('+', '-'))
      value = sign === '+' ? value + this.product() : value - this.product();
    return value;
  };

  private product(): number {
    let value = this.signed();
    for (let sign = this.taken('*', '/'); sign; sign = this.taken('*', '/'))
      value = sign === '*' ? value * this.signed() : value / this.signed();
    return value;
  }

  private signed = (): number => {
    let sign = 1;
    for (let one = this.taken('-', '+'); one; one = this.taken('-', '+')) if (one === '-') sign = -sign;
    return sign * this.power();
  };

  private power(): number {
    const base = this.atom();
    return this.taken('^', '**') ? base ** this.deeper(this.signed) : base;
  }

  private atom(): number {
    const token = this.tokens[this.at++];
    if (token === undefined) throw new ExpressionError('the expression ends too early');
    if (token === '(') {
      const value = this.deeper(this.sum);
      this.expect(')');
      return value;
    }
    const number = deckNumber(token);
    if (number !== null) return number;
    const name = token.toLowerCase();
    if (this.tokens[this.at] === '(') return this.call(name);
    const value = name === 'pi' ? Math.PI : this.lookup(name);
    if (value === undefined) throw new ExpressionError(`'${token}' is not a number or a parameter`);
    return value;
  }

  private call(name: string): number {
    const apply = Object.hasOwn(FUNCTIONS, name) ? FUNCTIONS[name] : undefined;
    if (!apply) throw new ExpressionError(`there is no function '${name}'`);
    this.expect('(');
    const values = [this.deeper(this.sum)];
    while (this.taken(',')) values.push(this.deeper(this.sum));
    this.expect(')');
    return apply(...values);
  }

  private deeper(read: () => number): number {
    if (++this.depth > MOST_DEPTH) throw new ExpressionError(`it nests more than ${MOST_DEPTH} deep`);
    const value = read();
    this.depth--;
    return value;
  }

  /** The next token, passed over, if it is one of these. */
  private taken(...wanted: readonly string[]): string | null {
    const token = this.tokens[this.at];
    if (token === undefined || !wanted.includes(token)) return null;
    this.at++;
    return token;
  }

  private expect(token: string): void {
    if (this.taken(token)) return;
    throw new ExpressionError(`expected '${token}' but found '${this.tokens[this.at] ?? 'the end'}'`);
  }
}
