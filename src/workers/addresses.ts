/** Where the bundled workers lie: written by `scripts/bundle.mjs`, given to the build by `next.config.ts`. */
export const WORKERS = {
  job: process.env.NEXT_PUBLIC_JOB_WORKER as string,
  liveSound: process.env.NEXT_PUBLIC_LIVE_SOUND_WORKER as string,
  reading: process.env.NEXT_PUBLIC_READING_WORKER as string,
};
