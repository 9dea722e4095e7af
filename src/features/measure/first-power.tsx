'use client';

import { Button } from 'antd';
import { useState } from 'react';
import type { ExpectedVolts, FirstPower as Power } from '@/core/jobs/measure/first-power';
import { settingOf } from '@/core/design/setting';
import { formatQuantity } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits';
import { boardName, measuringStore, METER, readBoard, readingsOf, SUPPLY } from '@/store/measuring';
import { DESK } from '@/store/questions/live';
import { useAnswerToRead } from '@/store/questions/question';
import { useLongJob } from '@/store/questions/long-job';
import { clearReading, setReading } from '@/store/record-edits';
import { useDesignJob } from '@/store/use-design-job';
import { Fold, LongList } from '@/ui/fold';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';
import styles from './measure.module.css';

/** A current from half to twice of what is expected is no fault: devices differ by so much. */
const USUAL_AMPS = 2;

/** Before the first sound: what a meter should show, place by place, and what it does show. */
export function FirstPower() {
  const power = useDesignJob('first-power', {});
  const { board } = measuringStore();
  const variantId = useDesign((d) => currentVariantOf(d).id);
  const readings = useDesign((d) => d.readings);
  if (!power || (power.expected.length === 0 && power.supplyAmps === null)) return null;
  const read = readingsOf(readings, variantId, boardName(board));
  const wrong = power.expected.filter((e) => {
    const own = read.find((r) => r.place === e.node);
    return own && Math.abs(own.value - e.volts) > e.withinVolts;
  });
  const outcome =
    read.length === 0
      ? 'volts to expect before the first sound'
      : `${read.length} read, ${wrong.length === 0 ? 'all as expected' : `${wrong.length} off`}`;
  return (
    <Fold name="First power" title="First power" outcome={outcome} testId="first-power">
      <Expected power={power} />
    </Fold>
  );
}

function Expected({ power }: { power: Power }) {
  const { instrument, board, hidden } = measuringStore();
  const design = useDesign((d) => d);
  const stages = useAnswerToRead(DESK, (d) => d.stages);
  const meter = useLongJob(METER);
  const [off, setOff] = useState<string | null>(null);
  const variant = currentVariantOf(design);
  const name = boardName(board);
  const read = new Map(readingsOf(design.readings, variant.id, name).map((r) => [r.place, r.value]));
  const take = (place: string, value: number | null) => {
    if (value === null) return edit(clearReading(place, name, variant.id));
    const at = new Date().toISOString();
    edit(setReading({ place, value, at, board: name, variant: variant.id, setting: settingOf(variant) }));
    const expected = power.expected.find((e) => e.node === place);
    setOff(expected && Math.abs(value - expected.volts) > expected.withinVolts ? expected.name : null);
  };
  const several = (stages?.length ?? 0) > 1;
  const stageOf = ({ stageId }: ExpectedVolts) => (several ? stages?.find((s) => s.id === stageId)?.name : undefined);
  return (
    <>
      <p className="caution">
        Before power: devices and electrolytics the right way round, no short between the rails. First power from a
        supply that limits its current, or through 100&#8239;Ω; off at once if anything grows warm or draws too much.
      </p>
      <p className="reason quiet">
        No signal; a meter of 10&#8239;MΩ, its black lead on {power.from === 'ground' ? 'ground' : 'the supply’s minus'}
        . What is read is kept for {name}.
      </p>
      {instrument === 'workshop' && power.expected.length > 0 && (
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
            {power.supplyAmps !== null && (
              <SupplyRow amps={power.supplyAmps} read={read.get(SUPPLY) ?? null} take={take} />
            )}
            {power.expected.map((e) => (
              <tr key={e.node}>
                <td>{[stageOf(e), e.name].filter(Boolean).join(', ')}</td>
                <td className="number">
                  {formatQuantity(e.volts, 'voltage', { digits: 3 })} ±{' '}
                  {formatQuantity(e.withinVolts, 'voltage', { digits: 2 })}
                </td>
                <td className="number">
                  <Reading
                    label={`Volts at ${e.name}`}
                    value={read.get(e.node) ?? null}
                    take={(v) => take(e.node, v)}
                  />
                </td>
                <td>{verdictOf(read.get(e.node), e.volts - e.withinVolts, e.volts + e.withinVolts)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </LongList>
      {off !== null && (
        <p className="reason warn" role="status">
          {off} is not as expected: power off. “Find what is wrong” takes these readings with all that was measured.
        </p>
      )}
    </>
  );
}

function SupplyRow({
  amps,
  read,
  take,
}: {
  amps: number;
  read: number | null;
  take: (place: string, value: number | null) => void;
}) {
  return (
    <tr>
      <td>supply current</td>
      <td className="number">{formatQuantity(amps, 'current', { digits: 2 })}</td>
      <td className="number">
        <QuantityInput
          label="Supply current"
          hideLabel
          small
          allowEmpty
          kind="current"
          value={read}
          onChange={(v) => take(SUPPLY, v)}
        />
      </td>
      <td>{verdictOf(read ?? undefined, amps / USUAL_AMPS, amps * USUAL_AMPS)}</td>
    </tr>
  );
}

function Reading({
  label,
  value,
  take,
}: {
  label: string;
  value: number | null;
  take: (value: number | null) => void;
}) {
  return (
    <QuantityInput label={label} hideLabel small allowEmpty kind="voltage" digits={4} value={value} onChange={take} />
  );
}

function verdictOf(value: number | undefined, low: number, high: number) {
  if (value === undefined) return null;
  return value >= low && value <= high ? (
    <span>fits</span>
  ) : (
    <b className="warn">{value > high ? 'too high' : 'too low'}</b>
  );
}
