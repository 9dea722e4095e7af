'use client';

import { formatQuantity } from '@/core/units/quantity';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { useDesignJob } from '@/store/use-design-job';
import styles from './build.module.css';

/** What a meter should show first, place by place, with room to write down what it shows. */
export function FirstVolts() {
  const power = useDesignJob('first-power', {});
  const stages = useAnswer(DESK, (d) => d.stages);
  if (!power || power.expected.length === 0) return null;
  return (
    <>
      <h2>What to measure first</h2>
      <p className="reason quiet">
        No signal; the meter’s black lead on {power.from === 'ground' ? 'ground' : 'the supply’s minus'}. Further off
        than this: power off, and look for a wrong resistor or a turned device. Type what you read under Measure, First
        power.
      </p>
      <table className="sheet" data-testid="first-volts">
        <tbody>
          {power.supplyAmps !== null && (
            <tr>
              <td />
              <td>supply current</td>
              <td className="number">{formatQuantity(power.supplyAmps, 'current', { digits: 2 })}</td>
              <td className={styles.measuredHere} />
            </tr>
          )}
          {power.expected.map((e) => (
            <tr key={e.node}>
              <td>{stages?.find((x) => x.id === e.stageId)?.name}</td>
              <td>{e.name}</td>
              <td className="number">
                {formatQuantity(e.volts, 'voltage', { digits: 3 })} ±{' '}
                {formatQuantity(e.withinVolts, 'voltage', { digits: 2 })}
              </td>
              <td className={styles.measuredHere} />
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
