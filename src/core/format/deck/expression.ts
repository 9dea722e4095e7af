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

/**
 * Evaluates a deck's arithmetic: numbers with suffixes, names, + − * / ^ (or **), parentheses, the usual functions, pi.
 * Throws ExpressionError naming what it stumbled over.
 */
export function evaluateExpression(text: string, lookup: (name: string) => number | undefined): number {
  if (text.length > MOST_LETTERS)
    throw new ExpressionError(`an expression has ${text.length} letters; the most is ${MOST_LETTERS}`);
  const tokens = text.match(/(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d+)?[a-zµ]*|[a-z_][\w.]*|\*\*|[-+*/^(),]|\S/gi) ?? [];
  let at = 0;
  let depth = 0;
  const deeper = (read: () => number): number => {
    if (++depth > MOST_DEPTH) throw new ExpressionError(`it nests more than ${MOST_DEPTH} deep`);
    const value = read();
    depth--;
    return value;
  };
  const peek = () => tokens[at];
  const expect = (token: string) => {
    if (tokens[at] !== token) throw new ExpressionError(`expected '${token}' but found '${tokens[at] ?? 'the end'}'`);
    at++;
  };
  function sum(): number {
    let value = product();
    while (peek() === '+' || peek() === '-') value = tokens[at++] === '+' ? value + product() : value - product();
    return value;
  }
  function product(): number {
    let value = signed();
    while (peek() === '*' || peek() === '/') value = tokens[at++] === '*' ? value * signed() : value / signed();
    return value;
  }
  function signed(): number {
    let sign = 1;
    while (peek() === '-' || peek() === '+') if (tokens[at++] === '-') sign = -sign;
    return sign * power();
  }
  function power(): number {
    const base = atom();
    if (peek() !== '^' && peek() !== '**') return base;
    at++;
    return base ** deeper(signed);
  }
  function atom(): number {
    const token = tokens[at++];
    if (token === undefined) throw new ExpressionError('the expression ends too early');
    if (token === '(') {
      const value = deeper(sum);
      expect(')');
      return value;
    }
    const number = deckNumber(token);
    if (number !== null) return number;
    const name = token.toLowerCase();
    if (peek() === '(') return call(name);
    const value = name === 'pi' ? Math.PI : lookup(name);
    if (value === undefined) throw new ExpressionError(`'${token}' is not a number or a parameter`);
    return value;
  }
  function call(name: string): number {
    const apply = Object.hasOwn(FUNCTIONS, name) ? FUNCTIONS[name] : undefined;
    if (!apply) throw new ExpressionError(`there is no function '${name}'`);
    expect('(');
    const values = [deeper(sum)];
    while (peek() === ',') {
      at++;
      values.push(deeper(sum));
    }
    expect(')');
    return apply(...values);
  }
  const value = sum();
  if (at < tokens.length) throw new ExpressionError(`'${tokens[at]}' does not belong there`);
  if (!Number.isFinite(value)) throw new ExpressionError('the value is not finite');
  return value;
}
