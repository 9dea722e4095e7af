/** Repeatable numbers in [0, 1): xorshift32 of the audit's own (G. Marsaglia, J. Statistical Software 8, 2003). */
export function drawFrom(seed: number): () => number {
  let state = (seed * 2654435761) >>> 0 || 1;
  const next = () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state = (state ^ (state << 5)) >>> 0;
    return state / 2 ** 32;
  };
  for (let i = 0; i < 8; i++) next();
  return next;
}

/** One case: what the shell would be given to see it again, and what is to be known of it. */
export interface Drawn {
  /** Words of `reed design`. */
  readonly words: readonly string[];
  readonly response: 'lowpass' | 'highpass' | 'bandpass' | 'notch' | 'allpass';
  readonly rippled: boolean;
  readonly idealOpAmp: boolean;
  readonly cutoffHz: number;
  readonly limits: readonly Limit[];
  readonly ways: number;
}

export interface Limit {
  readonly kind: 'pass' | 'stop';
  readonly downDb: number;
  readonly upDb: number;
  readonly fromHz: number;
  readonly toHz: number;
}

const ALIGNMENTS = [
  'butterworth',
  'bessel',
  'chebyshev',
  'inverse-chebyshev',
  'elliptic',
  'legendre',
  'gaussian',
  'critically-damped',
] as const;
const RIPPLED: readonly string[] = ['chebyshev', 'elliptic'];
const SECTIONS: readonly (readonly [topology: string, responses: readonly Drawn['response'][]])[] = [
  ['sallen-key-unity-gain', ['lowpass', 'highpass']],
  ['sallen-key-equal-parts', ['lowpass', 'highpass']],
  ['multiple-feedback', ['lowpass', 'highpass']],
  ['multiple-feedback-band-pass', ['bandpass']],
  ['tow-thomas', ['lowpass', 'highpass', 'bandpass']],
  ['state-variable', ['lowpass', 'highpass', 'bandpass']],
];
const OP_AMPS = ['ideal', 'jfet-audio-3mhz', 'low-noise-bipolar-10mhz'];

/** A design of any family, orders 1 to 12, Q to 200, with a source and a load, on two rails or one. */
export function drawDesign(seed: number): Drawn {
  const next = drawFrom(seed);
  const pick = <T>(of: readonly T[]): T => of[Math.floor(next() * of.length)];
  const between = (low: number, high: number) => low * (high / low) ** next();
  const figure = (v: number) => String(Number(v.toPrecision(4)));
  const family = next();
  if (family < 0.12) return crossover(pick, between, figure);
  const opAmp = pick(OP_AMPS);
  const cutoffHz = Number(figure(between(40, 6000)));
  const common = [
    ...['--op-amp', opAmp],
    ...(next() < 0.5 ? [] : ['--source', figure(between(10, 2000))]),
    ...(next() < 0.6 ? [] : ['--load', figure(between(2e3, 2e5))]),
    ...(next() < 0.8 ? [] : ['--supply', 'single', '--rails', '24']),
  ];
  if (family < 0.5) {
    const [topology, responses] = pick(SECTIONS);
    const response = pick(responses);
    const q = between(0.5, topology === 'sallen-key-unity-gain' ? 12 : topology.startsWith('multiple') ? 15 : 200);
    return {
      words: [
        '--topology',
        topology,
        '--mode',
        response,
        '--set',
        `freqHz=${cutoffHz}`,
        '--set',
        `q=${figure(q)}`,
        ...common,
      ],
      response,
      rippled: false,
      idealOpAmp: opAmp === 'ideal',
      cutoffHz,
      limits: [],
      ways: 1,
    };
  }
  const response = pick(['lowpass', 'lowpass', 'highpass', 'bandpass'] as const);
  const alignment = pick(ALIGNMENTS);
  // A band of two poles whose edge is its stop band’s has a Q in the thousands: past any op-amp.
  const fewest = alignment === 'inverse-chebyshev' ? 2 : 1;
  const order = response === 'bandpass' ? 2 * (fewest + Math.floor(next() * 4)) : 1 + Math.floor(next() * 12);
  const widthHz = Number(figure(cutoffHz * between(0.08, 1)));
  const limits = response === 'bandpass' ? [] : limitsFor(response === 'lowpass', cutoffHz, next, between);
  const band =
    response === 'bandpass'
      ? ['--center', String(cutoffHz), '--bandwidth', String(widthHz)]
      : ['--cutoff', String(cutoffHz)];
  return {
    words: [
      ...['--response', response, '--alignment', alignment, '--order', String(order), ...band],
      ...['--ripple', figure(between(0.05, 2)), '--attenuation', figure(between(25, 80)), ...common],
      ...limits.flatMap(wordsOf),
    ],
    response,
    rippled: RIPPLED.includes(alignment),
    idealOpAmp: opAmp === 'ideal',
    cutoffHz,
    limits,
    ways: 1,
  };
}

function limitsFor(
  low: boolean,
  cutoffHz: number,
  next: () => number,
  between: (a: number, b: number) => number,
): Limit[] {
  const edge = (ratio: number) => Number((low ? cutoffHz * ratio : cutoffHz / ratio).toPrecision(4));
  const [pass, stop] = [edge(between(0.3, 0.95)), edge(between(1.5, 5))];
  const [downDb, upDb] = [Number(between(0.2, 4).toFixed(2)), Number(between(0.1, 4).toFixed(2))];
  const lost = Number((10 + 50 * next()).toFixed(1));
  return [
    { kind: 'pass', downDb, upDb, fromHz: low ? 0 : pass, toHz: low ? pass : Infinity },
    { kind: 'stop', downDb: lost, upDb: 0, fromHz: low ? stop : 0, toHz: low ? Infinity : stop },
  ];
}

function wordsOf({ kind, downDb, upDb, fromHz, toHz }: Limit): string[] {
  const span = `${fromHz > 0 ? fromHz : ''}..${toHz < Infinity ? toHz : ''}`;
  return kind === 'pass' ? ['--pass', `${downDb},${upDb}@${span}`] : ['--stop', `${downDb}@${span}`];
}

function crossover(
  pick: <T>(of: readonly T[]) => T,
  between: (a: number, b: number) => number,
  figure: (v: number) => string,
): Drawn {
  const ways = pick([2, 2, 3]);
  const order = pick([1, 2, 3, 4]);
  const alignment = order % 2 === 0 ? pick(['linkwitz-riley', 'butterworth', 'bessel']) : 'butterworth';
  const first = between(200, 900);
  const cutoffs = ways === 2 ? [figure(between(1000, 4000))] : [figure(first), figure(first * between(4, 9))];
  return {
    words: [
      ...['--ways', String(ways), '--order', String(order), '--alignment', alignment],
      ...['--cutoff', cutoffs.join(','), '--impedance', pick(['8', '4', '6']), '--source', figure(between(0.01, 1))],
    ],
    response: 'lowpass',
    rippled: false,
    idealOpAmp: true,
    cutoffHz: Number(cutoffs[0]),
    limits: [],
    ways,
  };
}
