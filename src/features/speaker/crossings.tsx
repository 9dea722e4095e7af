'use client';

import type { Overlap } from '@/core/jobs/loudspeaker/overlap';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';

const degrees = (v: number) => `${Math.round(v)}°`.replace('-', '−');

const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 2 });
const range = ({ fromHz, toHz }: Overlap) => `${hz(fromHz)} to ${hz(toHz)}`;

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
            <th className="number" title="the furthest from in step while each is within 10 dB of the other">
              over the overlap
            </th>
            <th className="number" title="group delay of the sum there">
              delay
            </th>
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
              <td className="number" title={`${range(c.overlap)}; the most at ${hz(c.overlap.worstHz)}`}>
                {degrees(c.overlap.worstDeg)}
              </td>
              <td className="number">{formatQuantity(c.delayS, 'time', { digits: 2 })}</td>
              <td className="number">{formatFixed(-c.nullDb, 0)}&#8239;dB</td>
            </tr>
          ))}
        </tbody>
      </table>
      {crossings.map((c) => (
        <p key={c.upper} className="reason quiet">
          By the alignment alone {c.upperName} {c.theoryTurned ? 'is turned over against' : 'stands like'} {c.lowerName}
          ; drivers and their places decide.{' '}
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
