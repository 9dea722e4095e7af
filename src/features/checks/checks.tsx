'use client';

import { useState } from 'react';
import type { Check } from '@/core/jobs/desk/desk-types';
import { checkWords } from '@/ui/words';
import { CureButton } from '@/ui/cure-button';
import { useResults } from '@/store/results';

const SIGN: Record<Check['level'], string> = { ok: '✓', warn: '!', bad: '✗' };
const SAYS: Record<Check['level'], string> = { ok: 'Fine:', warn: 'Look at this:', bad: 'Trouble:' };
const ORDER: Record<Check['level'], number> = { bad: 0, warn: 1, ok: 2 };

/** What a colleague would say looking over the shoulder: sentences with numbers, worst first. */
export function Checks() {
  const own = useResults((s) => s.deskToRead?.checks);
  const heard = useResults((s) => s.acoustics?.checks);
  const checks = own && [...(heard ?? []), ...own];
  const [all, setAll] = useState(false);
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
              {checkWords(check).text} <CureButton check={check} />
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
