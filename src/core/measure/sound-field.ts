import { SPEED_OF_SOUND } from '../loudspeaker/air';

/**
 * How much later than the direct sound the first reflection comes, s: off the floor or ceiling, whichever is nearer, by
 * a mirror image of the source.
 */
export const firstReflectionS = (distanceM: number, heightM: number): number =>
  (Math.hypot(distanceM, 2 * heightM) - distanceM) / SPEED_OF_SOUND;

/** What is heard for so long says nothing below this, Hz: a whole turn has to fit into it. */
export const lowestHz = (gateS: number): number => 1 / gateS;

/**
 * Up to here the sound close before a cone is what it is from afar, Hz: k a = 1 (D. B. Keele, J. Audio Eng. Soc. 22,
 * 1974, Low-frequency loudspeaker assessment by nearfield sound-pressure measurement, 2).
 */
export const nearFieldHz = (radiusM: number): number => SPEED_OF_SOUND / (2 * Math.PI * radiusM);

/**
 * Where a cone would be as loud, were it a point, as close before it at low frequencies, m: half its radius (eq. 5).
 */
export const nearDistanceM = (radiusM: number): number => radiusM / 2;

/** The same at the middle of a rigid piston against what is heard at 1 m, as a ratio (Keele, eq. 5 and 6). */
export const nearOverFar = (radiusM: number, freqHz: number): number => {
  const half = (Math.PI * freqHz * radiusM) / SPEED_OF_SOUND;
  return (1 / nearDistanceM(radiusM)) * (half === 0 ? 1 : Math.abs(Math.sin(half) / half));
};

/**
 * Level at 1 m for 2.83 V, dB SPL, of a response that was recorded through a microphone and an amplifier.
 * @param levelDb of what the card recorded re what it played. @param voltsPerPascal of microphone and preamplifier.
 */
export const pressureLevelDb = (
  levelDb: number,
  { voltsPerPascal, amplifierGain, distanceM }: Microphone & { readonly distanceM: number },
): number => levelDb + 20 * Math.log10((2.83 * distanceM) / (voltsPerPascal * amplifierGain * 20e-6));

export interface Microphone {
  readonly voltsPerPascal: number;
  /** Volts at the driver for one of the card. */
  readonly amplifierGain: number;
}
