'use client';

import { Select } from 'antd';
import { PERIODIC_WAVES, type WaveId } from '@/core/analysis/periodic-waves';
import { QuantityInput } from '@/ui/quantity-input';
import { useDesign } from '@/store/document';
import { defaultWaveHz } from '@/store/questions/axis';
import { setView, useView } from '@/store/view';

const OPTIONS: { value: WaveId; label: string }[] = PERIODIC_WAVES.map(({ id, name }) => ({ value: id, label: name }));

/** Which wave is put through the circuit, how often, and through what it discharges. */
export function WaveBar({ discharge }: { discharge: boolean }) {
  const wave = useView((s) => s.wave);
  const dischargeOhm = useView((s) => s.dischargeOhm);
  const waveHz = useWaveHz();
  return (
    <div className="wave-bar">
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
      {discharge && (
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
      )}
    </div>
  );
}

/** The wave's frequency: the chosen one, or one that suits the path. */
export function useWaveHz(): number {
  const fallback = useDesign(defaultWaveHz);
  return useView((s) => s.waveHz) ?? fallback;
}
