'use client';

import { formatQuantity } from '@/core/units/quantity';
import { DESK } from '@/store/questions/live';
import { useAnswerToRead } from '@/store/questions/question';
import { useDesignJob } from '@/store/use-design-job';

/** What a meter should show first, node by node, where anything rests on anything. */
export function FirstVolts() {
  const rest = useDesignJob('rest', {});
  const stages = useAnswerToRead(DESK, (d) => d.stages);
  if (!rest) return null;
  return (
    <>
      <h2>What to measure first</h2>
      <p className="reason quiet">
        No signal; the meter’s black lead on {rest.from === 'ground' ? 'ground' : 'the battery’s minus'}. More than a
        tenth off: power off, and look for a wrong resistor or a turned device.
      </p>
      <table className="sheet" data-testid="first-volts">
        <tbody>
          {rest.stages.flatMap((s) =>
            Object.entries(s.volts).map(([node, v]) => (
              <tr key={`${s.stageId} ${node}`}>
                <td>{stages?.find((x) => x.id === s.stageId)?.name}</td>
                <td>{node}</td>
                <td className="number">{formatQuantity(v, 'voltage', { digits: 3 })}</td>
                <td className="measured-here" />
              </tr>
            )),
          )}
        </tbody>
      </table>
    </>
  );
}
