'use client';

import { useMemo } from 'react';
import type { Angles } from '@/core/jobs/loudspeaker/speaker-views';
import { ChartFrame, usePlot, type Axis } from '@/ui/chart/chart-frame';
import { Trace } from '@/ui/chart/trace-layer';
import { ACOUSTICS, ANGLES } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { useView } from '@/store/view';
import { CursorLayer } from './cursor';
import { labelsApart } from './labels-apart';
import { LevelMap } from '@/ui/chart/level-map';
import { Lobe } from './lobe';
import { soundAxis, useFrequencyAxis, type Size } from './speaker-views';
import styles from './curves.module.css';

/** px */
const NARROW_PX = 420;

/** The sum from other places than the axis, and the lobe where the ways meet. */
export function AnglesView({ width, height }: Size) {
  const angles = useLiveAnswer(ANGLES);
  const acoustics = useLiveAnswer(ACOUSTICS);
  const way = useView((s) => s.angleWay);
  const x = useFrequencyAxis(acoustics);
  const family = way === 'up' ? angles?.up : angles?.across;
  const level = useMemo(() => soundAxis(family?.map((f) => f.sumDb) ?? []), [family]);
  const map = useView((s) => s.soundLook) === 'map';
  if (!angles || !family) return null;
  if (map) return <AnglesMap angles={angles} up={way === 'up'} x={x} width={width} height={height} />;
  // On a phone the curves have the room.
  const side = width < NARROW_PX ? 0 : Math.min(300, Math.round(width * 0.36));
  return (
    <div className="angles">
      <ChartFrame
        width={width - side}
        height={height}
        x={x}
        y={level}
        title={`sum ${way === 'up' ? 'above and below' : 'to the side of'} the axis, dB`}
        xUnit="Hz"
      >
        {family.map((f) => (
          <Trace
            key={f.deg}
            x={angles.freqHz}
            y={f.sumDb}
            className={
              f.deg === 0 ? 'sound-sum' : `${styles.angle} ${f.deg < 0 ? 'below' : 'above'} a${Math.abs(f.deg)}`
            }
            testId={`angle-${f.deg}`}
          />
        ))}
        <AngleNames family={family} freqHz={angles.freqHz} />
        <CursorLayer />
      </ChartFrame>
      {side > 0 && (
        <Lobe
          deg={angles.lobe.deg}
          levelDb={way === 'up' ? angles.lobe.upDb : angles.lobe.acrossDb}
          hz={angles.lobeHz}
          size={side}
          up={way === 'up'}
        />
      )}
    </div>
  );
}

/** Each curve's angle at its right end, apart from one another. */
function AngleNames({
  family,
  freqHz,
}: {
  family: readonly { deg: number; sumDb: Float64Array }[];
  freqHz: Float64Array;
}) {
  const plot = usePlot();
  if (!plot) return null;
  const { area } = plot;
  const at = Math.floor(freqHz.length * 0.93);
  const wanted = family
    .map((f) => ({ deg: f.deg, y: plot.y(f.sumDb[at]) }))
    .filter(({ y }) => y > area.y + 8 && y < area.y + area.height)
    .sort((a, b) => a.y - b.y);
  const places = labelsApart(wanted.map(({ y }) => y + 4));
  return (
    <g className="marks" aria-hidden="true">
      {wanted.map(({ deg }, i) => (
        <text key={deg} x={area.x + area.width - 4} y={places[i]} textAnchor="end">
          {`${deg > 0 ? '+' : ''}${deg}°`.replace('-', '−')}
        </text>
      ))}
    </g>
  );
}

/** dB against the axis at each step of the map, loudest first: the second is what sounds as on the axis. */
const AXIS_BANDS = [3, -1, -3, -6, -9, -12, -15, -18, -21, -24];

/** Angle against frequency: how far the sum lies over or under what the axis hears. */
function AnglesMap({ angles, up, x, width, height }: Size & { angles: Angles; up: boolean; x: Axis }) {
  const family = up ? angles.up : angles.across;
  const rows = useMemo(() => {
    const onAxis = family.reduce((best, f) => (Math.abs(f.deg) < Math.abs(best.deg) ? f : best)).sumDb;
    return family.map(({ deg, sumDb }) => ({ at: deg, levelDb: sumDb.map((v, i) => v - onAxis[i]) }));
  }, [family]);
  const y = useMemo((): Axis => {
    const [from, to] = [family[0].deg, family[family.length - 1].deg];
    const labelled = [-90, -60, -30, 0, 30, 60, 90].filter((d) => d >= from && d <= to);
    return { from, to, labelled, format: (v) => `${v}°`.replace('-', '−') };
  }, [family]);
  return (
    <ChartFrame
      width={width}
      height={height}
      x={x}
      y={y}
      title={`sum ${up ? 'above and below' : 'to the side of'} the axis, dB against the axis`}
      xUnit="Hz"
    >
      <LevelMap freqHz={angles.freqHz} rows={rows} bands={AXIS_BANDS} testId="angle-map" />
      <CursorLayer />
    </ChartFrame>
  );
}
