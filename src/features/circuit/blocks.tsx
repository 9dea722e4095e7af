import { Fragment } from 'react';
import type { TopologyBlock } from '@/core/topology/kit/define-topology';
import styles from './circuit.module.css';

/**
 * The circuit as blocks, in the order of the signal, the last led back to the first. Pointing at one lights its parts
 * and formulas, and the other way round.
 */
export function Blocks({
  blocks,
  lit,
  onPoint,
}: {
  blocks: readonly TopologyBlock[];
  lit: readonly string[];
  onPoint: (parts: readonly string[]) => void;
}) {
  return (
    <div className={styles.blocks} role="group" aria-label="Block diagram" data-testid="blocks">
      {blocks.map(({ name, says, parts }, i) => (
        <Fragment key={i}>
          <span className={styles.blockArrow} aria-hidden="true">
            →
          </span>
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
        </Fragment>
      ))}
      <span className={styles.blockArrow} aria-hidden="true">
        →
      </span>
      <span className={styles.blockBack} aria-hidden="true" />
    </div>
  );
}
