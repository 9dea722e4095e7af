import { junctionCurrent, shotNoise, type ElementDefinition } from '../element';

const BIPOLAR_VALUES = ['IS', 'BF', 'BR', 'NF', 'NR', '1/VAF', '1/VAR', 'CJE', 'CJC', 'TF'] as const;

/**
 * Bipolar transistor: collector, base, emitter. Ebers-Moll in its transport form with Early effect and charge storage
 * (I. Getreu, Modeling the Bipolar Transistor, ch. 2): IT = IS (e^(vbe/NF·Vt) − e^(vbc/NR·Vt)) (1 − vbc/VAF − vbe/VAR),
 * base currents of BF and BR; charge TF·IF and constant junction capacitances. Terminal resistances are resistors
 * outside.
 */
function bipolar(kind: 'npn' | 'pnp'): ElementDefinition {
  const [C, B, E] = [0, 1, 2];
  return {
    kind,
    terminals: 3,
    leads: ['collector', 'base', 'emitter'],
    bought: () => `small ${kind.toUpperCase()} transistor`,
    values: BIPOLAR_VALUES,
    branches: 0,
    stamp: () => {},
    behave(b) {
      const { graph } = b;
      const [is, bf, br, nf, nr, perVaf, perVar, cje, cjc, tf] = BIPOLAR_VALUES.map((_, i) => b.value(i));
      // A PNP is an NPN with every voltage and current turned round.
      const between = (p: number, m: number): [number, number] => (kind === 'npn' ? [p, m] : [m, p]);
      const forwardJunction = { saturation: is, thermal: graph.multiply(nf, b.thermalVoltage) };
      const reverseJunction = { saturation: is, thermal: graph.multiply(nr, b.thermalVoltage) };
      const vbe = b.voltage(...between(B, E), forwardJunction);
      const vbc = b.voltage(...between(B, C), reverseJunction);
      const forward = junctionCurrent(graph, vbe, forwardJunction);
      const reverse = junctionCurrent(graph, vbc, reverseJunction);
      const early = graph.subtract(graph.subtract(graph.one, graph.multiply(vbc, perVaf)), graph.multiply(vbe, perVar));
      const transport = graph.multiply(graph.subtract(forward, reverse), early);
      const [baseForward, baseReverse] = [graph.divide(forward, bf), graph.divide(reverse, br)];
      b.current(...between(C, E), transport);
      b.current(...between(B, E), baseForward);
      b.current(...between(B, C), baseReverse);
      // What is proportional stands by itself: its slope does not change.
      b.current(...between(B, E), graph.multiply(b.leak, vbe));
      b.current(...between(B, C), graph.multiply(b.leak, vbc));
      b.charge(...between(B, E), graph.multiply(tf, forward));
      b.charge(...between(B, E), graph.multiply(cje, vbe));
      b.charge(...between(B, C), graph.multiply(cjc, vbc));
      b.noiseCurrent(C, E, shotNoise(b, transport));
      b.noiseCurrent(B, E, shotNoise(b, graph.add(baseForward, baseReverse)));
    },
  };
}

export const npn = bipolar('npn');
export const pnp = bipolar('pnp');
