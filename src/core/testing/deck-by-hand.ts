/**
 * A solver of decks that shares nothing with the engine: its own reading of the cards, its own device equations,
 * currents as plain functions whose slopes are taken by differences, full elimination. Slow and short: made to be
 * believed, for tests. Cards R C L V I D Q E G, nodes and numbers as they stand, `.model` of D, NPN and PNP.
 */
interface Card {
  readonly letter: string;
  readonly nodes: readonly string[];
  readonly value: number;
  readonly words: readonly string[];
}

type Figures = Readonly<Record<string, number>>;

function cardsOf(deck: string): { cards: Card[]; models: Map<string, Figures> } {
  const cards: Card[] = [];
  const models = new Map<string, Figures>();
  for (const line of deck.split('\n').slice(1)) {
    const words = line.trim().split(/\s+/);
    if (line.startsWith('.model')) {
      const figures = /\((.*)\)/
        .exec(line)![1]
        .split(/\s+/)
        .map((pair) => pair.split('='));
      models.set(words[1], {
        ...Object.fromEntries(figures.map(([name, value]) => [name, Number(value)])),
        turned: words[2].startsWith('PNP') ? -1 : 1,
      });
    } else if (/^[RCLVIDQEG]/.test(line)) {
      const count = { Q: 3, E: 4, G: 4 }[line[0]] ?? 2;
      cards.push({ letter: line[0], nodes: words.slice(1, 1 + count), value: Number(words[1 + count]), words });
    }
  }
  return { cards, models };
}

/** Rows and right-hand side, complex as pairs; reduced in place by the largest pivot. */
function eliminate(re: number[][], im: number[][] | null, bRe: number[], bIm: number[]): void {
  const n = re.length;
  for (let k = 0; k < n; k++) {
    let pivot = k;
    const size = (i: number) => Math.hypot(re[i][k], im ? im[i][k] : 0);
    for (let i = k + 1; i < n; i++) if (size(i) > size(pivot)) pivot = i;
    [re[k], re[pivot], bRe[k], bRe[pivot], bIm[k], bIm[pivot]] = [
      re[pivot],
      re[k],
      bRe[pivot],
      bRe[k],
      bIm[pivot],
      bIm[k],
    ];
    if (im) [im[k], im[pivot]] = [im[pivot], im[k]];
    const [pr, pi] = [re[k][k], im ? im[k][k] : 0];
    const square = pr * pr + pi * pi;
    for (let i = 0; i < n; i++) {
      if (i === k) continue;
      const [ar, ai] = [re[i][k], im ? im[i][k] : 0];
      if (ar === 0 && ai === 0) continue;
      const [fr, fi] = [(ar * pr + ai * pi) / square, (ai * pr - ar * pi) / square];
      for (let j = k; j < n; j++) {
        const [xr, xi] = [re[k][j], im ? im[k][j] : 0];
        re[i][j] -= fr * xr - fi * xi;
        if (im) im[i][j] -= fr * xi + fi * xr;
      }
      [bRe[i], bIm[i]] = [bRe[i] - (fr * bRe[k] - fi * bIm[k]), bIm[i] - (fr * bIm[k] + fi * bRe[k])];
    }
  }
  for (let k = 0; k < n; k++) {
    const [pr, pi] = [re[k][k], im ? im[k][k] : 0];
    const square = pr * pr + pi * pi;
    [bRe[k], bIm[k]] = [(bRe[k] * pr + bIm[k] * pi) / square, (bIm[k] * pr - bRe[k] * pi) / square];
  }
}

export interface ByHand {
  /** Volts at rest, by node. */
  readonly rest: Readonly<Record<string, number>>;
  /** Complex volts of a node for the AC drive at a frequency; of one that grows or dies, by so much a second. */
  response(node: string, freqHz: number, growthPerS?: number): { readonly re: number; readonly im: number };
}

/** Reads and solves. Throws where Newton does not settle. */
export function deckByHand(deck: string, temperatureC = 27): ByHand {
  const VT = (1.380649e-23 * (temperatureC + 273.15)) / 1.602176634e-19;
  const { cards, models } = cardsOf(deck);
  const nodes = [...new Set(cards.flatMap((c) => c.nodes))].filter((n) => n !== '0');
  const branches = cards.filter((c) => 'VEL'.includes(c.letter));
  const n = nodes.length + branches.length;
  const at = (node: string): number => (node === '0' ? -1 : nodes.indexOf(node));
  const read = (x: readonly number[], node: string): number => (node === '0' ? 0 : x[at(node)]);
  const dcOf = ({ words }: Card): number => (words.includes('DC') ? Number(words[words.indexOf('DC') + 1]) : 0);
  const acOf = ({ words }: Card): number => (words.includes('AC') ? Number(words[words.indexOf('AC') + 1]) : 0);

  /** Currents leaving each of a device's nodes. */
  const currents = (card: Card, v: readonly number[]): number[] => {
    const model = models.get(card.words.at(-1) as string) as Figures;
    // Past any junction's use the exponential goes on as a straight line, so that a bad guess stays a number.
    const exp = (u: number): number => (u < 60 ? Math.exp(u) : Math.exp(60) * (1 + u - 60));
    if (card.letter === 'D') {
      const amps = model.IS * (exp((v[0] - v[1]) / (model.N * VT)) - 1);
      return [amps, -amps];
    }
    // A PNP is an NPN with all its signs turned round.
    const s = model.turned;
    const [c, b, e] = v.map((volts) => s * volts);
    const forward = model.IS * (exp((b - e) / (model.NF * VT)) - 1);
    const reverse = model.IS * (exp((b - c) / (model.NR * VT)) - 1);
    const through = (forward - reverse) * (1 - (b - c) / (model.VAF ?? Infinity));
    const [bf, br] = [forward / model.BF, reverse / model.BR];
    return [through - br, bf + br, -through - bf].map((amps) => s * amps);
  };
  const slopes = (card: Card, v: readonly number[]): number[][] =>
    v.map((_, j) => {
      const h = 1e-6;
      const [up, down] = [
        currents(
          card,
          v.map((x, k) => (k === j ? x + h : x)),
        ),
        currents(
          card,
          v.map((x, k) => (k === j ? x - h : x)),
        ),
      ];
      return up.map((u, i) => (u - down[i]) / (2 * h));
    });

  const zeros = () => Array.from({ length: n }, () => new Array<number>(n).fill(0));
  const add = (m: number[][], i: number, j: number, value: number) => i >= 0 && j >= 0 && (m[i][j] += value);
  const across = (m: number[][], [a, b]: readonly string[], g: number) => {
    for (const [i, j, s] of [
      [at(a), at(a), 1],
      [at(b), at(b), 1],
      [at(a), at(b), -1],
      [at(b), at(a), -1],
    ] as const)
      add(m, i, j, s * g);
  };
  /** What is linear and does not depend on frequency: coils are shorts, capacitors nothing. */
  const linear = (): number[][] => {
    const m = zeros();
    cards.forEach((card) => {
      if (card.letter === 'R') across(m, card.nodes, 1 / card.value);
      if (card.letter === 'G')
        for (const [i, s] of [
          [0, 1],
          [1, -1],
        ] as const)
          for (const [j, t] of [
            [2, 1],
            [3, -1],
          ] as const)
            add(m, at(card.nodes[i]), at(card.nodes[j]), s * t * card.value);
    });
    branches.forEach((card, k) => {
      const row = nodes.length + k;
      for (const [i, s] of [
        [0, 1],
        [1, -1],
      ] as const) {
        add(m, at(card.nodes[i]), row, s);
        add(m, row, at(card.nodes[i]), s);
      }
      if (card.letter === 'E')
        for (const [j, t] of [
          [2, 1],
          [3, -1],
        ] as const)
          add(m, row, at(card.nodes[j]), -t * card.value);
    });
    // What only capacitors hold would float.
    nodes.forEach((_, i) => (m[i][i] += 1e-12));
    return m;
  };
  const sources = (scale: number): number[] => {
    const b = new Array<number>(n).fill(0);
    cards
      .filter((c) => c.letter === 'I')
      .forEach((c) =>
        c.nodes.forEach((node, i) => at(node) >= 0 && (b[at(node)] += (i === 0 ? -1 : 1) * scale * dcOf(c))),
      );
    branches.forEach((c, k) => c.letter === 'V' && (b[nodes.length + k] = scale * dcOf(c)));
    return b;
  };
  const bent = cards.filter((c) => 'DQ'.includes(c.letter));
  let x = new Array<number>(n).fill(0);
  // The sources brought up in steps, each settled by Newton with steps of a twentieth of a volt.
  for (let step = 1; step <= 40; step++) {
    let settled = false;
    for (let round = 0; round < 600 && !settled; round++) {
      const m = linear();
      const f = m.map((row, i) => row.reduce((sum, g, j) => sum + g * x[j], 0) - sources(step / 40)[i]);
      for (const card of bent) {
        const v = card.nodes.map((node) => read(x, node));
        currents(card, v).forEach((amps, i) => at(card.nodes[i]) >= 0 && (f[at(card.nodes[i])] += amps));
        slopes(card, v).forEach((column, j) =>
          column.forEach((g, i) => add(m, at(card.nodes[i]), at(card.nodes[j]), g)),
        );
      }
      const delta = f.map((v) => -v);
      eliminate(m, null, delta, new Array<number>(n).fill(0));
      const largest = Math.max(...delta.slice(0, nodes.length).map(Math.abs));
      const damped = Math.min(1, 0.05 / largest);
      x = x.map((v, i) => v + damped * delta[i]);
      settled = largest < 1e-11;
    }
    if (!settled) throw new Error(`no rest at ${step} of 40`);
  }
  return {
    rest: Object.fromEntries(nodes.map((node, i) => [node, x[i]])),
    response(node, freqHz, growthPerS = 0) {
      const omega = 2 * Math.PI * freqHz;
      const [re, im] = [linear(), zeros()];
      const capacitor = (ends: readonly string[], farad: number) => {
        across(re, ends, growthPerS * farad);
        across(im, ends, omega * farad);
      };
      for (const card of bent) {
        const v = card.nodes.map((name) => read(x, name));
        const columns = slopes(card, v);
        columns.forEach((column, j) => column.forEach((g, i) => add(re, at(card.nodes[i]), at(card.nodes[j]), g)));
        const model = models.get(card.words.at(-1) as string) as Figures;
        if (card.letter === 'Q') {
          const [c, b, e] = card.nodes;
          capacitor(
            [b, e],
            (model.CJE ?? 0) +
              ((model.TF ?? 0) * model.IS * Math.exp((model.turned * (read(x, b) - read(x, e))) / (model.NF * VT))) /
                (model.NF * VT),
          );
          capacitor([b, c], model.CJC ?? 0);
        }
      }
      cards.filter((c) => c.letter === 'C').forEach((c) => capacitor(c.nodes, c.value));
      branches.forEach((c, k) => {
        if (c.letter !== 'L') return;
        re[nodes.length + k][nodes.length + k] -= growthPerS * c.value;
        im[nodes.length + k][nodes.length + k] -= omega * c.value;
      });
      const [bRe, bIm] = [new Array<number>(n).fill(0), new Array<number>(n).fill(0)];
      branches.forEach((c, k) => c.letter === 'V' && (bRe[nodes.length + k] = acOf(c)));
      eliminate(re, im, bRe, bIm);
      return { re: bRe[at(node)], im: bIm[at(node)] };
    },
  };
}
