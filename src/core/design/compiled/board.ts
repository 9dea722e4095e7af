/** One board as it was built, where it differs from its design. Parts by their element in the netlist, `stage.part`. */
export interface Board {
  /** Share of its chosen value that a part has. */
  readonly factors: ReadonlyMap<string, number>;
  /** Parts that are no part: a joint that does not conduct, or a bridge of solder. */
  readonly failed: ReadonlyMap<string, 'open' | 'short'>;
  /** Op-amps whose output rests at ground whatever their inputs do. */
  readonly dead: ReadonlySet<string>;
}

export const AS_DESIGNED: Board = { factors: new Map(), failed: new Map(), dead: new Set() };
