import { bandPeaks, bankWays, snapBank } from '../src/core/design/making/bank';
import { createDesign } from '../src/core/design/making/create';
import { demoDesigns } from '../src/core/design/demo/demo';
import { snapWay } from '../src/core/design/values/snap-way';
import { must } from '../src/core/result';

const decibels = (v: number): string => `${v.toFixed(3)} dB`;

/**
 * What choosing parts together gains over the nearest values, on the demo designs; and a bank of twelve half octaves,
 * all its parts.
 */
export function measureParts(): Record<string, string | number> {
  const figures: Record<string, string> = {};
  for (const design of demoDesigns()) {
    const [variant] = design.variants;
    const start = performance.now();
    const { nearest, choices } = must(
      snapWay(variant.ways[0], design, variant.controls, { stageId: null, mostPairs: 3 }),
    );
    figures[design.title] =
      `nearest ${decibels(nearest.errorDb)}, together ${decibels(choices[0].errorDb)}, with ` +
      `${choices[choices.length - 1].pairs} pairs ${decibels(choices[choices.length - 1].errorDb)}, ` +
      `${(performance.now() - start).toFixed(0)} ms`;
  }
  let n = 0;
  const base = createDesign(
    'bank',
    () => [],
    () => `b${n++}`,
  );
  const bench = {
    ...base,
    preferences: { ...base.preferences, resistorSeries: 'E96' as const, capacitorSeries: 'E6' as const },
  };
  const ways = must(
    bankWays(
      { rule: 'half', firstHz: 110, count: 12, centresHz: [], stages: 2, flatnessDb: 0.1, ends: false },
      () => `b${n++}`,
    ),
  );
  const start = performance.now();
  const snapped = must(snapBank({ ...base.variants[0], ways }, bench));
  const ms = performance.now() - start;
  figures['twelve half octaves, two stages each, E96 and E6'] =
    `${ms.toFixed(0)} ms, peaks within ${decibels(Math.max(...must(bandPeaks(snapped, bench)).map(Math.abs)))}`;
  return figures;
}
