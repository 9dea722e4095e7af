/**
 * A ladder from input to output: parts in line with the signal and parts from it to ground, alone, one behind the other
 * (`stack`) or side by side (`pair`), and followers. The same list is built and drawn.
 */
export type Arm =
  | { readonly to: 'line'; readonly parts: readonly string[] }
  | { readonly to: 'ground'; readonly parts: readonly string[]; readonly joined?: 'stack' | 'pair' }
  | { readonly to: 'follower'; readonly name: string };
