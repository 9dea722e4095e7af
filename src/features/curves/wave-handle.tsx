'use client';

import { tenth } from '@/ui/chart/tenth';
import { useXAxisInverseScale } from 'recharts';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { levelAt } from '@/core/analysis/curves/marks';
import { formatQuantity } from '@/core/units/quantity';
import { usePlot } from '@/ui/chart/chart-frame';
import { DESK } from '@/store/questions/live';
import { useLiveAnswer } from '@/store/questions/question';
import { setView } from '@/store/view';
import { useWaveHz } from './wave-bar';
import styles from './curves.module.css';

/** The wave's frequency on the curve: dragged, or moved with the arrow keys, from far below the cutoff to far above. */
export function WaveHandle() {
  const waveHz = useWaveHz();
  const desk = useLiveAnswer(DESK);
  const plot = usePlot();
  const inverse = useXAxisInverseScale();
  const chartLeft = useRef(0);
  if (!plot || !inverse || !desk) return null;
  const { area } = plot;
  const [low, high] = [desk.freqHz[0], desk.freqHz[desk.freqHz.length - 1]];
  const put = (freqHz: number) => setView({ waveHz: Number(Math.min(high, Math.max(low, freqHz)).toPrecision(3)) });
  const move = (event: PointerEvent<SVGGElement>) => {
    if (event.currentTarget.hasPointerCapture(event.pointerId)) put(Number(inverse(event.clientX - chartLeft.current)));
  };
  const onKey = (event: KeyboardEvent) => {
    const way =
      event.key === 'ArrowRight' || event.key === 'ArrowUp'
        ? 1
        : event.key === 'ArrowLeft' || event.key === 'ArrowDown'
          ? -1
          : 0;
    if (way === 0 && event.key !== 'Home' && event.key !== 'End') return;
    event.preventDefault();
    event.stopPropagation();
    put(
      event.key === 'Home' ? low : event.key === 'End' ? high : waveHz * 10 ** ((way * (event.shiftKey ? 10 : 1)) / 50),
    );
  };
  const x = plot.x(waveHz);
  if (!(x >= area.x - 1 && x <= area.x + area.width + 1)) return null;
  const level = levelAt(desk.freqHz, desk.asBuilt.levelDb, Math.min(high, Math.max(low, waveHz)));
  const y = Math.min(area.y + area.height, Math.max(area.y, plot.y(Number.isFinite(level) ? level : 0)));
  return (
    <g
      className={`${styles.handle} ${styles.waveHandle}`}
      data-testid="wave-handle"
      role="slider"
      tabIndex={0}
      aria-label="Frequency of the wave"
      aria-valuenow={waveHz}
      aria-valuemin={low}
      aria-valuemax={high}
      aria-valuetext={formatQuantity(waveHz, 'frequency')}
      onKeyDown={onKey}
      onPointerMove={move}
      onPointerUp={(event) => event.currentTarget.releasePointerCapture(event.pointerId)}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        chartLeft.current = event.currentTarget.ownerSVGElement?.getBoundingClientRect().left ?? 0;
      }}
    >
      <path d={`M${tenth(x)} ${area.y}v${area.height}`} className="wave-line" />
      <circle className="reach" cx={x} cy={y} r={14} />
      <rect className="knob" x={x - 5} y={y - 5} width={10} height={10} transform={`rotate(45 ${x} ${y})`} />
    </g>
  );
}
