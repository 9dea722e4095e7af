'use client';

import type { Shaping as ShapingFacts, Shelf } from '@/core/jobs/network/shaping';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { SHAPING } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { Nuisances } from './nuisances';
import { TheOtherWay } from './the-other-way';
import { db, hz } from './shaping-figures';

const volts = (v: number) => formatQuantity(v, 'voltage', { digits: 2 });

/**
 * Shaping an amplifier with a capacitor: its shelves by rule and exactly, what there is to gain, the question the other
 * way round, and what it does to nuisances.
 */
export function Shaping({ stageId }: { stageId: string }) {
  const shaping = useAnswer(SHAPING);
  if (shaping?.stageId !== stageId) return null;
  return (
    <>
      <section className="panel" aria-label="Shelves">
        <h2>Where it falls, and where it stops falling</h2>
        {shaping.shelves.length > 0 ? (
          <Shelves shaping={shaping} />
        ) : (
          <p className="reason quiet">No capacitor shapes it: choose a form that takes its top, its bottom or both.</p>
        )}
        <p className="reason">{worthWords(shaping)}</p>
        <p className="reason">{topWords(shaping)}</p>
        {shaping.offset && <p className="reason">{offsetWords(shaping.offset)}</p>}
      </section>
      <TheOtherWay stageId={stageId} shaping={shaping} />
      <Nuisances />
    </>
  );
}

const EDGES: Record<Shelf['edge'], string> = { top: 'top', bottom: 'bottom' };

function Shelves({ shaping: { shelves } }: { shaping: ShapingFacts }) {
  return (
    <table className="sheet parts" data-testid="shelves">
      <thead>
        <tr>
          <th>edge</th>
          <th className="number">falls from</th>
          <th className="number" title="where it levels off, by the rule of thumb">
            to, rule
          </th>
          <th className="number" title="where it levels off">
            exactly
          </th>
          <th className="number">rule off</th>
          <th className="number" title="where the level is 3 dB above the shelf’s floor">
            floor + 3 dB
          </th>
        </tr>
      </thead>
      <tbody>
        {shelves.map(({ edge, fallsHz, levels }) => (
          <tr key={edge}>
            <td>{EDGES[edge]}</td>
            <td className="number">{hz(fallsHz)}</td>
            {levels ? (
              <>
                <td className="number">{hz(levels.ruleHz)}</td>
                <td className="number">
                  <b>{hz(levels.exactHz)}</b>
                </td>
                <td className={`number${Math.abs(levels.errorPct) > 5 ? ' warn' : ''}`}>
                  {formatSigned(levels.errorPct, 'percent', 1)}
                </td>
                <td className="number">{hz(levels.threeAboveHz)}</td>
              </>
            ) : (
              <td className="number" colSpan={4}>
                falls on, past gain one
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function worthWords({ gainDb, inverting, ruleGoodFrom, noiseGain }: ShapingFacts): string {
  if (inverting) return `From ${db(gainDb)} it falls as far as you like: inverting, it has no shelf.`;
  const rule =
    noiseGain >= ruleGoodFrom
      ? `With a gain of ${formatFixed(noiseGain, 1)} the rule of thumb is good to five per cent.`
      : `The rule of thumb is good to five per cent from a gain of ${ruleGoodFrom} on; here, with ` +
        `${formatFixed(noiseGain, 1)}, take the exact corner.`;
  const worth =
    gainDb < 12
      ? ` There is little to take away: at most ${db(gainDb)}.`
      : ` At most ${db(gainDb)} can be taken away: the shelf’s floor is gain one.`;
  return rule + worth;
}

const topWords = ({ ownTopHz, noiseGain }: ShapingFacts): string =>
  ownTopHz === null
    ? 'An ideal op-amp has no top of its own.'
    : `The op-amp’s own top: gain-bandwidth over noise gain ${formatFixed(noiseGain, 1)}, ${hz(ownTopHz)}.`;

function offsetWords({ volts: now, withoutBottomVolts, biasVolts }: NonNullable<ShapingFacts['offset']>): string {
  const cure =
    now < withoutBottomVolts
      ? `Ci keeps it so: without, it would be ${volts(withoutBottomVolts)}.`
      : 'A capacitor in series with Ri would bring its gain for DC down to one.';
  return (
    `Offset at the output: typically ${volts(now)} from the op-amp, ` +
    `${volts(biasVolts)} from its bias current through Rf. ${cure}`
  );
}
