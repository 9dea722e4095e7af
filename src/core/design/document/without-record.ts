import type { Design } from './schema';

/** A design as computation needs it: what was measured and noted stays behind, so that less is copied to a worker. */
export const withoutRecord = (design: Design): Design => ({
  ...design,
  measurements: [],
  readings: undefined,
  log: [],
});
