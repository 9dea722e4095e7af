import { junctionCurrent, thermalNoise, type ElementDefinition } from '../element';
import { derivativeOf } from '../../program/derivative';

const JUNCTION_FET_VALUES = ['pinchOffVolts', 'beta', 'lambda', 'IS', 'CGS', 'CGD'] as const;

/**
 * Junction field-effect transistor: drain, gate, source. Square law in saturation, parabola below it (W. Shockley,
 * Proc. IRE 40, 1952; H. Shichman and D. Hodges, IEEE J. Solid-State Circuits 3, 1968), the same either way round; gate
 * junctions and constant capacitances. Channel noise 4kT·(2/3)·gm.
 */
function junctionFet(kind: 'n-jfet' | 'p-jfet'): ElementDefinition {
  const [D, G, S] = [0, 1, 2];
  return {
    kind,
    terminals: 3,
    leads: ['drain', 'gate', 'source'],
    bought: () => `${kind[0]}-channel JFET`,
    values: JUNCTION_FET_VALUES,
    branches: 0,
    stamp: () => {},
    behave(b) {
      const { graph } = b;
      const [pinchOff, beta, lambda, is, cgs, cgd] = JUNCTION_FET_VALUES.map((_, i) => b.value(i));
      const between = (p: number, m: number): [number, number] => (kind === 'n-jfet' ? [p, m] : [m, p]);
      const junction = { saturation: is, thermal: b.thermalVoltage };
      const vgs = b.voltage(...between(G, S), junction);
      const vgd = b.voltage(...between(G, D), junction);
      const vds = graph.subtract(vgs, vgd);
      const size = graph.absolute(vds);
      // The end with the lower voltage acts as the source.
      const over = graph.maximum(graph.subtract(graph.maximum(vgs, vgd), pinchOff), graph.zero);
      const below = graph.minimum(size, over);
      const channel = graph.multiply(
        graph.multiply(beta, graph.multiply(below, graph.subtract(graph.multiply(graph.constant(2), over), below))),
        graph.add(graph.one, graph.multiply(lambda, size)),
      );
      const drain = graph.select(vds, channel, graph.negate(channel));
      b.current(...between(D, S), drain);
      for (const [v, end, capacitance] of [
        [vgs, S, cgs],
        [vgd, D, cgd],
      ] as const) {
        b.current(...between(G, end), graph.add(junctionCurrent(graph, v, junction), graph.multiply(b.leak, v)));
        b.charge(...between(G, end), graph.multiply(capacitance, v));
      }
      const transconductance = graph.absolute(derivativeOf(graph, drain, vgs));
      b.noiseCurrent(D, S, graph.multiply(graph.constant(2 / 3), thermalNoise(b, transconductance)));
    },
  };
}

export const nJunctionFet = junctionFet('n-jfet');
export const pJunctionFet = junctionFet('p-jfet');
