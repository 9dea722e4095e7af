import type { Axis } from '@/ui/chart/chart-frame';
import { linearTicks, logTicks, tickHz } from '@/ui/chart/ticks';
import { formatQuantity } from '@/core/units/quantity';
import type { DeskResult } from '@/core/jobs/desk/desk-types';

const minus = (value: number): string => (value < 0 ? `−${Math.abs(value)}` : `${value}`);

export function frequencyAxis(fromHz: number, toHz: number): Axis {
  return { from: fromHz, to: toHz, log: true, ...logTicks(fromHz, toHz), format: tickHz };
}

/**
 * Levels: ten dB over the gain asked for or the highest peak; down to the lowest point that is drawn, but forty at
 * least and seventy at most.
 */
export function levelAxis({ askedDb, asBuilt, ideal }: DeskResult): Axis {
  const peak = asBuilt.levelDb.reduce((m, v) => Math.max(m, v), askedDb);
  const lowest = [asBuilt, ideal].reduce((low, { levelDb }) => levelDb.reduce((m, v) => Math.min(m, v), low), peak);
  const to = 10 * Math.ceil((Math.max(askedDb + 4, peak + 2) + 1e-6) / 10);
  const from = Math.max(to - 70, Math.min(to - 40, 10 * Math.floor((lowest - 2) / 10)));
  return { from, to, labelled: linearTicks(from, to, 7), format: (v) => (v > 0 ? `+${v}` : minus(v)) };
}

export function phaseAxis({ asBuilt, ghost }: DeskResult): Axis {
  let [low, high] = [Infinity, -Infinity];
  for (const trace of [asBuilt, ghost ?? asBuilt])
    for (const v of trace.phaseDeg) [low, high] = [Math.min(low, v), Math.max(high, v)];
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

/** Time from zero, in the unit that suits it: its name is the axis's. */
export function timeAxis(stopS: number, count = 7): Axis & { unit: string } {
  const [factor, unit] = stopS >= 2 ? [1, 's'] : stopS >= 2e-3 ? [1e3, 'ms'] : [1e6, 'µs'];
  return {
    from: 0,
    to: stopS,
    labelled: linearTicks(0, stopS, count),
    format: (v) => `${Number((v * factor).toPrecision(3))}`,
    unit,
  };
}

/** Volts, with room for the highest curve and, on top, this share of its swing. */
export function voltAxis(traces: readonly Float64Array[], headroom = 0.08): Axis {
  let [low, high] = [Infinity, -Infinity];
  for (const trace of traces) for (const v of trace) [low, high] = [Math.min(low, v), Math.max(high, v)];
  const room = Math.max(0.1, (high - low) * 0.08);
  const top = Math.max(room, (high - low) * headroom);
  return {
    from: low - room,
    to: high + top,
    labelled: linearTicks(low - room, high + top, 6),
    format: (v) => minus(Number(v.toPrecision(3))),
  };
}

/** Decibels about zero, as far as the curve goes. */
export function differenceAxis(differenceDb: ArrayLike<number>): Axis {
  let [low, high] = [-1, 1];
  for (let i = 0; i < differenceDb.length; i++) {
    const v = differenceDb[i];
    if (Number.isFinite(v)) [low, high] = [Math.min(low, v), Math.max(high, v)];
  }
  const [from, to] = [Math.max(-80, 5 * Math.floor((low - 0.5) / 5)), Math.min(80, 5 * Math.ceil((high + 0.5) / 5))];
  return { from, to, labelled: linearTicks(from, to, 7), format: (v) => (v > 0 ? `+${v}` : minus(v)) };
}

/** A logarithmic axis of ohms over the decades that hold the values. */
export function ohmAxis(low: number, high: number): Axis {
  const [from, to] = [10 ** Math.floor(Math.log10(low) + 1e-9), 10 ** Math.ceil(Math.log10(high) - 1e-9)];
  const decades = Math.max(1, Math.round(Math.log10(to / from)));
  const step = Math.ceil(decades / 8);
  const labelled = Array.from({ length: Math.floor(decades / step) + 1 }, (_, i) =>
    Number((from * 10 ** (i * step)).toPrecision(6)),
  );
  return {
    from,
    to,
    log: true,
    labelled,
    format: (v) => formatQuantity(v, 'resistance', { digits: 3, bare: true, tight: true }),
  };
}
