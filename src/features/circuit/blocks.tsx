import type { TopologyBlock } from '@/core/topology/kit/define-topology';
import styles from './circuit.module.css';

interface Props {
  readonly blocks: readonly TopologyBlock[];
  /** Parts that the circuit has as it stands. */
  readonly present: ReadonlySet<string>;
  readonly lit: readonly string[];
  readonly onPoint: (parts: readonly string[]) => void;
}

/**
 * The circuit as blocks: the loop in the order of the signal and led back to its first, under it what is led back of
 * its middle, and after it what takes its outputs together. Pointing at one lights its parts and formulas, and the
 * other way round.
 */
export function Blocks({ blocks, present, lit, onPoint }: Props) {
  const shown = blocks
    .map((block) => ({ ...block, parts: block.parts.filter((part) => present.has(part)) }))
    .filter(({ parts }) => parts.length > 0);
  const of = (place: TopologyBlock['place']) => shown.filter((block) => block.place === place);
  const button = (block: TopologyBlock) => <Block key={block.says} block={block} lit={lit} onPoint={onPoint} />;
  return (
    <div className={styles.blocks} role="group" aria-label="Block diagram" data-testid="blocks">
      <div className={styles.blockLoop}>
        <div className={styles.blockRow}>
          {of(undefined).flatMap((block) => [arrow(`to ${block.says}`), button(block)])}
        </div>
        {of('back').map((block) => (
          <div
            key={block.says}
            className={`${styles.blockRow} ${styles.blockReturn}`}
            role="group"
            aria-label="Feedback"
          >
            {arrow('into', '↑ ←')}
            {button(block)}
            {arrow('from', '←')}
          </div>
        ))}
        <span className={styles.blockBack} aria-hidden="true" />
      </div>
      <div className={styles.blockRow}>
        {of('after').flatMap((block) => [arrow(`to ${block.says}`), button(block)])}
        {arrow('out')}
      </div>
    </div>
  );
}

const arrow = (key: string, sign = '→') => (
  <span key={key} className={styles.blockArrow} aria-hidden="true">
    {sign}
  </span>
);

function Block({
  block: { name, says, parts },
  lit,
  onPoint,
}: { block: TopologyBlock } & Pick<Props, 'lit' | 'onPoint'>) {
  return (
    <button
      type="button"
      className={`plain block${parts.some((p) => lit.includes(p)) ? ' lit' : ''}`}
      title={says}
      aria-label={`${name}: ${says} (${parts.join(', ')})`}
      onPointerEnter={() => onPoint(parts)}
      onPointerLeave={() => onPoint([])}
      onFocus={() => onPoint(parts)}
      onBlur={() => onPoint([])}
    >
      <b className="figures">{name}</b>
      <span>{parts.join(' ')}</span>
    </button>
  );
}
