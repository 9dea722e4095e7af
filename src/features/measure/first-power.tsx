'use client';

import { Button } from 'antd';
import { settingOf } from '@/core/design/document/setting';
import type { FirstPower as Power } from '@/core/jobs/measure/first-power';
import { formatQuantity, type QuantityKind } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { boardName, measuringStore, METER, readBoard, readingsOf, SUPPLY } from '@/store/measuring';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { useLongJob } from '@/store/questions/long-job';
import { clearReading, setReading } from '@/store/edits/record-edits';
import { useDesignJob } from '@/store/use-design-job';
import { Fold, LongList } from '@/ui/fold';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';
import styles from './measure.module.css';

/** A current from half to twice of what is expected is no fault: devices differ by so much. */
const USUAL_AMPS = 2;

/** One thing to be read: what is expected of it, and what was read. */
interface Line {
  readonly place: string;
  readonly name: string;
  readonly field: string;
  readonly kind: QuantityKind;
  readonly expected: string;
  readonly low: number;
  readonly high: number;
  readonly read: number | null;
}

/** How a reading lies to what is expected; null where it fits, or nothing was read. */
const offOf = ({ read, low, high }: Line): 'too high' | 'too low' | null =>
  read === null || (read >= low && read <= high) ? null : read > high ? 'too high' : 'too low';

function linesOf(
  power: Power,
  read: ReadonlyMap<string, number>,
  stageName: (id: string) => string | undefined,
): Line[] {
  const readAt = (place: string) => read.get(place) ?? null;
  const volts = power.expected.map(({ node, stageId, name, volts: v, withinVolts }): Line => ({
    place: node,
    name: [stageName(stageId), name].filter(Boolean).join(', '),
    field: `Volts at ${name}`,
    kind: 'voltage',
    expected:
      `${formatQuantity(v, 'voltage', { digits: 3 })} ± ` + formatQuantity(withinVolts, 'voltage', { digits: 2 }),
    low: v - withinVolts,
    high: v + withinVolts,
    read: readAt(node),
  }));
  const { supplyAmps } = power;
  if (supplyAmps === null) return volts;
  const current: Line = {
    place: SUPPLY,
    name: 'supply current',
    field: 'Supply current',
    kind: 'current',
    expected: formatQuantity(supplyAmps, 'current', { digits: 2 }),
    low: supplyAmps / USUAL_AMPS,
    high: supplyAmps * USUAL_AMPS,
    read: readAt(SUPPLY),
  };
  return [current, ...volts];
}

/** Before the first sound: what a meter should show, place by place, and what it does show. */
export function FirstPower() {
  const power = useDesignJob('first-power', {});
  const { board } = measuringStore();
  const variantId = useDesign((d) => currentVariantOf(d).id);
  const readings = useDesign((d) => d.readings);
  const stages = useAnswer(DESK, (d) => d.stages);
  if (!power) return null;
  const several = (stages?.length ?? 0) > 1;
  const lines = linesOf(
    power,
    new Map(readingsOf(readings, variantId, boardName(board)).map((r) => [r.place, r.value])),
    (id) => (several ? stages?.find((s) => s.id === id)?.name : undefined),
  );
  if (lines.length === 0) return null;
  const [read, off] = [lines.filter((l) => l.read !== null), lines.filter((l) => offOf(l) !== null)];
  const outcome =
    read.length === 0
      ? 'volts to expect before the first sound'
      : `${read.length} read, ${off.length === 0 ? 'all as expected' : `${off.length} off`}`;
  return (
    <Fold name="First power" title="First power" outcome={outcome} testId="first-power">
      <Lines lines={lines} from={power.from} />
      {off.length > 0 && (
        <p className="reason warn" role="status">
          Not as expected: {off.map((l) => l.name).join('; ')}. Power off. “Find what is wrong” takes these readings
          with all that was measured.
        </p>
      )}
    </Fold>
  );
}

function Lines({ lines, from }: { lines: readonly Line[]; from: Power['from'] }) {
  const { instrument, board, hidden } = measuringStore();
  const variant = useDesign(currentVariantOf);
  const meter = useLongJob(METER);
  const name = boardName(board);
  const take = (place: string, value: number | null) => {
    if (value === null) return edit(clearReading(place, name, variant.id));
    const at = new Date().toISOString();
    edit(setReading({ place, value, at, board: name, variant: variant.id, setting: settingOf(variant) }));
  };
  return (
    <>
      <p className="caution">
        Before power: devices and electrolytics the right way round, no short between the rails. First power from a
        supply that limits its current, or through 100&#8239;Ω; off at once if anything grows warm or draws too much.
      </p>
      <p className="reason quiet">
        No signal; a meter of 10&#8239;MΩ, its black lead on {from === 'ground' ? 'ground' : 'the supply’s minus'}. What
        is read is kept for {name}.
      </p>
      {instrument === 'workshop' && (
        <div className={styles.start}>
          <Button size="small" onClick={() => void readBoard(board, hidden)}>
            Read the simulated board
          </Button>
        </div>
      )}
      {meter.failure && (
        <p className="failure" role="alert">
          {failureWords(meter.failure)}
        </p>
      )}
      <LongList label="Volts at rest">
        <table className={`sheet ${styles.volts}`}>
          <thead>
            <tr>
              <th>at</th>
              <th className="number">expected</th>
              <th className="number">read</th>
              <th aria-label="verdict" />
            </tr>
          </thead>
          <tbody>
            {lines.map((line) => (
              <tr key={line.place}>
                <td>{line.name}</td>
                <td className="number">{line.expected}</td>
                <td className="number">
                  <QuantityInput
                    label={line.field}
                    hideLabel
                    small
                    allowEmpty
                    kind={line.kind}
                    digits={4}
                    value={line.read}
                    onChange={(v) => take(line.place, v)}
                  />
                </td>
                <td>{line.read !== null && (offOf(line) ? <b className="warn">{offOf(line)}</b> : 'fits')}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </LongList>
    </>
  );
}
