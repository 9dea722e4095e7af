'use client';

import { Button } from 'antd';
import { useState } from 'react';
import type { NullOutlook } from '@/core/jobs/values/nulls';
import { worthwhileGrades } from '@/core/jobs/values/yield';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import { failureWords } from '@/ui/words';
import { edit, useDesign } from '@/store/document';
import { changePreferences } from '@/store/record-edits';
import { cancelOutlook, runOutlook, useResults } from '@/store/results';

/**
 * How deep the nulls will be and what to trim; which grade of parts meets the brief in how many builds, and what it
 * costs.
 */
export function Outlook() {
  const running = useResults((s) => s.outlookRunning);
  const [wrong, setWrong] = useState<string | null>(null);
  const run = async () => {
    const failed = await runOutlook();
    setWrong(failed ? failureWords(failed) : null);
  };
  return (
    <section className="panel" aria-label="Grades and nulls" data-testid="outlook">
      <header>
        <h2>Grades, and depth of nulls</h2>
        {running ? (
          <Button size="small" onClick={cancelOutlook}>
            Stop
          </Button>
        ) : (
          <Button size="small" onClick={() => void run()}>
            Work it out
          </Button>
        )}
      </header>
      {running && (
        <p className="quiet" role="status">
          drawing parts of every grade …
        </p>
      )}
      {wrong && (
        <p role="alert" className="reason bad">
          {wrong}
        </p>
      )}
      <Nulls />
      <Grades />
    </section>
  );
}

function Nulls() {
  const nulls = useResults((s) => s.nulls);
  if (!nulls || nulls.length === 0) return null;
  return nulls.map((n) => (
    <p key={n.stageId} className="reason" data-testid="null-outlook">
      {nullWords(n)}
    </p>
  ));
}

function nullWords({ name, nullHz, markedDb, p05Db, p50Db, trims }: NullOutlook): string {
  const depth = (v: number) => formatSigned(v, 'decibel', 0);
  const [best] = trims;
  const second = trims.find((t) => t.part.startsWith('R') && t.part !== best?.part);
  const trim = best
    ? ` Trim ${best.part} over ± ${best.rangePct.toFixed(1)} %${!best.part.startsWith('R') && second ? `, or ${second.part} over ± ${second.rangePct.toFixed(1)} %` : ''}: that brings it back in nineteen builds of twenty.`
    : ' No single part brings it back: its depth is not a matter of matching.';
  return `${name}, null at ${formatQuantity(nullHz, 'frequency', { digits: 4 })}: ${depth(p50Db)} in half the builds, not even ${depth(p05Db)} in one of twenty; ${depth(markedDb)} with parts as marked.${trim}${best ? ' Two equal parts in parallel or series make a truer double or half than one of another batch.' : ''}`;
}

function Grades() {
  const grades = useResults((s) => s.grades);
  const now = useDesign((d) => d.preferences);
  const limits = useDesign((d) => d.brief.mask.length > 0);
  const missed = useResults((s) => s.deskToRead?.brief.some((v) => !v.met) ?? false);
  if (!grades)
    return (
      <p className="reason quiet">
        Which tolerance meets the brief in how many builds, and at what price; for a notch, how deep it will be and
        which part to make adjustable.
      </p>
    );
  const worth = worthwhileGrades(grades);
  return (
    <>
      <table className="sheet" data-testid="grades">
        <thead>
          <tr>
            <th className="number">R ± %</th>
            <th className="number">C ± %</th>
            <th className="number">{limits ? 'meet the brief' : 'within 1 dB'}</th>
            <th className="number">parts cost</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {worth.map((g) => {
            const current = g.resistorPct === now.resistorTolerancePct && g.capacitorPct === now.capacitorTolerancePct;
            return (
              <tr key={`${g.resistorPct} ${g.capacitorPct}`} className={current ? 'current' : undefined}>
                <td className="number">{g.resistorPct}</td>
                <td className="number">{g.capacitorPct}</td>
                <td className="number">
                  <b>{Math.round(100 * g.share)} %</b>
                </td>
                <td className="number">× {g.costRatio.toFixed(1)}</td>
                <td className="drop">
                  {!current && (
                    <Button
                      size="small"
                      aria-label={`Take resistors of ${g.resistorPct} % and capacitors of ${g.capacitorPct} %`}
                      onClick={() =>
                        edit(
                          changePreferences({
                            resistorTolerancePct: g.resistorPct,
                            capacitorTolerancePct: g.capacitorPct,
                          }),
                        )
                      }
                    >
                      Take
                    </Button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {missed && (
        <p className="reason warn">
          The values as chosen miss the brief by themselves, and no grade mends that: choose them together first, or
          from a finer series.
        </p>
      )}
      <p className="reason quiet">
        Only grades that nothing cheaper equals. Costs as such grades typically go, against the cheapest.
      </p>
    </>
  );
}
