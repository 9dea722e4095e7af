'use client';

import { Input, Select } from 'antd';
import type { Brief } from '@/core/design/document/schema';
import { singleSupply } from '@/core/design/making/single-supply';
import { QuantityInput } from '@/ui/quantity-input';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { changeBrief } from '@/store/edits/record-edits';

const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };
const change = (patch: Partial<Brief>): void => edit(changeBrief(patch));

/** What the circuit comes from and goes into, at what level and on what supply. */
export function Surroundings() {
  const note = useDesign((d) => d.brief.note);
  return (
    <section className="panel" aria-label="Surroundings">
      <div className="field-row">
        <Source />
      </div>
      <div className="field-row">
        <Load />
        <Supply />
      </div>
      <div className="field">
        <label htmlFor="brief-note">in words</label>
        <Input.TextArea
          id="brief-note"
          autoSize={{ minRows: 2, maxRows: 5 }}
          maxLength={4000}
          value={note}
          placeholder="What must pass, what must go, and why"
          onChange={(e) => change({ note: e.target.value })}
        />
      </div>
    </section>
  );
}

function Source() {
  const { source, signalVolts } = useDesign((d) => d.brief);
  return (
    <>
      <div className="field">
        <label htmlFor="source-name">from</label>
        <Input
          id="source-name"
          value={source.name}
          maxLength={60}
          onChange={(e) => change({ source: { ...source, name: e.target.value } })}
        />
      </div>
      <QuantityInput
        label="source resistance"
        kind="resistance"
        series="E12"
        value={source.ohm}
        min={0}
        max={1e9}
        onChange={(v) => v !== null && change({ source: { ...source, ohm: v } })}
        {...gesture}
      />
      <QuantityInput
        label="level, RMS"
        kind="voltage"
        value={signalVolts}
        min={Number.MIN_VALUE}
        max={100}
        onChange={(v) => v !== null && change({ signalVolts: v })}
        {...gesture}
      />
    </>
  );
}

function Load() {
  const load = useDesign((d) => d.brief.load);
  return (
    <>
      <div className="field">
        <label htmlFor="load-name">into</label>
        <Input
          id="load-name"
          value={load.name}
          title={load.name}
          maxLength={60}
          onChange={(e) => change({ load: { ...load, name: e.target.value } })}
        />
      </div>
      <QuantityInput
        label="load"
        kind="resistance"
        series="E12"
        value={load.ohm}
        min={Number.MIN_VALUE}
        max={1e12}
        allowEmpty
        placeholder="open"
        onChange={(v) => change({ load: { ...load, ohm: v } })}
        {...gesture}
        testId="load"
      />
    </>
  );
}

function Supply() {
  const supply = useDesign((d) => d.brief.supply);
  const { volts } = supply;
  return (
    <>
      <div className="field">
        <span className="label">supply</span>
        <Select
          aria-label="Supply"
          value={supply.kind}
          onChange={(kind) => change({ supply: kind === 'dual' ? { kind, volts } : singleSupply(volts) })}
          options={[
            { value: 'dual', label: 'dual' },
            { value: 'single', label: 'single' },
          ]}
        />
      </div>
      <QuantityInput
        label={supply.kind === 'dual' ? 'each rail' : 'volts'}
        kind="voltage"
        value={volts}
        min={1}
        max={60}
        onChange={(v) => v !== null && change({ supply: { ...supply, volts: v } })}
        {...gesture}
      />
    </>
  );
}
