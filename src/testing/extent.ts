/** Of cases that differ in size or number alone: what every run tries, and what `npm run long` does. */
export const orLong = <T>(every: T, long: T): T => (process.env.JAUNTY_REED_LONG === '1' ? long : every);
