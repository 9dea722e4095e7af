/** A node of an expression graph: its index. Arguments always come before what uses them. */
export type Node = number;

export const OPS = [
  'constant',
  'input',
  'add',
  'subtract',
  'multiply',
  'divide',
  'negate',
  'absolute',
  'minimum',
  'maximum',
  'squareRoot',
  'exponential',
  'logarithm',
  'select',
] as const;
export type Op = (typeof OPS)[number];
const CODE = Object.fromEntries(OPS.map((op, code) => [op, code])) as Record<Op, number>;

/** What `exponential` computes. */
export const MOST_EXPONENT = 200;
export const boundedExponential = (x: number): number => Math.exp(Math.min(x, MOST_EXPONENT));

/**
 * Straight-line arithmetic on real numbers, built once and run often. Equal expressions are one node, constants are
 * folded, zeros and ones vanish.
 *
 * Every node carries a stage, which says how often it changes: 0 constant, then what the builder of a program chooses
 * (per draw, per frequency; or per run, per step, per Newton iteration). A node's stage is the highest of its
 * arguments', so what need not be done again is not.
 */
export class Graph {
  readonly ops: number[] = [];
  readonly first: Node[] = [];
  readonly second: Node[] = [];
  /** For `select`: the two choices are `second` and `third`, taken by the sign of `first`. For an input: its number. */
  readonly third: Node[] = [];
  readonly numbers: number[] = [];
  readonly stages: number[] = [];
  readonly zero: Node;
  readonly one: Node;
  private readonly known = new Map<string, Node>();
  private readonly constants = new Map<number, Node>();

  constructor() {
    this.zero = this.constant(0);
    this.one = this.constant(1);
  }

  get size(): number {
    return this.ops.length;
  }

  op(node: Node): Op {
    return OPS[this.ops[node]];
  }

  private push(op: Op, stage: number, first: Node, second: Node, third: Node, number: number): Node {
    this.ops.push(CODE[op]);
    this.first.push(first);
    this.second.push(second);
    this.third.push(third);
    this.numbers.push(number);
    this.stages.push(stage);
    return this.ops.length - 1;
  }

  constant(value: number): Node {
    const key = Object.is(value, -0) ? 0 : value;
    let node = this.constants.get(key);
    if (node === undefined) this.constants.set(key, (node = this.push('constant', 0, -1, -1, -1, key)));
    return node;
  }

  /** The n-th number handed in at a stage. */
  input(stage: number, index: number): Node {
    const key = `i${stage},${index}`;
    let node = this.known.get(key);
    if (node === undefined) this.known.set(key, (node = this.push('input', stage, -1, -1, index, 0)));
    return node;
  }

  private make(op: Op, a: Node, b: Node = -1, c: Node = -1): Node {
    const commutes = op === 'add' || op === 'multiply' || op === 'minimum' || op === 'maximum';
    const [first, second] = commutes && b < a ? [b, a] : [a, b];
    const key = `${CODE[op]},${first},${second},${c}`;
    let node = this.known.get(key);
    if (node === undefined) {
      const stage = Math.max(this.stages[a], b < 0 ? 0 : this.stages[b], c < 0 ? 0 : this.stages[c]);
      this.known.set(key, (node = this.push(op, stage, first, second, c, 0)));
    }
    return node;
  }

  isConstant(node: Node): boolean {
    return this.ops[node] === CODE.constant;
  }

  private both(a: Node, b: Node): boolean {
    return this.isConstant(a) && this.isConstant(b);
  }

  private isNegation(node: Node): boolean {
    return this.ops[node] === CODE.negate;
  }

  add(a: Node, b: Node): Node {
    if (this.both(a, b)) return this.constant(this.numbers[a] + this.numbers[b]);
    if (a === this.zero) return b;
    if (b === this.zero) return a;
    if (this.isNegation(b)) return this.subtract(a, this.first[b]);
    if (this.isNegation(a)) return this.subtract(b, this.first[a]);
    return this.make('add', a, b);
  }

  subtract(a: Node, b: Node): Node {
    if (this.both(a, b)) return this.constant(this.numbers[a] - this.numbers[b]);
    if (a === b) return this.zero;
    if (b === this.zero) return a;
    if (a === this.zero) return this.negate(b);
    if (this.isNegation(b)) return this.add(a, this.first[b]);
    return this.make('subtract', a, b);
  }

  multiply(a: Node, b: Node): Node {
    if (this.both(a, b)) return this.constant(this.numbers[a] * this.numbers[b]);
    if (a === this.zero || b === this.zero) return this.zero;
    if (a === this.one) return b;
    if (b === this.one) return a;
    if (this.isConstant(a) && this.numbers[a] === -1) return this.negate(b);
    if (this.isConstant(b) && this.numbers[b] === -1) return this.negate(a);
    if (this.isNegation(a)) return this.negate(this.multiply(this.first[a], b));
    if (this.isNegation(b)) return this.negate(this.multiply(a, this.first[b]));
    return this.stages[a] < this.stages[b]
      ? this.gathered(a, b)
      : this.stages[b] < this.stages[a]
        ? this.gathered(b, a)
        : this.make('multiply', a, b);
  }

  /** slow · (slower · x) as (slow · slower) · x, so that the first product is made where it changes. */
  private gathered(slow: Node, fast: Node): Node {
    if (this.ops[fast] === CODE.multiply) {
      const [p, q] = [this.first[fast], this.second[fast]];
      if (this.stages[p] < this.stages[fast]) return this.multiply(this.multiply(slow, p), q);
      if (this.stages[q] < this.stages[fast]) return this.multiply(this.multiply(slow, q), p);
    }
    return this.make('multiply', slow, fast);
  }

  divide(a: Node, b: Node): Node {
    if (this.both(a, b)) return this.constant(this.numbers[a] / this.numbers[b]);
    if (a === this.zero) return a;
    if (b === this.one) return a;
    if (this.isConstant(b) && this.numbers[b] === -1) return this.negate(a);
    if (this.isNegation(a)) return this.negate(this.divide(this.first[a], b));
    if (this.isNegation(b)) return this.negate(this.divide(a, this.first[b]));
    // A divisor that changes less often is turned over where it changes.
    if (a !== this.one && this.stages[b] < this.stages[a]) return this.multiply(a, this.divide(this.one, b));
    return this.make('divide', a, b);
  }

  negate(a: Node): Node {
    if (this.isConstant(a)) return this.constant(-this.numbers[a]);
    return this.isNegation(a) ? this.first[a] : this.make('negate', a);
  }

  absolute(a: Node): Node {
    if (this.isConstant(a)) return this.constant(Math.abs(this.numbers[a]));
    return this.isNegation(a) ? this.absolute(this.first[a]) : this.make('absolute', a);
  }

  minimum(a: Node, b: Node): Node {
    return this.both(a, b) ? this.constant(Math.min(this.numbers[a], this.numbers[b])) : this.make('minimum', a, b);
  }

  maximum(a: Node, b: Node): Node {
    return this.both(a, b) ? this.constant(Math.max(this.numbers[a], this.numbers[b])) : this.make('maximum', a, b);
  }

  squareRoot(a: Node): Node {
    return this.isConstant(a) ? this.constant(Math.sqrt(this.numbers[a])) : this.make('squareRoot', a);
  }

  /**
   * e^a, with a kept below 200 so that a bad guess cannot overflow: 200 thermal voltages are past anything that
   * conducts.
   */
  exponential(a: Node): Node {
    return this.isConstant(a) ? this.constant(boundedExponential(this.numbers[a])) : this.make('exponential', a);
  }

  /** Natural logarithm, of positive arguments. */
  logarithm(a: Node): Node {
    return this.isConstant(a) ? this.constant(Math.log(this.numbers[a])) : this.make('logarithm', a);
  }

  /** `whenPositive` where `test` > 0, else `otherwise`. Both are computed. */
  select(test: Node, whenPositive: Node, otherwise: Node): Node {
    if (whenPositive === otherwise) return whenPositive;
    if (this.isConstant(test)) return this.numbers[test] > 0 ? whenPositive : otherwise;
    return this.make('select', test, whenPositive, otherwise);
  }

  sum(terms: readonly Node[]): Node {
    // Terms that change seldom are added first, so that their sum is kept.
    return [...terms]
      .sort((a, b) => this.stages[a] - this.stages[b])
      .reduce((total, term) => this.add(total, term), this.zero);
  }

  /** Arguments of a node. */
  argumentsOf(node: Node): Node[] {
    const op = this.op(node);
    if (op === 'constant' || op === 'input') return [];
    return [this.first[node], this.second[node], this.third[node]].filter((argument) => argument >= 0);
  }
}
