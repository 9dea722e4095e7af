import { curveSchema } from '../../loudspeaker/driver';
import { fitImpedance } from '../../loudspeaker/fit-impedance';
import { defineJob, requestOf } from '../define-job';

/** Fits a driver’s impedance as a circuit to what was measured. */
const fitImpedanceRequest = requestOf('fit-impedance', { curve: curveSchema });

export const fitImpedanceJob = defineJob(fitImpedanceRequest, ({ curve }) => fitImpedance(curve));
