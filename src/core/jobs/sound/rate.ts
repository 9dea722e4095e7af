/** Of what is played, samples a second. */
export const RATE_HZ = 48_000;

/** From one place of a knob to the next a sounding circuit glides for as long, s: it is told no oftener. */
export const GLIDE_S = 0.06;
