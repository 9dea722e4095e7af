'use client';

import { calledIn } from '@/core/design/stages/designators';
import { Segmented, Select } from 'antd';
import type { ComponentType } from 'react';
import type { Batch, Control, PartControl } from '@/core/design/document/schema';
import type { DeskPart, DeskStage } from '@/core/jobs/desk/desk-types';
import { nearestPreferred } from '@/core/parts/preferred';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { formatQuantity, parseQuantity } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { edit, useDesign } from '@/store/document';
import { changeBatch, trackPart } from '@/store/edits/part-edits';
import { currentVariantOf, currentWayOf } from '@/store/edits/edits';
import { setJackRange } from '@/store/edits/chain-edits';
import { changeHeld, holdPart, releasePart, setControl } from '@/store/edits/network-edits';
import { setView, useView } from '@/store/view';
import { TaperField } from './taper-field';
import styles from './values.module.css';

type HeldAs = 'fixed' | 'pot' | 'switch';
const WAYS: { value: HeldAs; label: string }[] = [
  { value: 'fixed', label: 'fixed' },
  { value: 'pot', label: 'on a pot' },
  { value: 'switch', label: 'on a switch' },
];
const NEW = 'new';
/** A pot starts with this reach below and above the value it stands in for. */
const REACH = 10;

/** The part taken in hand: what it does, and what turns it. */
export function PartInHand({ facts }: { facts: DeskStage }) {
  const name = useView((s) => s.selectedPart);
  const part = facts.parts.find((p) => p.name === name);
  const held = useDesign((d) => currentWayOf(d).stages.find((s) => s.id === facts.id)?.parts[name ?? '']?.control);
  if (!part)
    return (
      <p className="reason quiet">
        Take a part in hand by its name: a resistor can go on a pot or a switch, and a calculator’s result can be
        dropped into it.
      </p>
    );
  const called = calledIn(facts, part.name);
  const as: HeldAs = held?.kind === 'switch' ? 'switch' : held ? 'pot' : 'fixed';
  const turn = (next: HeldAs) => {
    setView({ turnedControl: null });
    if (next === 'fixed') edit(releasePart(facts.id, part.name));
    else
      edit(
        holdPart(
          facts.id,
          part.name,
          next === 'pot'
            ? potAround(part.chosen, part.potReach ?? REACH)
            : { kind: 'switch', ohms: [0.5, 1, 2].map((k) => nearestPreferred(k * part.exact, 'E12')) },
          undefined,
          part.chosen,
        ),
      );
  };
  return (
    <div className={styles.inHandPanel} role="group" aria-label={`${called} in hand`} data-testid="part-in-hand">
      <div className={styles.inHandTop}>
        <b>{called}</b>{' '}
        <span className="quiet">
          {part.role}, {formatQuantity(part.chosen, PART_UNITS[part.kind])}
        </span>
        {part.kind === 'resistor' && !part.given && (
          <Segmented size="small" aria-label={`What holds ${called}`} value={as} options={WAYS} onChange={turn} />
        )}
      </div>
      {!part.given && <Tracks stageId={facts.id} part={part} called={called} />}
      {held && <HeldFields stageId={facts.id} part={part} held={held} />}
    </div>
  );
}

const ALONE = 'alone';

/**
 * Which batch the part comes from: parts of one batch drift and differ together, and only by so much among themselves.
 */
function Tracks({ stageId, part, called }: { stageId: string; part: DeskPart; called: string }) {
  const batches = useDesign((d) => currentVariantOf(d).batches) ?? NO_BATCHES;
  const own = batches.find((b) => b.parts.some((p) => p.stage === stageId && p.part === part.name));
  const options = [
    { value: ALONE, label: 'on its own' },
    ...batches.map((b) => ({
      value: b.id,
      label: `${b.name}, ${b.parts.length} ${b.parts.length === 1 ? 'part' : 'parts'}`,
    })),
    { value: 'new', label: 'a new batch' },
  ];
  return (
    <div className="field-row">
      <div className="field wide">
        <span className="label">its tolerance</span>
        <Select
          aria-label={`Batch of ${called}`}
          value={own?.id ?? ALONE}
          options={options}
          popupMatchSelectWidth={false}
          onChange={(to) => edit(trackPart(stageId, part.name, to === ALONE ? null : to))}
        />
      </div>
      {own && (
        <QuantityInput
          label="matched within"
          kind="percent"
          step={1}
          value={own.matchPct}
          min={0}
          max={50}
          onChange={(v) => v !== null && edit(changeBatch(own.id, { matchPct: v }))}
          testId="batch-match"
        />
      )}
    </div>
  );
}
const NO_BATCHES: readonly Batch[] = [];

function potAround(ohm: number, reach: number): Omit<Extract<PartControl, { kind: 'rheostat' }>, 'control'> {
  const endOhm = nearestPreferred(ohm / reach, 'E12');
  return { kind: 'rheostat', totalOhm: nearestPreferred(ohm * reach, 'E6'), endOhm, mismatchPct: 0 };
}

interface HeldProps<Held extends PartControl = PartControl> {
  readonly stageId: string;
  readonly part: string;
  readonly held: Held;
  readonly control: Control;
  readonly controls: readonly Control[];
}
type Held<K extends PartControl['kind']> = HeldProps<Extract<PartControl, { kind: K }>>;

function HeldFields({ stageId, part, held }: { stageId: string; part: DeskPart; held: PartControl }) {
  const controls = useDesign((d) => currentVariantOf(d).controls);
  const control = controls.find((c) => c.id === held.control);
  if (!control) return null;
  const Fields = HELD[held.kind] as ComponentType<HeldProps>;
  return <Fields stageId={stageId} part={part.name} held={held} control={control} controls={controls} />;
}

type Patch = Parameters<typeof changeHeld>[2];
const changer =
  ({ stageId, part }: Pick<HeldProps, 'stageId' | 'part'>) =>
  (patch: Patch): void =>
    edit(changeHeld(stageId, part, patch));

function EndResistor({ label, held, ...at }: { label: string; testId?: string } & Held<'rheostat' | 'wiper'>) {
  return (
    <QuantityInput
      label={label}
      kind="resistance"
      series="E12"
      value={held.endOhm}
      min={0}
      max={1e9}
      onChange={(v) => v !== null && changer(at)({ endOhm: v })}
      testId={at.testId}
    />
  );
}

function GangOff({ held, ...at }: Held<'rheostat' | 'wiper'>) {
  return (
    <QuantityInput
      label="gang off by"
      kind="percent"
      step={1}
      value={held.mismatchPct}
      min={-50}
      max={50}
      onChange={(v) => v !== null && changer(at)({ mismatchPct: v })}
      testId="pot-mismatch"
    />
  );
}

const Taper = ({ control }: Pick<HeldProps, 'control'>) => (
  <TaperField taper={control.taper} onChange={(taper) => edit(setControl(control.id, { taper }))} />
);

function AsRheostat(props: Held<'rheostat'>) {
  return (
    <>
      <div className="field-row">
        <QuantityInput
          label="track"
          kind="resistance"
          series="E6"
          value={props.held.totalOhm}
          min={1}
          max={1e9}
          onChange={(v) => v !== null && changer(props)({ totalOhm: v })}
          testId="pot-track"
        />
        <EndResistor label="end resistor" testId="pot-end" {...props} />
        <GangOff {...props} />
        <Gang {...props} />
      </div>
      <Taper {...props} />
    </>
  );
}

function AsWiper(props: Held<'wiper'>) {
  return (
    <>
      <div className="field-row">
        <EndResistor label="left at the ends" {...props} />
        <GangOff {...props} />
      </div>
      <Taper {...props} />
    </>
  );
}

function AsJack({ stageId, part, held: { fromVolts, toVolts } }: Held<'voltage'>) {
  const range = { fromVolts, toVolts };
  const ends = [
    ['fromVolts', 'from'],
    ['toVolts', 'to'],
  ] as const;
  return (
    <div className="field-row">
      {ends.map(([end, label]) => (
        <QuantityInput
          key={end}
          label={label}
          kind="voltage"
          value={range[end]}
          min={-30}
          max={30}
          onChange={(v) => v !== null && edit(setJackRange(stageId, part, { ...range, [end]: v }))}
          testId={`jack-${end}`}
        />
      ))}
    </div>
  );
}

function AsExponential(props: Held<'exponential'>) {
  const { octaves, scaleErrorPct } = props.held;
  return (
    <>
      <div className="field-row">
        <QuantityInput
          label="octaves, end to end"
          kind="ratio"
          step={1}
          value={octaves}
          min={0.1}
          max={20}
          onChange={(v) => v !== null && changer(props)({ octaves: v })}
          testId="control-octaves"
        />
        <QuantityInput
          label="scale off by"
          kind="percent"
          step={1}
          value={scaleErrorPct}
          min={-50}
          max={50}
          onChange={(v) => v !== null && changer(props)({ scaleErrorPct: v })}
        />
      </div>
      <Taper {...props} />
    </>
  );
}

function AsSwitch(props: Held<'switch'>) {
  return (
    <>
      <div className="field-row">
        <Gang {...props} />
      </div>
      <Positions ohms={props.held.ohms} onChange={(ohms) => changer(props)({ ohms })} />
    </>
  );
}

/** What can be said of each way to hold a part. */
const HELD: { readonly [K in PartControl['kind']]: ComponentType<Held<K>> } = {
  rheostat: AsRheostat,
  wiper: AsWiper,
  voltage: AsJack,
  exponential: AsExponential,
  switch: AsSwitch,
};

/** Which shaft turns it: one of its own, or another part's, as a second gang. */
function Gang({ stageId, part, held, control, controls }: Held<'rheostat' | 'switch'>) {
  const kind = held.kind === 'switch' ? 'switch' : 'pot';
  const options = [
    ...controls.filter((c) => c.kind === kind).map((c) => ({ value: c.id, label: c.name })),
    { value: NEW, label: 'one of its own' },
  ];
  const { control: _id, ...bare } = held;
  return (
    <div className="field wide">
      <span className="label">shaft</span>
      <Select
        aria-label={`Shaft that turns ${part}`}
        value={control.id}
        options={options}
        popupMatchSelectWidth={false}
        onChange={(id) => edit(holdPart(stageId, part, bare, id === NEW ? undefined : id))}
      />
    </div>
  );
}

/** A switch's resistors, one for each position, as a list. */
function Positions({ ohms, onChange }: { ohms: readonly number[]; onChange: (ohms: number[]) => void }) {
  const text = ohms.map((v) => formatQuantity(v, 'resistance', { bare: true, tight: true })).join(', ');
  const read = (typed: string): void => {
    const values = typed
      .split(/[,;]\s*|\s+/)
      .filter(Boolean)
      .map((t) => parseQuantity(t, 'resistance'));
    const good = values.flatMap((v) => (v.ok && v.value > 0 ? [v.value] : []));
    if (good.length === values.length && good.length >= 2 && good.length <= 12) onChange(good);
  };
  return (
    <label className="field">
      <span className="label">resistors, one for each position (2 to 12, set apart by commas)</span>
      <input
        key={text}
        className="plain-input figures"
        defaultValue={text}
        aria-label="Resistors of the switch"
        data-testid="switch-ohms"
        onBlur={(e) => read(e.target.value)}
        onKeyDown={(e) => e.key === 'Enter' && read(e.currentTarget.value)}
      />
    </label>
  );
}
