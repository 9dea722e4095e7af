import { C, R, V, onePoleAmp } from '../circuit/build';
import { npn } from '../circuit/elements/bipolar';
import { limitedOpAmp } from '../circuit/elements/op-amp';
import type { ElementInstance, SourceValue } from '../circuit/netlist';
import { assemble, type Assembled } from '../circuit/structure';

/** Circuits that tests and the bench share. */

export const source = (
  name: string,
  plus: string,
  minus: string,
  value: SourceValue,
  magnitude = 0,
): ElementInstance => ({ ...V(name, plus, minus, magnitude), source: value });

export const NPN = (name: string, c: string, b: string, e: string): ElementInstance => ({
  name,
  definition: npn,
  nodes: [c, b, e],
  values: [1e-14, 150, 2, 1, 1, 1 / 80, 0, 0, 0, 0],
});

/**
 * A four-pole transistor ladder about 1 kHz: a driven pair, four pairs of emitters with a capacitor across each, bases
 * on a divider, output across the top pair.
 */
export function transistorLadder(wave?: SourceValue['wave']): Assembled {
  const elements: ElementInstance[] = [
    source('Vcc', 'vcc', '0', { dc: 12 }),
    source('Vee', 'vee', '0', { dc: -12 }),
    source('Vin', 'in', '0', { dc: 0, wave }, 1),
    R('Rin', 'in', 'b', 10e3),
    R('Rb', 'b', '0', 220),
    R('Rtail', 't', 'vee', 22e3),
    NPN('Q1', 'a0', 'b', 't'),
    NPN('Q2', 'd0', '0', 't'),
    R('Rd0', 'vcc', 'k3', 2.2e3),
    R('Rd1', 'k3', 'k2', 470),
    R('Rd2', 'k2', 'k1', 470),
    R('Rd3', 'k1', 'k0', 470),
    R('Rd4', 'k0', '0', 680),
  ];
  for (let s = 0; s < 4; s++) {
    elements.push(
      C(`C${s}`, `a${s}`, `d${s}`, 47e-9),
      NPN(`Qa${s}`, `a${s + 1}`, `k${s}`, `a${s}`),
      NPN(`Qd${s}`, `d${s + 1}`, `k${s}`, `d${s}`),
    );
  }
  elements.push(R('Ra', 'vcc', 'a4', 1e3), R('Rdd', 'vcc', 'd4', 1e3));
  return assemble({ elements, merged: [] });
}

/**
 * A cascade of Sallen-Key low-passes with one-pole op-amps and their output resistances: 6 unknowns a stage and 2 more.
 * Values differ from stage to stage.
 */
export function opAmpCascade(stages: number): { circuit: Assembled; output: string } {
  const elements: ElementInstance[] = [V('Vin', 'in', '0', 1)];
  let previous = 'in';
  for (let i = 0; i < stages; i++) {
    const own = (name: string) => `${name}${i}`;
    elements.push(
      R(own('R1'), previous, own('a'), 10e3 * (1 + i / 7)),
      R(own('R2'), own('a'), own('p'), 12e3),
      C(own('C1'), own('a'), own('o'), 22e-9),
      C(own('C2'), own('p'), '0', 10e-9),
      onePoleAmp(own('U'), own('p'), own('o'), own('b'), 2e5, 2e7),
      R(own('Ro'), own('b'), own('o'), 100),
    );
    previous = own('o');
  }
  elements.push(R('RL', previous, '0', 10e3));
  return { circuit: assemble({ elements, merged: [] }), output: previous };
}

/**
 * An op-amp that charges a capacitor until half of its own output turns it over: from −1/2 to 1/2 of its rail toward
 * all of it and back takes 2 RC ln 3 (node `out`; its output's ohms and what pushes it add a hundredth).
 */
export function relaxationOscillator(): { circuit: Assembled; periodS: number; rail: number } {
  const [ohm, farad, rail] = [10e3, 100e-9, 10];
  const circuit = assemble({
    elements: [
      source('Vin', 'push', '0', { dc: 0 }),
      R('R0', 'push', 'minus', 1e6),
      R('R1', 'out', 'plus', 10e3),
      R('R2', 'plus', '0', 10e3),
      R('R', 'out', 'minus', ohm),
      C('C', 'minus', '0', farad),
      R('Ro', 'behind', 'out', 100),
      {
        name: 'U',
        definition: limitedOpAmp,
        nodes: ['plus', 'minus', 'behind', 'asked'],
        values: [1e5, 2 * Math.PI * 3e6, 8e6, rail, -rail, 0, 0, 0, 0],
      },
    ],
    merged: [],
  });
  return { circuit, periodS: 2 * ohm * farad * Math.log(3), rail };
}
