import { AcSolver } from '../analysis/ac/solver';
import type { Design } from '../design/document/schema';
import { runDesk } from '../jobs/desk/desk';
import type { DeskRequest, DeskResult } from '../jobs/desk/desk-types';
import { must } from '../result';

/** What the desk says of a design's current variant over the audio band, by a solver that has seen nothing before. */
export const deskOf = (design: Design, patch: Partial<DeskRequest> = {}): DeskResult =>
  must(
    runDesk(
      {
        kind: 'desk',
        design,
        variantId: design.currentVariant,
        ghostVariantId: null,
        grid: { fromHz: 20, toHz: 20e3, points: 101 },
        ...patch,
      },
      new AcSolver(),
    ),
  );
