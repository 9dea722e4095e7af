'use client';

import { Segmented, Select } from 'antd';
import { PERIODIC_WAVES, type WaveId } from '@/core/analysis/time/periodic-waves';
import { QuantityInput } from '@/ui/quantity-input';
import { useDesign } from '@/store/document';
import { briefPeakVolts, defaultWaveHz } from '@/store/questions/axis';
import { setView, useView } from '@/store/view';
import styles from './curves.module.css';

const OPTIONS: { value: WaveId; label: string }[] = PERIODIC_WAVES.map(({ id, name }) => ({ value: id, label: name }));

/** Which wave is put through the circuit, how often, how high, and through what it discharges. */
export function WaveBar({ view }: { view: 'wave' | 'step' | 'four' }) {
  const wave = useView((s) => s.wave);
  const waveHz = useWaveHz();
  return (
    <div className={styles.waveBar}>
      {view !== 'step' && (
        <>
          <Select
            size="small"
            aria-label="Wave"
            value={wave}
            onChange={(id) => setView({ wave: id })}
            options={OPTIONS}
            popupMatchSelectWidth={false}
          />
          <QuantityInput
            label="frequency of the wave"
            hideLabel
            small
            kind="frequency"
            value={waveHz}
            min={0.001}
            max={1e8}
            onChange={(v) => v !== null && setView({ waveHz: v })}
            testId="wave-frequency"
          />
        </>
      )}
      <Volts offset={view !== 'four'} />
      {view === 'four' && <Discharge />}
      {view === 'wave' && <Axes />}
    </div>
  );
}

/** How high the wave or the step is, and what the source rests at where that counts. */
function Volts({ offset: withOffset }: { offset: boolean }) {
  const fallback = useDesign(briefPeakVolts);
  const peak = useView((s) => s.wavePeakVolts);
  const offset = useView((s) => s.waveOffsetVolts);
  return (
    <>
      <span className="quiet">peak</span>
      <QuantityInput
        label="peak at the source"
        hideLabel
        small
        kind="voltage"
        value={peak ?? fallback}
        min={1e-6}
        max={1e6}
        onChange={(v) => v !== null && setView({ wavePeakVolts: v === fallback ? null : v })}
        testId="wave-peak"
      />
      {withOffset && (
        <>
          <span className="quiet">offset</span>
          <QuantityInput
            label="offset at the source"
            hideLabel
            small
            kind="voltage"
            value={offset}
            min={-1e6}
            max={1e6}
            onChange={(v) => v !== null && setView({ waveOffsetVolts: v })}
            testId="wave-offset"
          />
        </>
      )}
    </>
  );
}

const AXES: { value: 'time' | 'xy'; label: string }[] = [
  { value: 'time', label: 'in time' },
  { value: 'xy', label: 'x-y' },
];

function Axes() {
  const axes = useView((s) => s.waveAxes);
  return (
    <Segmented
      size="small"
      aria-label="Axes of the wave"
      value={axes}
      options={AXES}
      onChange={(waveAxes) => setView({ waveAxes })}
    />
  );
}

function Discharge() {
  const dischargeOhm = useView((s) => s.dischargeOhm);
  return (
    <>
      <span className="quiet">discharge through</span>
      <QuantityInput
        label="discharge through"
        hideLabel
        small
        kind="resistance"
        series="E12"
        value={dischargeOhm}
        placeholder="the same"
        allowEmpty
        min={1}
        max={1e9}
        onChange={(v) => setView({ dischargeOhm: v })}
        testId="discharge"
      />
    </>
  );
}

/** The wave's frequency: the chosen one, or one that suits the path. */
export function useWaveHz(): number {
  const fallback = useDesign(defaultWaveHz);
  return useView((s) => s.waveHz) ?? fallback;
}
