/** Of what is played, samples a second. */
export const RATE_HZ = 48_000;
