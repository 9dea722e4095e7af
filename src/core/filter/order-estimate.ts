import { ALIGNMENTS } from './alignments/index';
import { powerAt, type Alignment } from './alignments/define-alignment';

/** A low-pass mask: at most so much loss up to one frequency, at least so much from another on. */
export interface Mask {
  readonly passHz: number;
  readonly passLossDb: number;
  readonly stopHz: number;
  readonly stopLossDb: number;
}

export interface OrderEstimate {
  readonly alignment: Alignment;
  readonly order: number;
  /** Loss at the pass edge and at the stop edge, dB below the peak. */
  readonly passLossDb: number;
  readonly stopLossDb: number;
  /** Cutoff to design for, Hz, in the alignment's own sense. */
  readonly cutoffHz: number;
}

/**
 * The smallest order of every alignment that meets a low-pass mask; alignments that none of their orders meets are left out. A high-pass mask is met by
 * the order of its mirror image, a band's by that of its prototype.
 */
export function smallestOrders(mask: Mask): OrderEstimate[] {
  return ALIGNMENTS.filter((a) => a.id !== 'custom').flatMap((alignment: Alignment) => {
    for (const order of alignment.orders) {
      const found = meets(alignment, order, mask);
      if (found) return [found];
    }
    return [];
  }).sort((a, b) => a.order - b.order);
}

function meets(alignment: Alignment, order: number, mask: Mask): OrderEstimate | null {
  const options = { rippleDb: mask.passLossDb, attenuationDb: mask.stopLossDb, cutoffAt: alignment.defaultCutoffAt };
  const sections = alignment.prototype(order, options);
  const peakDb = -alignment.dcLevelDb(order, options);
  const lossDb = (omega: number) => peakDb - 10 * Math.log10(powerAt(sections, omega));
  const edge = passEdge(alignment, lossDb, mask.passLossDb);
  const stop = (edge * mask.stopHz) / mask.passHz;
  // Beyond the edge a response with notches comes back up: its worst is looked for on to three decades above.
  let stopLossDb = Infinity;
  for (let i = 0; i <= 600; i++) stopLossDb = Math.min(stopLossDb, lossDb(stop * 10 ** (i / 200)));
  if (stopLossDb < mask.stopLossDb - 1e-6) return null;
  return { alignment, order, passLossDb: lossDb(edge), stopLossDb, cutoffHz: mask.passHz / edge };
}

/** The ω up to which the loss stays within bounds. */
function passEdge(alignment: Alignment, lossDb: (omega: number) => number, most: number): number {
  if (alignment.hasRipple) return 1;
  let [low, high] = [1e-4, 1];
  if (lossDb(high) <= most) high = 10;
  for (let i = 0; i < 100; i++) {
    const middle = Math.sqrt(low * high);
    if (lossDb(middle) <= most) low = middle;
    else high = middle;
  }
  return low;
}
