/** m/s, at 20 °C. */
export const SPEED_OF_SOUND = 343;
/** kg/m³, at 20 °C and 101.3 kPa. */
export const AIR_DENSITY = 1.204;
