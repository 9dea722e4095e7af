import type { Topology } from '../../topology/kit/define-topology';
import { withSupply, type Drawing } from '../../topology/kit/drawing';
import type { PartValues } from '../../topology/kit/part';

/** What a stage is drawn from. */
export const drawingOf = (topology: Topology, form: string, parts: PartValues): Drawing =>
  withSupply((topology as { drawing(form: string, parts: PartValues): Drawing }).drawing(form, parts));
