/**
 * What the host lends a long job: a way to say how far it is (0 to 1) and what it would answer if it were stopped now,
 * to let others run, and to be told to stop.
 */
export interface JobContext {
  readonly progress: (share: number, soFar?: unknown) => void;
  readonly pause: () => Promise<void>;
  readonly signal: { readonly aborted: boolean };
  /** Milliseconds on a clock of the host's, for jobs that say how quick they were. */
  readonly now?: () => number;
}

export const RUN_THROUGH: JobContext = { progress: () => {}, pause: async () => {}, signal: { aborted: false } };
