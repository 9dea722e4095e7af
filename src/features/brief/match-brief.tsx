import { Button } from 'antd';
import { useEffect, useState } from 'react';
import type { Match } from '@/core/jobs/desk/match';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { failureWords } from '@/ui/words/failures';
import { PLAN_NAMES } from '@/core/filter/response-names';
import { edit, useDesign } from '@/store/document';
import { takePlan } from '@/store/edits/plan-edits';
import { coarseGrid, MATCH } from '@/store/questions/by-hand';
import { useLongJob } from '@/store/questions/long-job';
import { setView, useView } from '@/store/view';

type Key = 'order' | 'margin' | 'parts' | 'q' | 'delay' | 'real';
const HEADS: { key: Key; label: string; title: string }[] = [
  { key: 'order', label: 'order', title: 'number of poles' },
  { key: 'margin', label: 'margin', title: 'at the tightest limit, exact values, dB' },
  { key: 'parts', label: 'parts', title: 'parts, and op-amps' },
  { key: 'q', label: 'Q', title: 'of the sharpest stage' },
  { key: 'delay', label: 'delay ±', title: 'how unlike the delays in the pass band are' },
  { key: 'real', label: 'real parts', title: 'margin at the tightest limit with the parts and op-amps chosen, dB' },
];
const rank = (m: Match, key: Key): number => {
  if (key === 'order') return m.plan.order;
  if (key === 'margin') return -m.marginDb;
  if (key === 'q') return m.worstQ;
  if (key === 'delay') return m.delayRippleS;
  if ('ok' in m.figures) return Infinity;
  return key === 'parts' ? m.figures.partCount : -(m.figures.realMarginDb ?? -Infinity);
};

/**
 * The smallest order of every alignment that meets the brief, to pick from, ranked by what matters, its curves laid
 * over one another.
 */
export function MatchBrief() {
  const mask = useDesign((d) => d.brief.mask);
  const { result, failure, running } = useLongJob(MATCH);
  const matches = result?.value ?? null;
  // Other limits have other answers; the curves go when the panel does.
  useEffect(() => MATCH.forget, [mask]);
  if (mask.length === 0) return null;
  return (
    <section className="panel" aria-label="What would meet it" data-testid="matches">
      <header>
        <h2>What would meet it</h2>
        {matches ? (
          <Button size="small" type="text" onClick={MATCH.forget}>
            Put away
          </Button>
        ) : (
          <Button size="small" loading={running} onClick={() => void MATCH.run({ grid: coarseGrid() })}>
            Match this brief
          </Button>
        )}
      </header>
      {failure && (
        <p role="alert" className="reason bad">
          {failureWords(failure)}
        </p>
      )}
      {!matches && !failure && (
        <p className="reason quiet">The smallest order of every alignment that meets these limits, side by side.</p>
      )}
      {matches?.matches.length === 0 && (
        <p className="reason">No alignment meets this up to order ten. Move the limits apart, or allow more loss.</p>
      )}
      {matches && matches.matches.length > 0 && <MatchTable matches={matches.matches} />}
    </section>
  );
}

/** All that meet it, in the order of what matters. */
function MatchTable({ matches }: { matches: readonly Match[] }) {
  const [by, setBy] = useState<Key>('parts');
  const ordered = matches
    .map((match, index) => ({ match, index }))
    .sort((a, b) => rank(a.match, by) - rank(b.match, by) || rank(a.match, 'order') - rank(b.match, 'order'));
  return (
    <table className="sheet matches">
      <thead>
        <tr>
          <th>alignment</th>
          {HEADS.map(({ key, label, title }) => (
            <th key={key} className="number" title={title} aria-sort={by === key ? 'ascending' : undefined}>
              <button type="button" className="link" onClick={() => setBy(key)}>
                {by === key ? `${label} ↓` : label}
              </button>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {ordered.map(({ match, index }) => (
          <MatchRow key={match.plan.alignment} match={match} index={index} />
        ))}
      </tbody>
    </table>
  );
}

function take(match: Match): void {
  edit(takePlan(match.plan));
  setView({ selectedStage: null, pointedMatch: null });
  MATCH.forget();
}

const point = (pointedMatch: number | null) => () => setView({ pointedMatch });

function MatchRow({ match, index }: { match: Match; index: number }) {
  const pointed = useView((s) => s.pointedMatch === index);
  const { plan, figures, name } = match;
  const cutoff = formatQuantity(plan.cutoffHz, 'frequency', { digits: 3 });
  return (
    <tr className={pointed ? 'lit' : undefined} onPointerEnter={point(index)} onPointerLeave={point(null)}>
      <td>
        <button
          type="button"
          className="link"
          title={`${PLAN_NAMES[plan.response]} at ${cutoff}`}
          onFocus={point(index)}
          onBlur={point(null)}
          onClick={() => take(match)}
        >
          {name}
        </button>
      </td>
      <td className="number">{plan.order}</td>
      <td className="number">{formatSigned(match.marginDb, 'ratio', 2)}</td>
      <td className="number">{'ok' in figures ? '–' : `${figures.partCount} + ${figures.opAmps}`}</td>
      <td className="number">{formatFixed(match.worstQ, 2)}</td>
      <td className="number">{formatQuantity(match.delayRippleS, 'time', { digits: 2 })}</td>
      <td className={`number${'ok' in figures || (figures.realMarginDb ?? -1) >= 0 ? '' : ' bad'}`}>
        {'ok' in figures
          ? '–'
          : figures.realMarginDb === null
            ? 'oscillates'
            : formatSigned(figures.realMarginDb, 'ratio', 2)}
      </td>
    </tr>
  );
}
