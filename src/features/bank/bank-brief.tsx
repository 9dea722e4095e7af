'use client';

import { Checkbox, Select } from 'antd';
import { useState } from 'react';
import type { BankSpec } from '@/core/design/making/bank';
import { MOST_BANDS } from '@/core/filter/bank';
import { formatQuantity, formatSigned, parseQuantity } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { makeBank } from '@/store/edits/bank-edits';
import { BANK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';

const RULES: { value: BankSpec['rule']; label: string }[] = [
  { value: 'octave', label: 'octaves' },
  { value: 'two-thirds', label: 'two thirds' },
  { value: 'half', label: 'half octaves' },
  { value: 'third', label: 'thirds' },
  { value: 'free', label: 'free centres' },
];
const STAGES = [1, 2, 3].map((value) => ({ value, label: `${value} ${value === 1 ? 'stage' : 'stages'} a band` }));

/** What a bank is asked for; every change makes its bands anew. */
export function BankBrief() {
  const spec = useDesign((d) => currentVariantOf(d).bank);
  const bank = useAnswer(BANK);
  if (!spec) return null;
  const change = (patch: Partial<BankSpec>) => edit(makeBank({ ...spec, ...patch }));
  const makeUp = bank ? Math.max(...bank.bands.map((b) => b.makeUpDb)) : 0;
  return (
    <section className="panel" aria-label="Filter bank" data-testid="bank-brief">
      <header>
        <h2>Filter bank</h2>
        {bank && (
          <span className="quiet">
            peaks within{' '}
            <b className="figures" data-testid="bank-uneven">
              {formatQuantity(bank.unevenDb, 'decibel', { digits: 2 })}
            </b>
          </span>
        )}
      </header>
      <Rule spec={spec} change={change} />
      {spec.rule === 'free' && <Centres spec={spec} change={change} />}
      <div className="field-row">
        <div className="field wide">
          <span className="label">stages</span>
          <Select
            aria-label="Stages a band"
            value={spec.stages}
            options={STAGES}
            onChange={(stages) => change({ stages })}
          />
        </div>
        <QuantityInput
          label="ripple on top"
          kind="decibel"
          step={0.1}
          min={0.01}
          max={3}
          value={spec.flatnessDb}
          onChange={(v) => v !== null && change({ flatnessDb: v })}
          testId="bank-ripple"
        />
        <Checkbox checked={spec.ends} onChange={(e) => change({ ends: e.target.checked })}>
          low-pass and high-pass at the ends
        </Checkbox>
      </div>
      <p className="reason quiet">
        Neighbours meet where both are 3 dB down.{' '}
        {spec.stages > 1
          ? `Stages tuned apart lose up to ${formatSigned(makeUp, 'decibel', 1).replace('+', '')} on one ` +
            `another, which their gains make up.`
          : 'One stage a band: a plain resonance.'}{' '}
        The bands are fed alike, each by itself.
      </p>
    </section>
  );
}

interface Asked {
  readonly spec: BankSpec;
  readonly change: (patch: Partial<BankSpec>) => void;
}

/** By what rule the bands lie, from where, and how many. */
function Rule({ spec, change }: Asked) {
  return (
    <div className="field-row">
      <div className="field wide">
        <span className="label">bands by</span>
        <Select
          aria-label="Bands by"
          value={spec.rule}
          options={RULES}
          onChange={(rule) =>
            change(rule === 'free' && spec.centresHz.length < 2 ? { rule, centresHz: [100, 250, 630, 1600] } : { rule })
          }
        />
      </div>
      {spec.rule !== 'free' && (
        <QuantityInput
          label="lowest"
          kind="frequency"
          value={spec.firstHz}
          min={0.01}
          max={1e6}
          onChange={(v) => v !== null && change({ firstHz: v })}
          testId="bank-first"
        />
      )}
      {spec.rule !== 'free' && (
        <QuantityInput
          label="bands"
          kind="ratio"
          integer
          min={2}
          max={MOST_BANDS}
          value={spec.count}
          onChange={(v) => v !== null && change({ count: v })}
          testId="bank-count"
        />
      )}
    </div>
  );
}

/** Centres of one's own, in a line. */
function Centres({ spec, change }: Asked) {
  const [wrong, setWrong] = useState<string | null>(null);
  const free = (text: string) => {
    const parsed = text
      .split(/[;,\s]+/)
      .filter(Boolean)
      .map((t) => parseQuantity(t, 'frequency'));
    const centres = parsed.map((p) => (p.ok ? p.value : NaN));
    const bad =
      centres.length < 2 ||
      centres.length > MOST_BANDS ||
      centres.some((f, i) => !(f > 0) || (i > 0 && f <= centres[i - 1]));
    setWrong(
      bad
        ? `Between 2 and ${MOST_BANDS} rising frequencies are wanted, such as 100; 250; 1k. The old ones stay.`
        : null,
    );
    if (!bad) change({ centresHz: centres });
  };
  return (
    <>
      <div className="field">
        <label htmlFor="bank-centres">centres</label>
        <input
          id="bank-centres"
          key={spec.centresHz.join()}
          className="plain-input figures"
          defaultValue={spec.centresHz
            .map((f) => formatQuantity(f, 'frequency', { digits: 5, tight: true }).replace(/Hz$/, ''))
            .join('; ')}
          data-testid="bank-centres"
          onBlur={(e) => free(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && free(e.currentTarget.value)}
        />
      </div>
      {wrong && (
        <p role="alert" className="reason bad">
          {wrong}
        </p>
      )}
    </>
  );
}
