import type { Way } from '@/core/design/document/schema';

import {
  bankOfParts,
  bankWays,
  type BankSpec,
  type GivenStage,
  reaches,
  trimmedPart,
  type BankRow,
} from '@/core/design/making/bank';
import { currentWayIn } from '@/core/design/document/current-way';

import { newId } from '../new-id';
import { currentVariantOf, type Edit } from './edits';

/** Edits of a bank of filters: its bands, their trimmers, parts that were worked out for all of them. */

/** Makes the variant a bank of bands; what cannot be a bank changes nothing. */
export const makeBank =
  (spec: BankSpec): Edit =>
  (draft) => {
    const ways = bankWays(spec, newId);
    if (!ways.ok) return;
    const variant = currentVariantOf(draft);
    const at = variant.ways.indexOf(currentWayIn(variant));
    Object.assign(variant, {
      ways: ways.value,
      bank: spec,
      join: 'electrical',
      controls: [],
      currentWay: ways.value[Math.min(Math.max(0, at), ways.value.length - 1)].id,
    });
  };

/** A bank as a table of part values has it. */
export const takeBank =
  (given: readonly GivenStage[]): Edit =>
  (draft) => {
    const ways = bankOfParts(given, newId);
    if (ways.length === 0) return;
    const variant = currentVariantOf(draft);
    delete variant.bank;
    Object.assign(variant, { ways, join: 'electrical', controls: [], currentWay: ways[0].id });
  };

/** Sets every trimmer that reaches to what brings its stage home; what has none yet gets the proposed one. */
export const setTrimmers =
  (rows: readonly BankRow[]): Edit =>
  (draft) => {
    for (const { wayId, stageId, trim } of rows) {
      if (!trim || !reaches(trim)) continue;
      const way = currentVariantOf(draft).ways.find((w) => w.id === wayId);
      const stage = way?.stages.find((s) => s.id === stageId);
      if (stage)
        stage.parts[trim.part] = {
          ...stage.parts[trim.part],
          ...trimmedPart(trim.fixedOhm, trim.trimmerOhm, trim.settingOhm),
        };
    }
  };

/** Takes parts that were worked out for all ways at once. */
export const takeWays =
  (ways: readonly Way[]): Edit =>
  (draft) => {
    currentVariantOf(draft).ways = JSON.parse(JSON.stringify(ways)) as Way[];
  };
