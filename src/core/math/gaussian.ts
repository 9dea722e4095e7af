import { unsafeUniformIntDistribution, xoroshiro128plus } from 'pure-rand';

/** Normal numbers, mean 0 and variance 1 (G. Box, M. Muller, Ann. Math. Stat. 29, 1958). */
export function gaussian(seed: number): () => number {
  const generator = xoroshiro128plus(seed);
  const unit = () => (unsafeUniformIntDistribution(0, 0xffffffff, generator) + 0.5) / 0x100000000;
  let spare: number | null = null;
  return () => {
    if (spare !== null) {
      const given = spare;
      spare = null;
      return given;
    }
    const [size, angle] = [Math.sqrt(-2 * Math.log(unit())), 2 * Math.PI * unit()];
    spare = size * Math.sin(angle);
    return size * Math.cos(angle);
  };
}
