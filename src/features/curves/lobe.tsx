'use client';

import { tenth } from '@/ui/chart/tenth';
import { formatQuantity } from '@/core/units/quantity';
import styles from './curves.module.css';

const SPAN_DB = 24;
const STEP_DB = 6;

/**
 * Half a circle of levels round the front of the cabinet, at one frequency: the lobe that two drivers make where they
 * meet.
 */
export function Lobe({
  deg,
  levelDb,
  hz,
  size,
  up,
}: {
  deg: Float64Array;
  levelDb: Float64Array;
  hz: number;
  size: number;
  up: boolean;
}) {
  const most = levelDb.reduce((m, v) => Math.max(m, v), -Infinity);
  const radius = size * 0.46;
  const [cx, cy] = [size * 0.28, size * 0.56];
  const at = (angle: number, db: number): [number, number] => {
    const r = radius * Math.max(0, 1 - (most - db) / SPAN_DB);
    const a = (angle * Math.PI) / 180;
    // On axis to the right; up is up, and the right-hand side of the room is drawn upwards too.
    return [cx + r * Math.cos(a), cy - r * Math.sin(a)];
  };
  const path = Array.from(deg, (d, i) =>
    at(d, levelDb[i])
      .map((v) => tenth(v))
      .join(' '),
  ).join('L');
  const rings = Array.from({ length: SPAN_DB / STEP_DB }, (_, i) => most - i * STEP_DB);
  const ring = (db: number) =>
    Array.from(deg, (d) =>
      at(d, db)
        .map((v) => tenth(v))
        .join(' '),
    ).join('L');
  return (
    <svg
      width={size}
      height={size * 1.1}
      className="lobe"
      role="img"
      aria-label={
        `Lobe at ${formatQuantity(hz, 'frequency', { digits: 3 })}, ` + `${up ? 'up and down' : 'from side to side'}`
      }
      data-testid="lobe"
    >
      {rings.map((db) => (
        <path key={db} d={`M${ring(db)}`} className={styles.lobeRing} />
      ))}
      {rings.map((db, i) => (
        <text key={db} x={cx - 4} y={tenth(at(90, db)[1] + 4)} textAnchor="end" className={styles.lobeName}>
          {i === 0 ? '0\u202fdB' : `−${i * STEP_DB}`}
        </text>
      ))}
      {[-60, -30, 0, 30, 60].map((d) => {
        const [x, y] = at(d, most);
        return (
          <g key={d}>
            <path d={`M${cx} ${cy}L${tenth(x)} ${tenth(y)}`} className={styles.lobeRing} />
            <text x={x + 5} y={y + 4} className={styles.lobeName}>
              {`${d}°`.replace('-', '−')}
            </text>
          </g>
        );
      })}
      <path d={`M${path}`} className="trace asBuilt" />
      <text x={4} y={16} className="frame-title">
        {formatQuantity(hz, 'frequency', { digits: 3 })}, re its maximum
      </text>
    </svg>
  );
}
