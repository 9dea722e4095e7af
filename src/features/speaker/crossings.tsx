'use client';

import type { Crossing } from '@/core/jobs/loudspeaker/acoustics-types';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';

const degrees = (v: number) => `${Math.round(v)}°`.replace('-', '−');

const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 2 });
/** How the two go along while each is within 10 dB of the other, and what the sum is delayed where they meet. */
const together = ({ overlap: { fromHz, toHz, worstDeg, worstHz }, delayS }: Crossing): string =>
  `They sound together from ${hz(fromHz)} to ${hz(toHz)}, at most ${degrees(worstDeg)} apart (at ${hz(worstHz)}); ` +
  `where they meet the sum is delayed by ${formatQuantity(delayS, 'time', { digits: 2 })}.`;

/** Where neighbours meet: as theory has it, and as they are. */
export function Crossings() {
  const crossings = useAnswer(ACOUSTICS, (a) => a.crossings);
  if (!crossings || crossings.length === 0) return null;
  return (
    <section className="panel" aria-label="Where ways meet" data-testid="crossings">
      <h2>Where ways meet</h2>
      <table className="sheet speaker-figures">
        <thead>
          <tr>
            <th>ways</th>
            <th className="number">at</th>
            <th className="number">under the sum</th>
            <th className="number">apart</th>
            <th className="number" title="how much deeper the sum dips with the upper turned over">
              reversed
            </th>
          </tr>
        </thead>
        <tbody>
          {crossings.map((c) => (
            <tr key={c.upper}>
              <td>
                {c.lowerName}, {c.upperName}
              </td>
              <td className="number">{formatQuantity(c.freqHz, 'frequency', { digits: 3 })}</td>
              <td className="number">{formatFixed(c.belowSumDb, 1)}&#8239;dB</td>
              <td className="number">{degrees(c.phaseDeg)}</td>
              <td className="number">{formatFixed(-c.nullDb, 0)}&#8239;dB</td>
            </tr>
          ))}
        </tbody>
      </table>
      {crossings.map((c) => (
        <p key={c.upper} className="reason quiet">
          By the alignment alone {c.upperName} {c.theoryTurned ? 'is turned over against' : 'stands like'} {c.lowerName}
          ; drivers and their places decide. {together(c)}{' '}
          {c.nullDb > 10
            ? 'Turned over, the sum dips deeply here: they are in step.'
            : c.nullDb < -3
              ? 'As they stand they take from one another: change one’s terminals over.'
              : 'They are between in step and opposed: the sum wants a look.'}
        </p>
      ))}
    </section>
  );
}
