import { currentSource } from './current-source';
import type { ElementDefinition } from '../element';
import type { Complex } from '../../math/complex';

/**
 * A measured one-port beside the circuit that is fitted to it: the admittance (S) that the measurement has over the
 * fitted circuit, against frequency (Hz). In AC it counts; at rest and in time the fitted circuit stands alone.
 */
export type ExcessAdmittance = (freqHz: number) => Complex;

/**
 * Where a measured one-port is connected. Its equations are those of a current source that gives nothing; the AC solver
 * finds by it what the excess admittance changes.
 */
export const measuredPort: ElementDefinition = { ...currentSource, kind: 'measured-port' };
