import { denseKernel } from '../analysis/ac/dense';
import { rowOf } from '../analysis/ac/kernel';
import type { Assembled } from '../circuit/structure';

/** A curve by the plain dense solver, searched without wit: what the reader of curves is held against. */
export interface BruteCurve {
  levelAt(freqHz: number): number;
  /** Where the level passes a threshold (dB) between two frequencies, lowest first. */
  crossings(thresholdDb: number): { freqHz: number; falling: boolean }[];
  highest(): { freqHz: number; levelDb: number };
}

const PER_DECADE = 150;

export function bruteCurve(circuit: Assembled, node: string, fromHz: number, toHz: number): BruteCurve {
  const unknown = circuit.structure.nodeOf(node) as number;
  const kernel = denseKernel(circuit.structure);
  const levels = (freqHz: Float64Array): number[] => {
    const row = rowOf(kernel.solve(circuit.values, freqHz, Int32Array.of(unknown)), 0, 1, freqHz.length);
    return Array.from(freqHz, (_, i) => 20 * Math.log10(Math.hypot(row[2 * i], row[2 * i + 1])));
  };
  const levelAt = (f: number) => levels(Float64Array.of(f))[0];
  const count = Math.ceil(PER_DECADE * Math.log10(toHz / fromHz)) + 1;
  const freqHz = Float64Array.from({ length: count }, (_, i) => fromHz * (toHz / fromHz) ** (i / (count - 1)));
  const level = levels(freqHz);
  return {
    levelAt,
    crossings(thresholdDb) {
      return level.flatMap((v, i) => {
        if (i === 0 || v > thresholdDb === level[i - 1] > thresholdDb) return [];
        let [low, high] = [freqHz[i - 1], freqHz[i]];
        const falling = level[i - 1] > thresholdDb;
        for (let k = 0; k < 50; k++) {
          const middle = (low + high) / 2;
          if (levelAt(middle) > thresholdDb === falling) low = middle;
          else high = middle;
        }
        return [{ freqHz: (low + high) / 2, falling }];
      });
    },
    highest() {
      let best = 0;
      level.forEach((v, i) => (best = v > level[best] ? i : best));
      let [low, high] = [freqHz[Math.max(0, best - 1)], freqHz[Math.min(count - 1, best + 1)]];
      for (let k = 0; k < 60; k++) {
        const [a, b] = [low + (high - low) / 3, high - (high - low) / 3];
        if (levelAt(a) < levelAt(b)) low = a;
        else high = b;
      }
      const at = (low + high) / 2;
      return { freqHz: at, levelDb: levelAt(at) };
    },
  };
}
