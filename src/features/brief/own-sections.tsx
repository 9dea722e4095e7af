import { Button } from 'antd';
import { DeleteOutlined, PlusOutlined } from '@ant-design/icons';
import type { Plan } from '@/core/design/document/schema';
import { QuantityInput } from '@/ui/quantity-input';
import { edit } from '@/store/document';
import { setCustom } from '@/store/edits/plan-edits';
import styles from './brief.module.css';

type Sections = NonNullable<Plan['custom']>;
const HIGHEST_ORDER = 10;

/** Poles and zeros of the maker's own, a row for every section: where, how sharp, and its null. */
export function OwnSections({ planId, sections }: { planId: string; sections: Sections }) {
  const put = (next: Sections) => edit(setCustom(planId, next));
  const change = (at: number, patch: object) =>
    put(sections.map((section, i) => (i === at ? ({ ...section, ...patch } as Sections[number]) : section)));
  const order = sections.reduce((sum, s) => sum + s.order, 0);
  return (
    <div className={styles.ownSections} role="group" aria-label="Own poles and zeros">
      {sections.map((section, i) => (
        <div key={i} className="field-row" data-testid="own-section">
          <QuantityInput
            label="f / cutoff"
            kind="ratio"
            value={section.omega}
            min={1e-3}
            max={1e3}
            onChange={(v) => v !== null && change(i, { omega: v })}
            testId={`own-omega-${i}`}
          />
          {section.order === 2 ? (
            <>
              <QuantityInput
                label="Q"
                kind="ratio"
                value={section.q}
                min={0.01}
                max={200}
                onChange={(v) => v !== null && change(i, { q: v })}
                testId={`own-q-${i}`}
              />
              <QuantityInput
                label="null / cutoff"
                kind="ratio"
                allowEmpty
                placeholder="none"
                value={section.zero ?? null}
                min={1e-3}
                max={1e4}
                onChange={(v) => change(i, { zero: v ?? undefined })}
                testId={`own-zero-${i}`}
              />
            </>
          ) : (
            <span className={`quiet ${styles.ownSingle}`}>one real pole</span>
          )}
          <Button
            size="small"
            type="text"
            icon={<DeleteOutlined />}
            aria-label={`Remove section ${i + 1}`}
            disabled={sections.length < 2}
            onClick={() => put(sections.filter((_, k) => k !== i))}
          />
        </div>
      ))}
      <Button
        size="small"
        type="text"
        icon={<PlusOutlined />}
        disabled={order + 2 > HIGHEST_ORDER}
        onClick={() => put([...sections, { order: 2, omega: 1, q: Math.SQRT1_2 }])}
      >
        pair of poles
      </Button>
      <Button
        size="small"
        type="text"
        icon={<PlusOutlined />}
        disabled={order + 1 > HIGHEST_ORDER}
        onClick={() => put([...sections, { order: 1, omega: 1 }])}
      >
        real pole
      </Button>
    </div>
  );
}
