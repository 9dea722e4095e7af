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
        <SectionRow
          key={i}
          section={section}
          at={i}
          only={sections.length < 2}
          change={(patch) => change(i, patch)}
          remove={() => put(sections.filter((_, k) => k !== i))}
        />
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

interface SectionRowProps {
  readonly section: Sections[number];
  readonly at: number;
  readonly only: boolean;
  readonly change: (patch: object) => void;
  readonly remove: () => void;
}

function SectionRow({ section, at, only, change, remove }: SectionRowProps) {
  return (
    <div className="field-row" data-testid="own-section">
      <QuantityInput
        label="f / cutoff"
        kind="ratio"
        value={section.omega}
        min={1e-3}
        max={1e3}
        onChange={(v) => v !== null && change({ omega: v })}
        testId={`own-omega-${at}`}
      />
      {section.order === 2 ? (
        <>
          <QuantityInput
            label="Q"
            kind="ratio"
            value={section.q}
            min={0.01}
            max={200}
            onChange={(v) => v !== null && change({ q: v })}
            testId={`own-q-${at}`}
          />
          <QuantityInput
            label="null / cutoff"
            kind="ratio"
            allowEmpty
            placeholder="none"
            value={section.zero ?? null}
            min={1e-3}
            max={1e4}
            onChange={(v) => change({ zero: v ?? undefined })}
            testId={`own-zero-${at}`}
          />
        </>
      ) : (
        <span className={`quiet ${styles.ownSingle}`}>one real pole</span>
      )}
      <Button
        size="small"
        type="text"
        icon={<DeleteOutlined />}
        aria-label={`Remove section ${at + 1}`}
        disabled={only}
        onClick={remove}
      />
    </div>
  );
}
