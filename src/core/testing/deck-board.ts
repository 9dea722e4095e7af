import { AS_BUILT } from '../design/compiled/compile';
import { demoDesigns } from '../design/demo/demo';
import type { Design } from '../design/document/schema';
import { variantDeck } from '../jobs/deck/variant-deck';
import { builtVariant } from '../jobs/reading/built-variant';
import { JobRunner, type JobAnswers } from '../jobs/run-job';
import { must } from '../result';
import { denseCurve } from './dense-response';

export type Ranking = JobAnswers['rank-faults'];

/**
 * Boards drawn and broken by editing a deck's text, and solved by the plain reference: nothing of the ranking's own way
 * of drawing, breaking or solving has a part in them.
 */
const CARD = /^([RCL])(\d+)([ab]?) (\S+) (\S+) (\S+)$/;

export class DeckBoard {
  private lines: string[];

  constructor(
    deck: string,
    private readonly next: () => number,
  ) {
    this.lines = deck.split('\n');
  }

  /** Every part somewhere within its tolerance. */
  drawn(share: (letter: string) => number): this {
    return this.each((card, letter) => this.scaled(card, 1 + share(letter) * (2 * this.next() - 1)));
  }

  times(part: string, factor: number): this {
    return this.each((card, letter, number) => (letter + number === part ? this.scaled(card, factor) : card));
  }

  open(part: string): this {
    return this.each((card, letter, number) =>
      letter + number === part ? card.replace(/\S+$/, leakOf(letter)) : card,
    );
  }

  short(part: string): this {
    return this.each((card, letter, number) =>
      letter + number === part ? card.replace(CARD, 'R9$2$3 $4 $5 1e-3') : card,
    );
  }

  swapped(one: string, other: string): this {
    const valueOf = (part: string) => Number(CARD.exec(this.lines.find((l) => l.startsWith(`${part} `)) ?? '')?.[6]);
    const ratio = valueOf(other) / valueOf(one);
    return this.times(one, ratio).times(other, 1 / ratio);
  }

  dead(opAmp: string): this {
    const own = new RegExp(`^E_${opAmp.toLowerCase()} (\\S+) 0 .*$`);
    this.lines = this.lines.map((l) => l.replace(own, 'Rdead $1 0 1e-3'));
    return this;
  }

  toString(): string {
    return this.lines.join('\n');
  }

  parts(): string[] {
    return [...new Set(this.lines.flatMap((l) => CARD.exec(l)?.slice(1, 3).join('') ?? []))];
  }

  private scaled = (card: string, factor: number): string =>
    card.replace(/\S+$/, (value) => String(Number(value) * factor));

  private each(change: (card: string, letter: string, number: string) => string): this {
    this.lines = this.lines.map((line) => {
      const card = CARD.exec(line);
      return card ? change(line, card[1], card[2]) : line;
    });
    return this;
  }
}

/** What is as good as nothing between two nodes. */
const leakOf = (letter: string): string => ({ R: '1e10', C: '1e-18', L: '1e9' })[letter] ?? '';

const SNR_DB = 70;
export const FREQ_HZ = Array.from({ length: 181 }, (_, i) => 20 * 10 ** (i / 60));
export const runner = new JobRunner();

/** A curve with noise so far under what a sound board has. */
export function heard(deck: string, soundDb: number, next: () => number, node = 'out') {
  const noise = 10 ** ((soundDb - SNR_DB) / 20) / Math.SQRT2;
  const gauss = () => Math.sqrt(-2 * Math.log(next() + 1e-15)) * Math.cos(2 * Math.PI * next());
  const { levelDb, phaseDeg } = denseCurve(deck, FREQ_HZ, node);
  const noisy = levelDb.map((db, i) => {
    const [size, angle] = [10 ** (db / 20), (phaseDeg[i] * Math.PI) / 180];
    return [size * Math.cos(angle) + noise * gauss(), size * Math.sin(angle) + noise * gauss()];
  });
  return {
    freqHz: FREQ_HZ,
    levelDb: noisy.map(([re, im]) => 20 * Math.log10(Math.hypot(re, im))),
    phaseDeg: noisy.map(([re, im]) => (Math.atan2(im, re) * 180) / Math.PI),
    noiseDb: null,
    uncalibrated: false,
  };
}

export async function ranked(design: Design, deck: string, next: () => number, probe = 'out'): Promise<Ranking> {
  const sound = denseCurve(deckOf(design), FREQ_HZ).levelDb;
  const curve = heard(deck, Math.max(...sound), next);
  return must(
    await runner.run<'rank-faults'>({
      kind: 'rank-faults',
      design,
      variantId: design.currentVariant,
      measured: [{ probe, ...curve }],
    }),
  );
}

export const variantOf = (design: Design) => must(builtVariant(design, design.currentVariant)).variant;
export const deckOf = (design: Design): string => must(variantDeck(design, variantOf(design), AS_BUILT));
export const toleranceOf =
  ({ preferences }: Design) =>
  (letter: string): number =>
    (letter === 'R' ? preferences.resistorTolerancePct : preferences.capacitorTolerancePct) / 100;

/** The designs of the workshop that are linear and have one output, small enough to go through many boards. */
export const linear = demoDesigns().filter((design) => {
  const built = builtVariant(design, design.currentVariant);
  return built.ok && !built.value.live && built.value.variant.ways.length === 1;
});
