'use client';

import { Button, Select } from 'antd';
import { memo } from 'react';
import { DeleteOutlined, PlusOutlined } from '@ant-design/icons';
import type { MaskLimit } from '@/core/design/document/schema';
import { upOf } from '@/core/filter/brief-mask';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { beginGesture, documentStore, edit, endGesture, useDesign } from '@/store/document';
import { currentWayOf } from '@/store/edits/edits';
import { addLimit, changeLimit, removeLimit } from '@/store/edits/record-edits';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import styles from './brief.module.css';

const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };

/** What must be kept and what must be lost, each with its verdict. */
export function Limits() {
  const mask = useDesign((d) => d.brief.mask);
  const add = (kind: MaskLimit['kind']) => {
    const { design } = documentStore.getState();
    const plan = design ? currentWayOf(design).plans.at(-1) : undefined;
    const low = plan?.response !== 'highpass';
    const corner = plan?.cutoffHz ?? 1000;
    const pass = kind === 'at-most';
    const octave = pass === low ? 0.5 : 2;
    edit(
      addLimit({
        kind,
        side: pass === low ? 'below' : 'above',
        freqHz: Number((corner * octave).toPrecision(2)),
        db: pass ? 1 : 24,
      }),
    );
  };
  return (
    <section className="panel" aria-label="What must be met">
      <header>
        <h2>What must be met</h2>
        <span>
          <Button size="small" type="text" icon={<PlusOutlined />} onClick={() => add('at-most')}>
            pass limit
          </Button>
          <Button size="small" type="text" icon={<PlusOutlined />} onClick={() => add('at-least')}>
            stop limit
          </Button>
        </span>
      </header>
      {mask.length === 0 && (
        <p className="quiet reason">
          No limits yet. A pass limit says how far the pass band may fall and rise, a stop limit how far the stop band
          must fall; both are drawn on the curves.
        </p>
      )}
      {mask.map((limit) => (
        <Limit key={limit.id} limit={limit} />
      ))}
    </section>
  );
}

const Limit = memo(function Limit({ limit }: { limit: MaskLimit }) {
  const change = (patch: Partial<MaskLimit>) => edit(changeLimit(limit.id, patch));
  return (
    <div className={styles.limitRow}>
      <span>{limit.kind === 'at-most' ? 'at most' : 'at least'}</span>
      <QuantityInput
        label="dB down"
        hideLabel
        small
        kind="decibel"
        step={1}
        min={0}
        max={200}
        value={limit.db}
        onChange={(v) => v !== null && change({ db: v })}
        {...gesture}
      />
      {limit.kind === 'at-most' ? (
        <>
          <span>down,</span>
          <QuantityInput
            label="dB up"
            hideLabel
            small
            kind="decibel"
            step={1}
            min={0}
            max={200}
            value={upOf(limit)}
            onChange={(v) => v !== null && change({ upDb: v === limit.db ? undefined : v })}
            {...gesture}
          />
          <span>up</span>
        </>
      ) : (
        <span>down</span>
      )}
      <span className={styles.limitPlace}>
        <Select
          size="small"
          aria-label="Side"
          value={limit.side}
          onChange={(side) => change({ side })}
          options={[
            { value: 'below', label: 'below' },
            { value: 'above', label: 'above' },
          ]}
        />
        <QuantityInput
          label="frequency"
          hideLabel
          small
          kind="frequency"
          min={Number.MIN_VALUE}
          max={1e9}
          value={limit.freqHz}
          onChange={(v) => v !== null && change({ freqHz: v })}
          {...gesture}
        />
        <Button
          size="small"
          type="text"
          icon={<DeleteOutlined />}
          aria-label="Remove this limit"
          onClick={() => edit(removeLimit(limit.id))}
        />
      </span>
      <Verdict limitId={limit.id} />
    </div>
  );
});

function Verdict({ limitId }: { limitId: string }) {
  const verdict = useAnswer(DESK, (d) => d.brief.find((v) => v.limitId === limitId));
  if (!verdict) return null;
  return (
    <span className={`verdict ${verdict.met ? 'live' : 'bad'}`} data-testid="brief-verdict">
      {verdict.met ? '✓ met' : '✗ missed'} by{' '}
      <span className="figures">{formatSigned(Math.abs(verdict.byDb), 'decibel').replace('+', '')}</span> at{' '}
      <span className="figures">{formatQuantity(verdict.atHz, 'frequency', { digits: 3 })}</span>
    </span>
  );
}
