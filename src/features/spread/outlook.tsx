'use client';

import { Button } from 'antd';
import type { NullOutlook } from '@/core/jobs/values/nulls';
import { NULL_DEPTH_DB, worthwhileGrades, type YieldCriterion } from '@/core/jobs/values/yield';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { failureWords } from '@/ui/words/failures';
import { edit, useDesign } from '@/store/document';
import { changePreferences } from '@/store/edits/record-edits';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { cancelOutlook, NULLS, workOutlook, YIELD } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { useDesignators } from '@/store/use-designators';

/**
 * How deep the nulls will be and what to trim; which grade of parts meets the brief in how many builds, and what it
 * costs.
 */
export function Outlook({ seed, runs }: { seed: number; runs: number }) {
  const nulls = useLongJob(NULLS);
  const grades = useLongJob(YIELD);
  const running = nulls.running || grades.running;
  const failure = nulls.failure ?? grades.failure;
  return (
    <section className="panel" aria-label="Grades and nulls" data-testid="outlook">
      <header>
        <h2>Grades, and depth of nulls</h2>
        {running ? (
          <Button size="small" onClick={cancelOutlook}>
            Stop
          </Button>
        ) : (
          <Button size="small" onClick={() => workOutlook(seed, runs)}>
            Work it out
          </Button>
        )}
      </header>
      {running && (
        <p className="quiet" role="status">
          drawing parts of every grade …
        </p>
      )}
      {failure && (
        <p role="alert" className="reason bad">
          {failureWords(failure)}
        </p>
      )}
      <Nulls />
      <Grades />
    </section>
  );
}

function Nulls() {
  const nulls = useLongJob(NULLS).result?.value;
  const called = useDesignators();
  if (!nulls || nulls.length === 0) return null;
  return nulls.map((n) => (
    <p key={n.stageId} className="reason" data-testid="null-outlook">
      {nullWords(n, called)}
    </p>
  ));
}

function nullWords(
  { stageId, name, nullHz, markedDb, p05Db, p50Db, trims }: NullOutlook,
  called: (stageId: string, part: string) => string,
): string {
  const depth = (v: number) => formatSigned(v, 'decibel', 0);
  const [best] = trims;
  const second = trims.find((t) => t.part.startsWith('R') && t.part !== best?.part);
  const range = (t: NullOutlook['trims'][number]) =>
    `${called(stageId, t.part)} over ± ${formatFixed(t.rangePct, 1)}\u202f%`;
  const trim = best
    ? ` Trim ${range(best)}${!best.part.startsWith('R') && second ? `, or ${range(second)}` : ''}: that brings it ` +
      `back in nineteen builds of twenty.`
    : ' No single part brings it back: its depth is not a matter of matching.';
  return (
    `${name}, null at ${formatQuantity(nullHz, 'frequency', { digits: 4 })}: ${depth(p50Db)} in half the ` +
    `builds, not even ${depth(p05Db)} in one of twenty; ${depth(markedDb)} with parts as ` +
    `marked.${trim}` +
    (best ? ' Two equal parts in parallel or series make a truer double or half than one of another batch.' : '')
  );
}

const CRITERIA: Readonly<Record<YieldCriterion, string>> = {
  limits: 'meet the brief',
  'null-depth': `null ${NULL_DEPTH_DB} dB deep`,
  'within-1-db': 'within 1 dB',
};

function Grades() {
  const found = useLongJob(YIELD).result?.value;
  const now = useDesign((d) => d.preferences);
  const missed = useAnswer(DESK, (d) => d.brief.some((v) => !v.met)) ?? false;
  if (!found)
    return (
      <p className="reason quiet">
        Which tolerance meets the brief in how many builds, and at what price; for a notch, how deep it will be and
        which part to make adjustable.
      </p>
    );
  const worth = worthwhileGrades(found.grades);
  return (
    <>
      <table className="sheet" data-testid="grades">
        <thead>
          <tr>
            <th className="number">R ± %</th>
            <th className="number">C ± %</th>
            <th className="number">{CRITERIA[found.criterion]}</th>
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
                  <b>{Math.round(100 * g.share)}&#8239;%</b> ± {Math.max(1, Math.round(100 * g.shareWithin))}
                </td>
                <td className="number">× {formatFixed(g.costRatio, 1)}</td>
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
        Of {found.runs} builds of every grade; ± is where 19 of 20 such draws lie. Only grades that nothing cheaper
        equals. Costs as such grades typically go, against the cheapest.
      </p>
    </>
  );
}
