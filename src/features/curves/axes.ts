import type { Axis } from '@/ui/chart/chart-frame';
import { linearTicks, logTicks, tickHz } from '@/ui/chart/ticks';
import type { DeskResult } from '@/core/jobs/desk-types';

const minus = (value: number): string => (value < 0 ? `−${Math.abs(value)}` : `${value}`);

export function frequencyAxis(fromHz: number, toHz: number): Axis {
  return { from: fromHz, to: toHz, log: true, ...logTicks(fromHz, toHz), format: tickHz };
}

/** Levels: ten dB over the gain asked for or the highest peak, and seventy under it. */
export function levelAxis({ askedDb, asBuilt }: DeskResult): Axis {
  const peak = asBuilt.levelDb.reduce((m, v) => Math.max(m, v), askedDb);
  const to = 10 * Math.ceil((Math.max(askedDb + 4, peak + 2) + 1e-6) / 10);
  const from = to - 70;
  return { from, to, labelled: linearTicks(from, to, 7), format: (v) => (v > 0 ? `+${v}` : minus(v)) };
}

export function phaseAxis({ asBuilt, ghost }: DeskResult): Axis {
  let [low, high] = [Infinity, -Infinity];
  for (const trace of [asBuilt, ghost ?? asBuilt]) for (const v of trace.phaseDeg) [low, high] = [Math.min(low, v), Math.max(high, v)];
  const span = high - low > 500 ? 360 : high - low > 200 ? 180 : 90;
  const from = span * Math.floor((low + 1) / span);
  const to = span * Math.ceil((high - 1) / span);
  const labelled: number[] = [];
  for (let t = from; t <= Math.max(to, from + span); t += span) labelled.push(t);
  return { from, to: Math.max(to, from + span), labelled, format: (v) => `${minus(v)}°` };
}

/** Group delay in milliseconds, from zero, with room for an overshoot past the as-built curve's highest point. */
export function delayAxis({ asBuilt, freqHz, marks }: DeskResult): Axis {
  const cutoffs = marks.filter((m) => m.kind === 'cutoff').map((m) => m.freqHz);
  const from = cutoffs.length > 0 ? Math.min(...cutoffs) / 8 : 0;
  let most = 1e-9;
  asBuilt.delayS.forEach((d, i) => {
    if (freqHz[i] > from && Number.isFinite(d)) most = Math.max(most, 1000 * d);
  });
  const labelled = linearTicks(0, most * 1.15, 6);
  return { from: 0, to: most * 1.15, labelled, format: (v) => `${Number(v.toPrecision(3))}` };
}

export function timeAxis(stopS: number): Axis {
  return { from: 0, to: stopS, labelled: linearTicks(0, stopS, 7), format: (v) => `${Number((v * 1000).toPrecision(3))}` };
}

export function voltAxis(traces: readonly Float64Array[]): Axis {
  let [low, high] = [Infinity, -Infinity];
  for (const trace of traces) for (const v of trace) [low, high] = [Math.min(low, v), Math.max(high, v)];
  const room = Math.max(0.1, (high - low) * 0.08);
  return { from: low - room, to: high + room, labelled: linearTicks(low - room, high + room, 6), format: (v) => minus(Number(v.toPrecision(3))) };
}
