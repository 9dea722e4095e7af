'use client';

import { useMemo } from 'react';
import { ChartFrame, usePlot, type Axis } from '@/ui/chart/chart-frame';
import { Trace } from '@/ui/chart/trace-layer';
import { useDesign } from '@/store/document';
import { DECAY } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { useView } from '@/store/view';
import { frequencyAxis } from './axes';
import { CursorLayer } from './cursor';
import { labelsApart } from './labels-apart';
import { LevelMap } from '@/ui/chart/level-map';
import { soundAxis, type Size } from './speaker-views';

/** What still sounds later and later after an impulse; the ghost's under it. */
export function DecayView({ width, height }: Size) {
  const decay = useLiveAnswer(DECAY);
  const x = useMemo(() => frequencyAxis(200, 20e3), []);
  const level = useMemo(() => soundAxis(decay ? [decay.slices[0].levelDb] : []), [decay]);
  const map = useView((s) => s.soundLook) === 'map';
  const ghostVariant = useView((s) => s.ghostVariant);
  const ghostName = useDesign((d) => d.variants.find((v) => v.id === ghostVariant)?.name);
  if (!decay) return null;
  // Both against one level, so that they can be compared.
  const topDb = Math.max(...decay.slices[0].levelDb);
  const both = decay.ghost && ghostName;
  const each = both ? Math.round(height / 2) : height;
  return (
    <>
      <ChartFrame
        width={width}
        height={height - (both ? each : 0)}
        x={x}
        y={map ? MS : level}
        title={map ? 'ms after the sound stops; dB under its highest' : 'after the sound stops, dB'}
        bareX={Boolean(both)}
        xUnit="Hz"
      >
        {map ? (
          <DecayMap freqHz={decay.freqHz} slices={decay.slices} topDb={topDb} />
        ) : (
          <Slices freqHz={decay.freqHz} slices={decay.slices} />
        )}
        <CursorLayer zooms={false} />
      </ChartFrame>
      {both && decay.ghost && (
        <ChartFrame
          width={width}
          height={each}
          x={x}
          y={map ? MS : level}
          title={`the same of ${ghostName}`}
          xUnit="Hz"
        >
          {map ? (
            <DecayMap freqHz={decay.freqHz} slices={decay.ghost} topDb={topDb} />
          ) : (
            <Slices freqHz={decay.freqHz} slices={decay.ghost} />
          )}
          <CursorLayer zooms={false} />
        </ChartFrame>
      )}
    </>
  );
}

function Slices({
  freqHz,
  slices,
}: {
  freqHz: Float64Array;
  slices: readonly { ms: number; levelDb: Float64Array }[];
}) {
  return (
    <g data-testid="decay-slices">
      {[...slices].reverse().map((s, i) => (
        <g key={s.ms} style={{ opacity: 0.25 + (0.75 * (i + 1)) / slices.length }}>
          <Trace x={freqHz} y={s.levelDb} className={s.ms === 0 ? 'sound-sum' : 'slice'} />
        </g>
      ))}
      <SliceNames freqHz={freqHz} slices={slices} />
    </g>
  );
}

function SliceNames({
  freqHz,
  slices,
}: {
  freqHz: Float64Array;
  slices: readonly { ms: number; levelDb: Float64Array }[];
}) {
  const plot = usePlot();
  if (!plot) return null;
  const { area } = plot;
  const at = Math.floor(freqHz.length * 0.1);
  const named = slices
    .filter((s) => s.ms > 0 && Number.isInteger(s.ms))
    .map((s) => ({ ms: s.ms, y: plot.y(s.levelDb[at]) }))
    .filter(({ y }) => y > area.y + 10 && y < area.y + area.height - 2)
    .sort((a, b) => a.y - b.y);
  const places = labelsApart(named.map(({ y }) => y - 4));
  return (
    <g className="marks" aria-hidden="true">
      {named.map(({ ms }, i) => (
        <text key={ms} x={area.x + 6} y={places[i]}>
          {ms}&#8239;ms
        </text>
      ))}
    </g>
  );
}

/** Up the map: ms. */
const MS: Axis = { from: 0, to: 4, labelled: [0, 1, 2, 3, 4], format: String };
/** dB under the highest at each step of the map. */
const DECAY_BANDS = [-3, -6, -9, -12, -15, -18, -21, -24, -27, -30, -33, -36];

/** Time up, frequency across: what rings on stands out as a column. */
function DecayMap({
  freqHz,
  slices,
  topDb,
}: {
  freqHz: Float64Array;
  slices: readonly { ms: number; levelDb: Float64Array }[];
  topDb: number;
}) {
  const rows = useMemo(
    () => slices.map(({ ms, levelDb }) => ({ at: ms, levelDb: levelDb.map((v) => v - topDb) })),
    [slices, topDb],
  );
  return <LevelMap freqHz={freqHz} rows={rows} bands={DECAY_BANDS} testId="decay-map" />;
}
