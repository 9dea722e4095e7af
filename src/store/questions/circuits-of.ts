import { currentVariantOf } from '../edits/edits';
import type { Now } from './question';

/** Which circuits are on the desk, whatever their values: every stage with its circuit and form. */
export const circuitsOf = ({ design }: Now): string =>
  currentVariantOf(design)
    .ways.flatMap((w) => w.stages.map((s) => `${s.id} ${s.topology} ${s.mode} ${s.bypassed}`))
    .join();
