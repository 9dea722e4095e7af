import type { AcSolver } from '../../analysis/ac/solver';
import { GROUND } from '../../circuit/netlist';
import type { Assembled } from '../../circuit/structure';
import { failure, success, type Result } from '../../result';
import type { Compilation } from '../../design/compiled/compile';
import type { Design, Variant } from '../../design/document/schema';
import { wayTransfer } from '../loudspeaker/speaker-system';
import { USUAL_LISTENING } from '../../design/document/usual-listening';

/** A place to measure: what is read there is the sum of its nodes' voltages, each times its weights. */
export interface Probe {
  readonly id: string;
  readonly name: string;
  readonly terms: readonly ProbeTerm[];
}
/** Whether sound is measured there: it has no level and no delay of its own. */
export const isSound = (design: Pick<Variant, 'join'>, { id }: Probe): boolean =>
  id === SUM && design.join === 'acoustic';

export interface ProbeTerm {
  readonly node: string;
  /** What it is read against. */
  readonly ground: string;
  /** Re and im by turns at frequencies; absent: one. Negative where it is turned over. */
  weights?(freqHz: Float64Array): Float64Array;
}

const OUTPUT = 'out';
const SUM = 'sum';

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
  const ends = variant.ways.map((way, w) =>
    several ? single(way.name, way.name, ways[w].output) : single(OUTPUT, 'output', ways[w].output),
  );
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

/** What a deck calls a node. */
const inDeck = (node: string): string => node.replace(/[^\w.]/g, '_').toLowerCase();

/**
 * A place by its id or name, or a node by its name in the circuit or its deck; absent: the first way's end. Fails with
 * `no-such-place` (`place`, `places`).
 */
export function placeAt(
  design: Design,
  variant: Variant,
  built: Pick<Compilation, 'ways' | 'circuit'>,
  asked: string | undefined,
): Result<Probe, 'no-such-place'> {
  const probes = probesOf(design, variant, built);
  const { structure } = built.circuit;
  // As in a deck, what is called the output is where the first way feeds its load.
  const named =
    asked === undefined || asked === OUTPUT ? undefined : probes.find((p) => p.id === asked || p.name === asked);
  if (named) return success(named);
  const node =
    asked === undefined || asked === OUTPUT
      ? built.ways[0].output
      : structure.unknowns.find((u) => u === asked || inDeck(u) === asked.toLowerCase());
  if (node === undefined)
    return failure('no-such-place', { place: asked ?? OUTPUT, places: probes.map((p) => p.name).join(', ') });
  // A node that has a name already is that place, and no other to be mistaken for it.
  const known = probes.find(
    ({ terms: [term, more] }) => !more && structure.nodeOf(term.node) === structure.nodeOf(node),
  );
  return success(known ?? single(node, asked ?? OUTPUT, node));
}

/** Response at a place, re and im by turns. Fails as the solver does. */
export function responseAt(
  circuit: Assembled,
  { terms }: Probe,
  freqHz: Float64Array,
  solver: AcSolver,
): Result<Float64Array> {
  const solved = solver.sweep(
    circuit,
    freqHz,
    terms.flatMap(({ node, ground }) => [node, ground]),
  );
  if (!solved.ok) return solved;
  const sum = new Float64Array(2 * freqHz.length);
  terms.forEach(({ weights }, t) => {
    const [high, low] = [solved.value[2 * t], solved.value[2 * t + 1]];
    const by = weights?.(freqHz);
    for (let i = 0; i < sum.length; i += 2) {
      const [re, im] = [high[i] - low[i], high[i + 1] - low[i + 1]];
      sum[i] += by ? re * by[i] - im * by[i + 1] : re;
      sum[i + 1] += by ? re * by[i + 1] + im * by[i] : im;
    }
  });
  return success(sum);
}
