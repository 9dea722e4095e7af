'use client';

import { AUDIO_BAND } from '@/core/math/grid';
import { ColumnWidthOutlined } from '@ant-design/icons';
import { Button, Popover } from 'antd';
import { useDesign } from '@/store/document';
import { HIGHEST_HZ, LEAST_RATIO, LOWEST_HZ, showRange } from '@/store/curves/frequency-range';
import { gridShown } from '@/store/questions/axis';
import { useView } from '@/store/view';
import { formatQuantity } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import styles from './range-field.module.css';

const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 3 });

/** The frequencies that the curves are shown over: read, and set. */
export function RangeField() {
  const range = useView((s) => s.range);
  const design = useDesign((d) => d);
  const { fromHz, toHz } = gridShown(design, { range });
  return (
    <Popover trigger="click" placement="bottomRight" content={<Fields fromHz={fromHz} toHz={toHz} />} destroyOnHidden>
      <button
        type="button"
        className={`plain figures ${styles.shown} ${range ? styles.set : ''}`}
        aria-label={`Frequencies shown: ${hz(fromHz)} to ${hz(toHz)}`}
        title="Frequencies shown. Wheel on the curves: zoom; with Shift: pan. A: audio band, W: all of the circuit"
      >
        <ColumnWidthOutlined aria-hidden /> {hz(fromHz)} – {hz(toHz)}
      </button>
    </Popover>
  );
}

function Fields({ fromHz, toHz }: { fromHz: number; toHz: number }) {
  return (
    <div className={styles.fields} role="group" aria-label="Frequencies shown">
      <QuantityInput
        label="from"
        kind="frequency"
        value={fromHz}
        min={LOWEST_HZ}
        max={toHz / LEAST_RATIO}
        onChange={(v) => v !== null && showRange({ fromHz: v, toHz })}
        testId="range-from"
      />
      <QuantityInput
        label="to"
        kind="frequency"
        value={toHz}
        min={fromHz * LEAST_RATIO}
        max={HIGHEST_HZ}
        onChange={(v) => v !== null && showRange({ fromHz, toHz: v })}
        testId="range-to"
      />
      <Button size="small" onClick={() => showRange(AUDIO_BAND)}>
        audio band
      </Button>
      <Button size="small" onClick={() => showRange(null)}>
        all of the circuit
      </Button>
    </div>
  );
}
