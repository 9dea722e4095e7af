import { tenth } from './chart/tenth';
import styles from './glyph.module.css';
/** A curve as a small picture: thumbnail on the shelf, face of a stage. Levels (dB) over a log frequency axis. */
export function Glyph({
  freqHz,
  levelDb,
  width,
  height,
  className,
  spanDb = 42,
}: {
  freqHz: ArrayLike<number>;
  levelDb: ArrayLike<number> | null;
  width: number;
  height: number;
  className?: string;
  spanDb?: number;
}) {
  if (!levelDb) return <svg width={width} height={height} aria-hidden="true" className={className} />;
  const top = Math.max(...Array.from(levelDb).filter(Number.isFinite)) + 3;
  const [low, high] = [Math.log(freqHz[0]), Math.log(freqHz[freqHz.length - 1])];
  const points = Array.from(levelDb, (level, i) => {
    const x = ((Math.log(freqHz[i]) - low) / (high - low)) * (width - 4) + 2;
    const y = Math.min(1, Math.max(0, (top - level) / spanDb)) * (height - 6) + 3;
    return `${tenth(x)} ${tenth(y)}`;
  });
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      preserveAspectRatio="none"
      aria-hidden="true"
      className={`${styles.glyph} ${className ?? ''}`}
    >
      <path d={`M2 ${height - 2}H${width - 2}`} className={styles.glyphFloor} />
      <path d={`M${points.join('L')}`} className="glyph-curve" />
    </svg>
  );
}
