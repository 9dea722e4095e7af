'use client';

import { Input, Select } from 'antd';
import { QuantityInput } from '@/ui/quantity-input';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { changeBrief } from '@/store/edits/record-edits';

const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };

/** What the circuit comes from and goes into, at what level and on what supply. */
export function Surroundings() {
  const brief = useDesign((d) => d.brief);
  const change = (patch: Partial<typeof brief>) => edit(changeBrief(patch));
  const { supply } = brief;
  return (
    <section className="panel" aria-label="Surroundings">
      <div className="field-row">
        <div className="field">
          <label htmlFor="source-name">from</label>
          <Input
            id="source-name"
            value={brief.source.name}
            maxLength={60}
            onChange={(e) => change({ source: { ...brief.source, name: e.target.value } })}
          />
        </div>
        <QuantityInput
          label="source resistance"
          kind="resistance"
          series="E12"
          value={brief.source.ohm}
          min={0}
          max={1e9}
          onChange={(v) => v !== null && change({ source: { ...brief.source, ohm: v } })}
          {...gesture}
        />
        <QuantityInput
          label="level, RMS"
          kind="voltage"
          value={brief.signalVolts}
          min={Number.MIN_VALUE}
          max={100}
          onChange={(v) => v !== null && change({ signalVolts: v })}
          {...gesture}
        />
      </div>
      <div className="field-row">
        <div className="field">
          <label htmlFor="load-name">into</label>
          <Input
            id="load-name"
            value={brief.load.name}
            title={brief.load.name}
            maxLength={60}
            onChange={(e) => change({ load: { ...brief.load, name: e.target.value } })}
          />
        </div>
        <QuantityInput
          label="load"
          kind="resistance"
          series="E12"
          value={brief.load.ohm}
          min={Number.MIN_VALUE}
          max={1e12}
          allowEmpty
          placeholder="open"
          onChange={(v) => change({ load: { ...brief.load, ohm: v } })}
          {...gesture}
          testId="load"
        />
        <div className="field">
          <span className="label">supply</span>
          <Select
            aria-label="Supply"
            value={supply.kind}
            onChange={(kind) =>
              change({
                supply:
                  kind === 'dual' ? { kind, volts: supply.volts } : { kind, volts: supply.volts, virtualGroundOhm: 10 },
              })
            }
            options={[
              { value: 'dual', label: 'dual' },
              { value: 'single', label: 'single' },
            ]}
          />
        </div>
        <QuantityInput
          label={supply.kind === 'dual' ? 'each rail' : 'volts'}
          kind="voltage"
          value={supply.volts}
          min={1}
          max={60}
          onChange={(v) => v !== null && change({ supply: { ...supply, volts: v } })}
          {...gesture}
        />
      </div>
      <div className="field">
        <label htmlFor="brief-note">in words</label>
        <Input.TextArea
          id="brief-note"
          autoSize={{ minRows: 2, maxRows: 5 }}
          maxLength={4000}
          value={brief.note}
          placeholder="What must pass, what must go, and why"
          onChange={(e) => change({ note: e.target.value })}
        />
      </div>
    </section>
  );
}
