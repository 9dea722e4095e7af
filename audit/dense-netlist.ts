/**
 * A reader and solver of exported netlists that shares no code with the product: its own cards, complex numbers as
 * pairs, full elimination by the largest pivot. Cards R C L K V E G; what else a netlist has is refused.
 */
interface Card {
  readonly name: string;
  readonly letter: string;
  readonly nodes: readonly number[];
  readonly value: number;
  readonly words: readonly string[];
}

const COUNT: Readonly<Record<string, number>> = { R: 2, C: 2, L: 2, V: 2, E: 4, G: 4, K: 0 };
const BOLTZMANN = 1.380649e-23;
const BENCH_K = 300.15;

export class DenseNetlist {
  private readonly cards: Card[] = [];
  private readonly node = new Map<string, number>([['0', -1]]);
  private readonly branch = new Map<string, number>();
  readonly size: number;

  constructor(private readonly text: string) {
    for (const line of text.split('\n').slice(1)) {
      if (line.trim() === '' || line.startsWith('*')) continue;
      if (line.startsWith('.end')) break;
      const words = line.trim().split(/\s+/);
      const letter = words[0][0].toUpperCase();
      const count = COUNT[letter];
      if (count === undefined) throw new Error(`card not read: ${line}`);
      const nodes = words.slice(1, 1 + count).map((name) => this.nodeOf(name));
      const value = letter === 'K' ? Number(words[3]) : letter === 'V' ? sourceOf(words) : Number(words[1 + count]);
      this.cards.push({ name: words[0].toLowerCase(), letter, nodes, value, words });
    }
    let next = this.node.size - 1;
    for (const card of this.cards) if ('VEL'.includes(card.letter)) this.branch.set(card.name, next++);
    this.size = next;
  }

  private nodeOf(name: string): number {
    const known = this.node.get(name);
    if (known !== undefined) return known;
    this.node.set(name, this.node.size - 1);
    return this.node.size - 2;
  }

  index(name: string): number {
    const found = this.node.get(name);
    if (found === undefined) throw new Error(`no node ${name}`);
    return found;
  }

  /** The circuit with some cards' values times a factor, by name. */
  scaled(factors: Readonly<Record<string, number>>): DenseNetlist {
    const other = new DenseNetlist(this.text);
    const byName = new Map(Object.entries(factors).map(([name, factor]) => [name.toLowerCase(), factor]));
    other.cards.forEach((card, i) => {
      const factor = byName.get(card.name);
      if (factor !== undefined) other.cards[i] = { ...card, value: card.value * factor };
    });
    return other;
  }

  has(card: string): boolean {
    return this.cards.some(({ name }) => name === card.toLowerCase());
  }

  nodes(): string[] {
    return [...this.node.keys()];
  }

  /** The current through a source at a frequency, Hz, from + to −: re, im. */
  current(source: string, freqHz: number): readonly [number, number] {
    const x = this.solve([0, 2 * Math.PI * freqHz]);
    const k = this.branch.get(source) as number;
    return [x[2 * k], x[2 * k + 1]];
  }

  resistors(): readonly { readonly ohm: number; readonly nodes: readonly number[] }[] {
    return this.cards.filter((c) => c.letter === 'R').map(({ value, nodes }) => ({ ohm: value, nodes }));
  }

  /** The equations at a complex frequency s: rows of [re, im] by turns, and the sources. */
  private equations(s: readonly [number, number]): { a: Float64Array[]; b: Float64Array } {
    const n = this.size;
    const a = Array.from({ length: n }, () => new Float64Array(2 * n));
    const b = new Float64Array(2 * n);
    const add = (i: number, j: number, re: number, im = 0) => {
      if (i < 0 || j < 0) return;
      a[i][2 * j] += re;
      a[i][2 * j + 1] += im;
    };
    const admittance = ([p, m]: readonly number[], re: number, im: number) => {
      add(p, p, re, im);
      add(m, m, re, im);
      add(p, m, -re, -im);
      add(m, p, -re, -im);
    };
    for (const { name, letter, nodes, value, words } of this.cards) {
      if (letter === 'R') admittance(nodes, 1 / value, 0);
      if (letter === 'C') admittance(nodes, s[0] * value, s[1] * value);
      if (letter === 'G') {
        const [p, m, cp, cm] = nodes;
        add(p, cp, value);
        add(p, cm, -value);
        add(m, cp, -value);
        add(m, cm, value);
      }
      if ('VEL'.includes(letter)) {
        const k = this.branch.get(name) as number;
        const [p, m, cp, cm] = nodes;
        add(p, k, 1);
        add(m, k, -1);
        add(k, p, 1);
        add(k, m, -1);
        if (letter === 'V') b[2 * k] += value;
        if (letter === 'L') add(k, k, -s[0] * value, -s[1] * value);
        if (letter === 'E') {
          add(k, cp, -value);
          add(k, cm, value);
        }
      }
      if (letter === 'K') {
        const [first, second] = words.slice(1, 3).map((w) => w.toLowerCase());
        const henry = (of: string) => this.cards.find((c) => c.name === of)?.value ?? NaN;
        const m = value * Math.sqrt(henry(first) * henry(second));
        const [i, j] = [first, second].map((of) => this.branch.get(of) as number);
        add(i, j, -s[0] * m, -s[1] * m);
        add(j, i, -s[0] * m, -s[1] * m);
      }
    }
    return { a, b };
  }

  /** All unknowns at s, re and im by turns; `inject` puts 1 A into the first of two nodes and out of the second. */
  solve(s: readonly [number, number], inject?: readonly number[]): Float64Array {
    const { a, b } = this.equations(s);
    if (inject) {
      b.fill(0);
      if (inject[0] >= 0) b[2 * inject[0]] += 1;
      if (inject[1] >= 0) b[2 * inject[1]] -= 1;
    }
    return eliminated(a, b);
  }

  /** V at a node for the sources as they are, at a frequency, Hz: re, im. */
  at(freqHz: number, node = 'out'): readonly [number, number] {
    const x = this.solve([0, 2 * Math.PI * freqHz]);
    const k = this.index(node);
    return k < 0 ? [0, 0] : [x[2 * k], x[2 * k + 1]];
  }

  levelDb(freqHz: number, node = 'out'): number {
    return 20 * Math.log10(Math.hypot(...this.at(freqHz, node)));
  }

  /** Thermal noise at a node, V²/Hz: every resistor's 4kT/R, one solve each. */
  noiseDensity(freqHz: number, node = 'out'): number {
    const k = this.index(node);
    return this.resistors().reduce((sum, { ohm, nodes }) => {
      const x = this.solve([0, 2 * Math.PI * freqHz], nodes);
      return sum + ((4 * BOLTZMANN * BENCH_K) / ohm) * (x[2 * k] ** 2 + x[2 * k + 1] ** 2);
    }, 0);
  }

  /**
   * Volts at a node some time after a step of the sources: the Euler method of Laplace inversion (J. Abate and W.
   * Whitt,
   * ORSA Journal on Computing 7, 1995), with as many terms as turns of the fastest mode have passed. @param fastestHz
   */
  step(timeS: number, fastestHz: number, node = 'out'): number {
    const k = this.index(node);
    const A = 20;
    const value = (m: number): number => {
      const s: [number, number] = [A / (2 * timeS), (m * Math.PI) / timeS];
      const x = this.solve(s);
      const [re, im] = [x[2 * k], x[2 * k + 1]];
      return (re * s[0] + im * s[1]) / (s[0] ** 2 + s[1] ** 2);
    };
    const plain = 20 + Math.ceil(2.5 * fastestHz * timeS);
    let sum = value(0) / 2;
    for (let m = 1; m <= plain; m++) sum += (m % 2 === 0 ? 1 : -1) * value(m);
    // The tail: partial sums weighed by binomials.
    const MORE = 14;
    const partial = [sum];
    for (let m = plain + 1; m <= plain + MORE; m++) partial.push((sum += (m % 2 === 0 ? 1 : -1) * value(m)));
    let binomial = 1;
    let total = 0;
    for (let j = 0; j <= MORE; j++) {
      total += (binomial / 2 ** MORE) * partial[j];
      binomial = (binomial * (MORE - j)) / (j + 1);
    }
    return (Math.exp(A / 2) / timeS) * total;
  }
}

const sourceOf = (words: readonly string[]): number => {
  const at = words.findIndex((w) => w.toUpperCase() === 'AC');
  return at < 0 ? 0 : Number(words[at + 1]);
};

/** Gauss with the largest pivot, rows scaled; complex as pairs. */
function eliminated(a: Float64Array[], b: Float64Array): Float64Array {
  const n = a.length;
  const order = a.map((_, i) => i);
  const scale = a.map((row) => {
    let most = 0;
    for (let j = 0; j < n; j++) most = Math.max(most, Math.hypot(row[2 * j], row[2 * j + 1]));
    return 1 / (most || 1);
  });
  for (let k = 0; k < n; k++) {
    let best = k;
    const size = (i: number) => Math.hypot(a[order[i]][2 * k], a[order[i]][2 * k + 1]) * scale[order[i]];
    for (let i = k + 1; i < n; i++) if (size(i) > size(best)) best = i;
    [order[k], order[best]] = [order[best], order[k]];
    const pivot = a[order[k]];
    const square = pivot[2 * k] ** 2 + pivot[2 * k + 1] ** 2;
    for (let i = k + 1; i < n; i++) {
      const row = a[order[i]];
      if (row[2 * k] === 0 && row[2 * k + 1] === 0) continue;
      const re = (row[2 * k] * pivot[2 * k] + row[2 * k + 1] * pivot[2 * k + 1]) / square;
      const im = (row[2 * k + 1] * pivot[2 * k] - row[2 * k] * pivot[2 * k + 1]) / square;
      for (let j = k; j < n; j++) {
        row[2 * j] -= re * pivot[2 * j] - im * pivot[2 * j + 1];
        row[2 * j + 1] -= re * pivot[2 * j + 1] + im * pivot[2 * j];
      }
      const [p, r] = [order[k], order[i]];
      [b[2 * r], b[2 * r + 1]] = [
        b[2 * r] - (re * b[2 * p] - im * b[2 * p + 1]),
        b[2 * r + 1] - (re * b[2 * p + 1] + im * b[2 * p]),
      ];
    }
  }
  const x = new Float64Array(2 * n);
  for (let k = n - 1; k >= 0; k--) {
    const row = a[order[k]];
    let [re, im] = [b[2 * order[k]], b[2 * order[k] + 1]];
    for (let j = k + 1; j < n; j++) {
      re -= row[2 * j] * x[2 * j] - row[2 * j + 1] * x[2 * j + 1];
      im -= row[2 * j] * x[2 * j + 1] + row[2 * j + 1] * x[2 * j];
    }
    const square = row[2 * k] ** 2 + row[2 * k + 1] ** 2;
    x[2 * k] = (re * row[2 * k] + im * row[2 * k + 1]) / square;
    x[2 * k + 1] = (im * row[2 * k] - re * row[2 * k + 1]) / square;
  }
  return x;
}
