'use client';

import { LongList } from '@/ui/fold';
import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { workingOf } from '@/core/jobs/desk/stage-facts';
import type { Topology } from '@/core/topology/kit/define-topology';
import { partsInFormula, withDesignators, withNumbers } from '@/core/topology/kit/working';
import { Formula } from '@/ui/formula';

const rightOf = (tex: string): string => (tex.includes('=') ? tex.slice(tex.lastIndexOf('=') + 1) : tex);

/** The formulas, typeset: with symbols, with the chosen parts' numbers in them, and what these come to. */
export function Working({
  topology,
  facts,
  lit,
  onPoint,
}: {
  topology: Topology;
  facts: DeskStage;
  lit: readonly string[];
  onPoint: (parts: readonly string[]) => void;
}) {
  const parts = facts.values;
  const lines = workingOf(topology, facts);
  return (
    <LongList label="Working" low>
      <table className="sheet working">
        <tbody>
          {lines.map(({ says, tex, value }) => {
            const numbers = withNumbers(tex, parts);
            const speaksOf = partsInFormula(tex);
            return (
              <tr
                key={`${says} ${tex}`}
                className={speaksOf.some((p) => lit.includes(p)) ? 'lit' : undefined}
                onPointerEnter={() => onPoint(speaksOf)}
                onPointerLeave={() => onPoint([])}
              >
                <td className="quiet">{says}</td>
                <td>
                  <Formula tex={withDesignators(tex, facts.designators)} />
                  {rightOf(numbers) !== rightOf(tex) && <Formula tex={`{} = ${rightOf(numbers)}`} />}
                </td>
                <td className="number">{value}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </LongList>
  );
}
