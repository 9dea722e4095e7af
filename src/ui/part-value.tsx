'use client';

import { PushpinFilled, PushpinOutlined } from '@ant-design/icons';
import type { DeskPart } from '@/core/jobs/desk/desk-types';
import { choiceValue } from '@/core/design/stages/stage-design';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { formatQuantity } from '@/core/units/quantity';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { choosePart } from '@/store/edits/part-edits';
import { currentWayOf } from '@/store/edits/edits';
import { QuantityInput } from './quantity-input';
import styles from './part-value.module.css';

/** The value that a part of the way in hand is built with: typed, stepped, held, or given back to be computed. */
export function PartValue({ stageId, part, called }: { stageId: string; part: DeskPart; called: string }) {
  const series = useDesign((d) =>
    part.kind === 'resistor' ? d.preferences.resistorSeries : d.preferences.capacitorSeries,
  );
  // What was decided is read from the document: the results are a moment behind the hand.
  const choice = useDesign((d) => currentWayOf(d).stages.find((s) => s.id === stageId)?.parts[part.name]);
  const decided = choice && choiceValue(choice, part.kind);
  const typed = decided !== undefined;
  const kind = PART_UNITS[part.kind];
  const held = choice?.control;
  if (part.given) return <span className="figures">{formatQuantity(part.chosen, kind, { bare: true })}</span>;
  if (held && held.kind !== 'wiper')
    return (
      <span
        className={`figures ${styles.onControl}`}
        data-testid={`use-${part.name}`}
        title={held.kind === 'switch' ? 'on a switch' : 'on a pot'}
      >
        {formatQuantity(part.chosen, kind, { bare: true, digits: 3 })} ↻
      </span>
    );
  return (
    <span className={styles.useCell}>
      <button
        type="button"
        className="plain pin"
        disabled={!typed}
        aria-pressed={choice?.pinned ?? false}
        aria-label={`Hold ${called} and compute the others around it`}
        title={typed ? 'hold this value and compute the others around it' : 'type a value to hold it'}
        onClick={() => edit(choosePart(stageId, part.name, { pinned: !choice?.pinned }))}
      >
        {choice?.pinned ? <PushpinFilled /> : <PushpinOutlined />}
      </button>
      <QuantityInput
        label={`${called}, value to use`}
        hideLabel
        small
        kind={kind}
        series={series}
        digits={4}
        value={decided ?? part.chosen}
        min={Number.MIN_VALUE}
        max={1e9}
        allowEmpty
        testId={`use-${part.name}`}
        onChange={(value) =>
          edit(
            choosePart(stageId, part.name, {
              use: value === null ? undefined : { kind: 'single', values: [value], typed: true },
            }),
          )
        }
        onPair={(joined, values) =>
          edit(choosePart(stageId, part.name, { use: { kind: joined, values: [...values], typed: true } }))
        }
        onGestureStart={beginGesture}
        onGestureEnd={endGesture}
      />
    </span>
  );
}
