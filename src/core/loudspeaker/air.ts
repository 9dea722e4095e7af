/** m/s, at 20 °C. */
export const SPEED_OF_SOUND = 343;
