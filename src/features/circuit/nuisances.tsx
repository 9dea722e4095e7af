'use client';

import { Button, Input, Select } from 'antd';
import { DeleteOutlined, PlusOutlined } from '@ant-design/icons';
import type { Nuisance } from '@/core/design/document/schema';
import { formatSigned } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { edit, useDesign } from '@/store/document';
import { addNuisance, changeNuisance, removeNuisance } from '@/store/edits/edits';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import styles from './circuit.module.css';

const KINDS: { value: Nuisance['kind']; label: string }[] = [
  { value: 'tone', label: 'tone' },
  { value: 'band', label: 'band' },
];
const HUM = { name: 'Hum', kind: 'tone', fromHz: 100, toHz: 100, levelDb: -40 } as const;
const HISS = { name: 'Hiss', kind: 'band', fromHz: 10e3, toHz: 20e3, levelDb: -60 } as const;

/** Tones and bands that are not wanted, and what is left of each with the circuit as built and without capacitors. */
export function Nuisances() {
  const nuisances = useDesign((d) => d.brief.nuisances);
  return (
    <section className="panel" aria-label="Nuisances">
      <header>
        <h2>Nuisances, with and without</h2>
        <span>
          <Add what={HUM} />
          <Add what={HISS} />
        </span>
      </header>
      {nuisances.length === 0 && (
        <p className="reason quiet">
          Name a tone or a band that is not wanted, and its level at the source: it is read at the output with and
          without the capacitors.
        </p>
      )}
      {nuisances.map((n) => (
        <NuisanceRow key={n.id} nuisance={n} />
      ))}
    </section>
  );
}

function Add({ what }: { what: typeof HUM | typeof HISS }) {
  return (
    <Button size="small" type="text" icon={<PlusOutlined />} onClick={() => edit(addNuisance(what))}>
      {what.kind}
    </Button>
  );
}

function NuisanceRow({ nuisance: n }: { nuisance: Nuisance }) {
  const change = (patch: Partial<Nuisance>) => edit(changeNuisance(n.id, patch));
  return (
    <div className={styles.nuisance} data-testid="nuisance">
      <Input
        size="small"
        aria-label="Name of the nuisance"
        value={n.name}
        maxLength={60}
        onChange={(e) => change({ name: e.target.value })}
      />
      <Select
        size="small"
        aria-label="Kind of nuisance"
        value={n.kind}
        options={KINDS}
        onChange={(kind) => change({ kind, toHz: kind === 'tone' ? n.fromHz : 2 * n.fromHz })}
      />
      <Range nuisance={n} change={change} />
      <QuantityInput
        label="level at the source"
        hideLabel
        small
        kind="decibel"
        step={1}
        min={-200}
        max={60}
        value={n.levelDb}
        onChange={(v) => v !== null && change({ levelDb: v })}
      />
      <Button
        size="small"
        type="text"
        icon={<DeleteOutlined />}
        aria-label={`Remove ${n.name}`}
        onClick={() => edit(removeNuisance(n.id))}
      />
      <Left id={n.id} />
    </div>
  );
}

function Range({ nuisance: n, change }: { nuisance: Nuisance; change: (patch: Partial<Nuisance>) => void }) {
  const field = { hideLabel: true, small: true, kind: 'frequency', min: 1e-3, max: 1e9 } as const;
  return (
    <>
      <QuantityInput
        {...field}
        label="from"
        value={n.fromHz}
        onChange={(v) => v !== null && change({ fromHz: v, ...(n.kind === 'tone' ? { toHz: v } : {}) })}
      />
      {n.kind === 'band' ? (
        <QuantityInput {...field} label="to" value={n.toHz} onChange={(v) => v !== null && change({ toHz: v })} />
      ) : (
        <span />
      )}
    </>
  );
}

/** What is left of it at the output. */
function Left({ id }: { id: string }) {
  const got = useAnswer(DESK, (d) => d.nuisances)?.find((r) => r.id === id);
  if (!got) return <span className={`${styles.nuisanceRead} figures`}> </span>;
  const { bareDb, levelDb } = got;
  return (
    <span className={`${styles.nuisanceRead} figures`}>
      {bareDb === null ? '' : `${formatSigned(bareDb, 'decibel', 1)} without, `}
      <b className="live">{formatSigned(levelDb, 'decibel', 1)}</b> as built
      {bareDb === null ? '' : `: ${formatSigned(levelDb - bareDb, 'decibel', 1)}`}
    </span>
  );
}
