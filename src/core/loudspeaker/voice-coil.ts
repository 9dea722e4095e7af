import { C, L, R } from '../circuit/build';
import type { ElementInstance } from '../circuit/netlist';
import { add, complex, divide, type Complex } from '../math/complex';
import type { ImpedanceModel } from './driver';

/**
 * Coil (H) and capacitor (F) that resonate in parallel with a resistor, as a cone on its spring looks from the voice
 * coil.
 */
function motional({ freqHz, q, ohm }: ImpedanceModel['resonances'][number]): { henry: number; farad: number } {
  const omega = 2 * Math.PI * freqHz;
  return { henry: ohm / (q * omega), farad: q / (ohm * omega) };
}

/** The resonance that stands highest: of the cone in its box, or of the suspension; undefined where there is none. */
export const mainResonance = <R extends { readonly ohm: number }>({
  resonances,
}: {
  readonly resonances: readonly R[];
}): R | undefined => [...resonances].sort((a, b) => b.ohm - a.ohm)[0];

/** The model's impedance at a frequency (Hz), ohm. */
export function impedanceAt(model: ImpedanceModel, freqHz: number): Complex {
  const omega = 2 * Math.PI * freqHz;
  let sum = complex(model.reOhm, omega * model.leHenry);
  for (const { henry, ohm } of model.lossy) sum = add(sum, parallel(complex(ohm), complex(0, omega * henry)));
  for (const resonance of model.resonances) {
    const { q, ohm } = resonance;
    const turn = freqHz / resonance.freqHz - resonance.freqHz / freqHz;
    sum = add(sum, divide(complex(ohm), complex(1, q * turn)));
  }
  return sum;
}
const parallel = (a: Complex, b: Complex): Complex =>
  divide(complex(a.re * b.re - a.im * b.im, a.re * b.im + a.im * b.re), add(a, b));

/** The same as elements between two nodes, all of it linear: every analysis sees the driver, not a resistor. */
export function voiceCoilElements(name: string, plus: string, minus: string, model: ImpedanceModel): ElementInstance[] {
  const elements: ElementInstance[] = [];
  const chain: ((from: string, to: string) => void)[] = [
    (from, to) => elements.push(R(`${name}.Re`, from, to, model.reOhm)),
  ];
  if (model.leHenry > 0) chain.push((from, to) => elements.push(L(`${name}.Le`, from, to, model.leHenry)));
  model.lossy.forEach(({ henry, ohm }, i) =>
    chain.push((from, to) => elements.push(L(`${name}.L${i}`, from, to, henry), R(`${name}.R${i}`, from, to, ohm))),
  );
  model.resonances.forEach((resonance, i) => {
    const { henry, farad } = motional(resonance);
    chain.push((from, to) =>
      elements.push(
        R(`${name}.Res${i}`, from, to, resonance.ohm),
        L(`${name}.Lces${i}`, from, to, henry),
        C(`${name}.Cmes${i}`, from, to, farad),
      ),
    );
  });
  chain.forEach((place, i) =>
    place(i === 0 ? plus : `${name}.${i}`, i === chain.length - 1 ? minus : `${name}.${i + 1}`),
  );
  return elements;
}

/**
 * The model from a driver's few parameters: Res = Re Qms/Qes (R. H. Small, Direct-Radiator Loudspeaker System Analysis,
 * J. AES 20, 1972, eq. 12). Half of the voice coil's inductance is taken to have the eddy currents' resistance across
 * it.
 */
export function modelFromParameters({
  reOhm,
  leHenry,
  fsHz,
  qms,
  qes,
}: {
  reOhm: number;
  leHenry: number;
  fsHz: number;
  qms: number;
  qes: number;
}): ImpedanceModel {
  const lossy = leHenry > 0 ? [{ henry: leHenry / 2, ohm: 2 * Math.PI * 3000 * leHenry }] : [];
  return { reOhm, leHenry: leHenry / 2, lossy, resonances: [{ freqHz: fsHz, q: qms, ohm: (reOhm * qms) / qes }] };
}
