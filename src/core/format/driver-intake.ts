import type { DriverFile } from './driver-file';
import type { Curve, Driver, ImpedanceModel } from '../loudspeaker/driver';

/** What several files of one driver bring together. */
export interface DriverCurves {
  readonly name: string | null;
  readonly response: Curve | null;
  readonly impedance: Curve | null;
  readonly angles: readonly { readonly offDeg: number; readonly curve: Curve }[];
}

/** Files of one driver: the last of each kind and angle counts; its name is the response's, or the impedance's. */
export function gathered(files: readonly DriverFile[]): DriverCurves {
  const last = (kind: DriverFile['kind']) => files.filter((f) => f.kind === kind && f.offDeg === 0).at(-1);
  const [response, impedance] = [last('response'), last('impedance')];
  const angles = new Map<number, Curve>();
  for (const file of files) if (file.kind === 'response' && file.offDeg !== 0) angles.set(file.offDeg, file.curve);
  return {
    name: (response ?? impedance ?? files.at(-1))?.driver ?? null,
    response: response?.curve ?? null,
    impedance: impedance?.curve ?? null,
    angles: [...angles].map(([offDeg, curve]) => ({ offDeg, curve })).sort((a, b) => a.offDeg - b.offDeg),
  };
}

const NOMINAL_OHM = [2, 3, 4, 6, 8, 12, 16, 32];
/**
 * Of the nominal impedance, the least that a driver may have anywhere in its range is 0.8 (IEC 60268-5:2003, 16.1); a
 * measurement may be off by as much as this allows.
 */
const LEAST_SHARE = 0.78;

/** What is to be printed on a driver with so low an impedance at its lowest, ohm. */
export const nominalOf = (lowestOhm: number): number =>
  NOMINAL_OHM.filter((ohm) => LEAST_SHARE * ohm <= lowestOhm).at(-1) ?? NOMINAL_OHM[0];

/** What of a driver changes with curves that come in. @param model the circuit that was fitted to the impedance. */
export function withCurves(driver: Driver, curves: DriverCurves, model: ImpedanceModel | null): Partial<Driver> {
  const { response, impedance, angles } = curves;
  const before = (driver.angles ?? []).filter((a) => !angles.some((b) => b.offDeg === a.offDeg));
  // Angles go with the response that they were measured beside.
  const kept = response ? angles : [...before, ...angles].sort((a, b) => a.offDeg - b.offDeg);
  return {
    ...(response ? { response: { kind: 'curve', curve: response } } : {}),
    ...(response || angles.length > 0 ? { angles: [...kept] } : {}),
    ...(impedance && model
      ? { measuredImpedance: impedance, impedance: model, nominalOhm: nominalOf(Math.min(...impedance.values)) }
      : {}),
  };
}
