'use client';

import { useState } from 'react';
import type { Check } from '@/core/jobs/desk/desk-types';
import { checkWords } from '@/ui/words/checks';
import { CureButton } from '@/ui/cure-button';
import { ACOUSTICS, DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { useDesignators } from '@/store/use-designators';

const SIGN: Record<Check['level'], string> = { ok: '✓', warn: '!', bad: '✗' };
const SAYS: Record<Check['level'], string> = { ok: 'Fine:', warn: 'Look at this:', bad: 'Trouble:' };
const ORDER: Record<Check['level'], number> = { bad: 0, warn: 1, ok: 2 };

/** What a colleague would say looking over the shoulder: sentences with numbers, worst first. */
export function Checks() {
  const own = useAnswer(DESK, (d) => d.checks);
  const heard = useAnswer(ACOUSTICS, (a) => a.checks);
  const checks = own && [...(heard ?? []), ...own];
  const [all, setAll] = useState(false);
  const called = useDesignators();
  /** With its part called as it is everywhere. */
  const inFull = (check: Check): Check =>
    check.stageId !== null && typeof check.data.part === 'string'
      ? { ...check, data: { ...check.data, part: called(check.stageId, check.data.part) } }
      : check;
  if (!checks) return null;
  const sorted = [...checks].sort((a, b) => ORDER[a.level] - ORDER[b.level]);
  const trouble = sorted.filter((c) => c.level !== 'ok');
  const shown = all
    ? sorted
    : [...trouble, ...sorted.filter((c) => c.level === 'ok' && (c.id.startsWith('brief') || c.cure !== null))];
  return (
    <section className="panel" aria-label="Checks">
      <header>
        <h2>Checks</h2>
        <button type="button" className="link" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? 'only what matters' : `all ${checks.length}`}
        </button>
      </header>
      <ul className="checks" data-testid="checks">
        {shown.map((check) => (
          <li key={check.id} className={check.level}>
            <span className="sign" aria-hidden="true">
              {SIGN[check.level]}
            </span>
            <span>
              <span className="only-read-aloud">{SAYS[check.level]} </span>
              {checkWords(inFull(check)).text} <CureButton check={check} />
            </span>
          </li>
        ))}
        {trouble.length === 0 && (
          <li className="ok">
            <span className="sign" aria-hidden="true">
              ✓
            </span>
            <span>Nothing stands in the way of building it.</span>
          </li>
        )}
      </ul>
    </section>
  );
}
