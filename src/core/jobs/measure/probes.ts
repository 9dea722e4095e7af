import { GROUND } from '../../circuit/netlist';
import type { Compilation } from '../../design/compile';
import type { Design, Variant } from '../../design/schema';
import { USUAL_LISTENING, wayTransfer } from '../loudspeaker/speaker-system';

/** A place to measure: what is read there is the sum of its nodes' voltages, each times its weights. */
export interface Probe {
  readonly id: string;
  readonly name: string;
  readonly terms: readonly ProbeTerm[];
}
export interface ProbeTerm {
  readonly node: string;
  /** What it is read against. */
  readonly ground: string;
  /** Re and im by turns at frequencies; absent: one. Negative where it is turned over. */
  weights?(freqHz: Float64Array): Float64Array;
}

export const OUTPUT = 'out';
export const SUM = 'sum';

const single = (id: string, name: string, node: string, ground = GROUND): Probe => ({
  id,
  name,
  terms: [{ node, ground }],
});

/**
 * Where a variant can be measured: its output first, the ways' ends, the sum at the listener's place, the joints
 * between stages. @param turned ways whose drivers are the other way round than they should be.
 */
export function probesOf(
  design: Design,
  variant: Variant,
  { ways }: Pick<Compilation, 'ways'>,
  turned: ReadonlySet<string> = new Set(),
): Probe[] {
  const several = variant.ways.length > 1;
  const ends = variant.ways.map((way, w) => single(several ? way.name : OUTPUT, way.name, ways[w].output));
  const listener = variant.listening ?? USUAL_LISTENING;
  const sum: Probe[] =
    several && variant.join !== 'none'
      ? [
          {
            id: SUM,
            name: SUM,
            terms: variant.ways.map((way, w) => ({
              node: ways[w].output,
              ground: GROUND,
              weights: (freqHz) => {
                const sign = turned.has(way.id) ? -1 : 1;
                if (variant.join === 'acoustic') return wayTransfer(design, way, freqHz, listener).map((v) => sign * v);
                const gain = sign * way.polarity * 10 ** (way.levelTrimDb / 20);
                return Float64Array.from({ length: 2 * freqHz.length }, (_, i) => (i % 2 === 0 ? gain : 0));
              },
            })),
          },
        ]
      : [];
  const joints = variant.ways.flatMap((way, w) =>
    way.stages.slice(0, -1).map((_, s): Probe => {
      const name = `after stage ${s + 1}${several ? ` of ${way.name}` : ''}`;
      return single(ways[w].joints[s + 1], name, ways[w].joints[s + 1], ways[w].ground);
    }),
  );
  return [...sum, ...ends, ...joints];
}
