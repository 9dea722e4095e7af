import { Checkbox, Segmented } from 'antd';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { useDesignators } from '@/store/use-designators';
import { QuantityInput } from '@/ui/quantity-input';
import type { FittedPart } from './fitted-parts';
import styles from './fit.module.css';

type Much = 'no' | 'some' | 'much';
type Counted = 'ways' | 'aside' | 'cost';
/** Ends that the maker sets; absent: the usual one. */
type Range = { readonly low?: number; readonly high?: number };

/** What may move, between which ends, and what counts. */
export interface FitWishes {
  readonly held: ReadonlySet<string>;
  readonly ranges: ReadonlyMap<string, Range>;
  readonly counts: Readonly<Record<Counted, Much>>;
  readonly holdLoad: boolean;
}
export const USUAL_FIT: FitWishes = {
  held: new Set(),
  ranges: new Map(),
  counts: { ways: 'some', aside: 'no', cost: 'no' },
  holdLoad: true,
};

const MUCH: { value: Much; label: string }[] = [
  { value: 'no', label: 'no' },
  { value: 'some', label: 'some' },
  { value: 'much', label: 'much' },
];
const COUNTED: readonly { key: Counted; label: string; weights: Readonly<Record<Much, number>> }[] = [
  { key: 'ways', label: 'each way’s slope', weights: { no: 0, some: 0.2, much: 0.6 } },
  { key: 'aside', label: '12° above and below', weights: { no: 0, some: 0.3, much: 1 } },
  { key: 'cost', label: 'price', weights: { no: 0, some: 0.3, much: 1 } },
];
export const weightsOf = ({ counts }: FitWishes): Record<Counted, number> =>
  Object.fromEntries(COUNTED.map(({ key, weights }) => [key, weights[counts[key]]])) as Record<Counted, number>;

export function FitSettings({
  parts,
  wishes,
  change,
}: {
  parts: readonly FittedPart[];
  wishes: FitWishes;
  change: (wishes: FitWishes) => void;
}) {
  const stages = [...new Map(parts.map((p) => [p.stage, `${p.way}: ${p.stageName}`]))];
  return (
    <details>
      <summary>what may move, and what counts</summary>
      {stages.map(([stage, name]) => (
        <div key={stage} className={styles.stage} role="group" aria-label={name}>
          <span className="quiet">{name}</span>
          {parts
            .filter((p) => p.stage === stage)
            .map((part) => (
              <PartRange key={part.key} part={part} wishes={wishes} change={change} />
            ))}
        </div>
      ))}
      <div className="field-row">
        {COUNTED.map(({ key, label }) => (
          <div key={key} className="field">
            <span className="label">{label}</span>
            <Segmented
              size="small"
              aria-label={`How much counts: ${label}`}
              value={wishes.counts[key]}
              options={MUCH}
              onChange={(much) => change({ ...wishes, counts: { ...wishes.counts, [key]: much } })}
            />
          </div>
        ))}
        <Checkbox checked={wishes.holdLoad} onChange={(e) => change({ ...wishes, holdLoad: e.target.checked })}>
          never under the least load
        </Checkbox>
      </div>
    </details>
  );
}

/** Whether a part moves, and between which ends. */
function PartRange({
  part,
  wishes,
  change,
}: {
  part: FittedPart;
  wishes: FitWishes;
  change: (wishes: FitWishes) => void;
}) {
  const called = useDesignators();
  const name = called(part.stage, part.part);
  const { held, ranges } = wishes;
  const range: Range = ranges.get(part.key) ?? {};
  const move = (moves: boolean) => {
    const next = new Set(held);
    if (moves) next.delete(part.key);
    else next.add(part.key);
    change({ ...wishes, held: next });
  };
  const limit = (end: 'low' | 'high', value: number | null) => {
    const { [end]: _, ...rest } = range;
    change({ ...wishes, ranges: new Map(ranges).set(part.key, value === null ? rest : { ...rest, [end]: value }) });
  };
  return (
    <div className={styles.part}>
      <Checkbox checked={!held.has(part.key)} onChange={(e) => move(e.target.checked)}>
        {name}
      </Checkbox>
      {!held.has(part.key) &&
        (['low', 'high'] as const).map((end) => (
          <QuantityInput
            key={end}
            label={`${name}, ${end === 'low' ? 'at least' : 'at most'}`}
            hideLabel
            small
            allowEmpty
            placeholder={end === 'low' ? 'from' : 'to'}
            kind={PART_UNITS[part.kind]}
            value={range[end] ?? null}
            min={end === 'high' ? (range.low ?? 1e-12) : 1e-12}
            max={end === 'low' ? (range.high ?? 1e6) : 1e6}
            onChange={(value) => limit(end, value)}
          />
        ))}
    </div>
  );
}
