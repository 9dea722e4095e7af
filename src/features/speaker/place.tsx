import type { Way } from '@/core/design/document/schema';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { changeWay } from '@/store/edits/speaker-edits';
import { QuantityInput } from '@/ui/quantity-input';
import styles from './place.module.css';

type Place = NonNullable<Way['position']>;
const ORIGIN: Place = { acrossM: 0, upM: 0, backM: 0 };
const FIELDS: readonly { key: keyof Place; label: string; most: number; testId?: string }[] = [
  { key: 'acrossM', label: 'across, cm', most: 200 },
  { key: 'upM', label: 'up, cm', most: 200, testId: 'position-up' },
  { key: 'backM', label: 'back, cm', most: 100, testId: 'position-back' },
];
const cm = (metres: number): number => Number((100 * metres).toFixed(2));

/** Where a way's driver sits: three numbers, and the cabinet from before and from the side to see them by. */
export function Place({ way }: { way: Way }) {
  const position = way.position ?? ORIGIN;
  return (
    <div className={styles.place}>
      <div className={styles.fields}>
        {FIELDS.map(({ key, label, most, testId }) => (
          <QuantityInput
            key={key}
            label={label}
            kind="ratio"
            step={0.5}
            value={cm(position[key])}
            min={-most}
            max={most}
            onChange={(v) => v !== null && edit(changeWay(way.id, { position: { ...position, [key]: v / 100 } }))}
            testId={testId}
            onGestureStart={beginGesture}
            onGestureEnd={endGesture}
          />
        ))}
      </div>
      <Cabinet current={way.id} />
    </div>
  );
}

const USUAL_RADIUS_M = 0.05;
/** The cabinet is drawn so far around its drivers, m. */
const MARGIN_M = 0.06;
const GAP_M = 0.12;
/** Ways whose drivers all sit in one spot have not been given their places. */
const sameSpot = (places: readonly Place[]) =>
  places.every((p) => p.acrossM === places[0].acrossM && p.upM === places[0].upM && p.backM === places[0].backM);

function Cabinet({ current }: { current: string }) {
  const ways = useDesign((d) => currentVariantOf(d).ways);
  const drivers = useDesign((d) => d.drivers);
  const at = ways.map((way) => {
    const { load } = way;
    const driver = drivers?.find((d) => load.kind === 'driver' && d.id === load.driver);
    return { id: way.id, name: way.name, radius: driver?.radiusM ?? USUAL_RADIUS_M, ...(way.position ?? ORIGIN) };
  });
  const left = Math.min(...at.map((p) => p.acrossM - p.radius)) - MARGIN_M;
  const right = Math.max(...at.map((p) => p.acrossM + p.radius)) + MARGIN_M;
  const top = Math.max(...at.map((p) => p.upM + p.radius)) + MARGIN_M;
  const bottom = Math.min(...at.map((p) => p.upM - p.radius)) - MARGIN_M;
  const deepest = Math.max(...at.map((p) => p.backM), 0) + MARGIN_M;
  const front = Math.min(...at.map((p) => p.backM), 0) - MARGIN_M;
  const side = right + GAP_M;
  const words = at.map((p) => `${p.name} ${cm(p.acrossM)} across, ${cm(p.upM)} up, ${cm(p.backM)} back`).join('; ');
  return (
    <figure className={styles.cabinet}>
      <svg
        viewBox={`${left} ${-top} ${side + (deepest - front) - left} ${top - bottom}`}
        role="img"
        aria-label={`The cabinet from before and from the side, cm: ${words}`}
      >
        <rect className={styles.board} x={left} y={-top} width={right - left} height={top - bottom} />
        <path className={styles.axis} d={`M${left} 0H${right}M0 ${-top}V${-bottom}`} />
        <path className={styles.board} d={`M${side - front} ${-top}V${-bottom}`} />
        <path className={styles.axis} d={`M${side} 0H${side + deepest - front}`} />
        {at.map((p) => (
          <g key={p.id} className={p.id === current ? styles.current : styles.driver}>
            <circle cx={p.acrossM} cy={-p.upM} r={p.radius} />
            <path
              d={
                `M${side + p.backM - front} ${-p.upM - p.radius}V${-p.upM + p.radius}` +
                `M${side + p.backM - front} ${-p.upM}h0.001`
              }
            />
          </g>
        ))}
      </svg>
      <figcaption className="quiet">
        {at.length > 1 && sameSpot(at)
          ? 'All in one spot: give each its place, or take the distance from a measured sum (Measure, Distances).'
          : 'From before, and from the side: the axis runs through zero, back is behind the front.'}
      </figcaption>
    </figure>
  );
}
