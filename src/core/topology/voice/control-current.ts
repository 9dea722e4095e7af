import { thermalVoltageAt } from '../../analysis/rest/equations';
import type { PartSpec } from '../kit/define-topology';

/** kT/q at the temperature that circuits are judged at (27 °C), V. */
export const THERMAL_VOLTS = thermalVoltageAt({});

/**
 * What an OTA passes on for a control current: gm = I/2Vt (P. Gray and R. Meyer, Analysis and Design of Analog
 * Integrated Circuits, 3.5). A/V.
 */
export const transconductance = (amps: number): number => amps / (2 * THERMAL_VOLTS);

/**
 * The control current: what a voltage, a knob or an envelope moves. Its designed value lies in the middle of its
 * control.
 */
export const CONTROL: PartSpec = {
  name: 'I1',
  kind: 'current',
  role: 'control current',
  leaveOut: 'open',
  given: true,
};
/** Control currents that an OTA filter is set around, A. */
export const MIDDLE_AMPS = 30e-6;
