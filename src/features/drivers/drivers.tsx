'use client';

import { Button, Empty, Select } from 'antd';
import { PlusOutlined } from '@ant-design/icons';
import { useMemo, useState } from 'react';
import { demoDrivers } from '@/core/loudspeaker/demo-drivers';
import type { Driver } from '@/core/loudspeaker/driver';
import { USUAL_FIGURES } from '@/core/loudspeaker/driver-kinds';
import { formatQuantity } from '@/core/units/quantity';
import { useFocusOnArrival } from '@/ui/use-focus-back';
import { useUndoMessage } from '@/ui/use-undo-message';
import { putDriver, removeDriver, useOwnDrivers } from '@/store/shelf/drivers';
import { newId } from '@/store/new-id';
import { DriverCharts } from './driver-charts';
import { DriverForm } from './driver-form';
import styles from './drivers.module.css';

const fresh = (count: number): Driver => ({
  id: newId(),
  name: `Driver ${count + 1}`,
  kind: 'woofer',
  measuredImpedance: null,
  price: null,
  ...USUAL_FIGURES.woofer,
});

/** The drivers there are: from measured files or from their few figures, for every crossover to choose from. */
export function Drivers() {
  useFocusOnArrival('drivers-heading');
  const own = useOwnDrivers();
  const [chosen, setChosen] = useState<string | null>(null);
  const [beside, setBeside] = useState<string | null>(null);
  const undoable = useUndoMessage();
  const all = useMemo(() => [...(own ?? []), ...demoDrivers().filter((d) => !own?.some((o) => o.id === d.id))], [own]);
  const driver = all.find((d) => d.id === chosen) ?? all[0];
  const other = all.find((d) => d.id === beside && d.id !== driver?.id);
  const mine = own?.some((o) => o.id === driver?.id) ?? false;
  const add = () => {
    const made = fresh(own?.length ?? 0);
    void putDriver(made).then(() => setChosen(made.id));
  };
  const copy = (from: Driver) => {
    const made = { ...from, id: newId(), name: `${from.name}, own` };
    void putDriver(made).then(() => setChosen(made.id));
  };
  const remove = (gone: Driver) => {
    void removeDriver(gone.id);
    setChosen(null);
    undoable('Removed.', () => void putDriver(gone));
  };
  return (
    <>
      <div className="shelf-bar">
        <h1 id="drivers-heading" tabIndex={-1}>
          Drivers
        </h1>
        <span className="shelf-actions">
          <Button type="primary" icon={<PlusOutlined />} onClick={add}>
            Add a driver
          </Button>
        </span>
      </div>
      <div className="drivers-room">
        <DriverList all={all} own={own ?? []} current={driver?.id} onChoose={setChosen} />
        {driver ? (
          <div className="driver-sheet">
            {mine ? (
              <DriverForm key={driver.id} driver={driver} onRemove={() => remove(driver)} />
            ) : (
              <WorkshopDriver driver={driver} onCopy={() => copy(driver)} />
            )}
            <Beside among={all.filter((d) => d.id !== driver.id)} other={other} onChoose={setBeside} />
            <DriverCharts driver={driver} other={other} />
          </div>
        ) : (
          <Empty description="No driver yet." />
        )}
      </div>
    </>
  );
}

interface DriverListProps {
  readonly all: readonly Driver[];
  readonly own: readonly Driver[];
  readonly current: string | undefined;
  readonly onChoose: (id: string) => void;
}

function DriverList({ all, own, current, onChoose }: DriverListProps) {
  return (
    <ul className={styles.driversList} aria-label="Drivers">
      {all.map(({ id, name, kind, nominalOhm }) => (
        <li key={id}>
          <button
            type="button"
            className={`plain driver-entry${id === current ? ' current' : ''}`}
            aria-pressed={id === current}
            onClick={() => onChoose(id)}
            data-testid="driver-entry"
          >
            <b>{name}</b>
            <span className="quiet">
              {kind}, {formatQuantity(nominalOhm, 'resistance')}
              {own.some((o) => o.id === id) ? '' : ', workshop’s'}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}

/** A driver that is not the maker's: where its files are, and how it becomes one. */
function WorkshopDriver({ driver, onCopy }: { driver: Driver; onCopy: () => void }) {
  return (
    <section className="panel">
      <header>
        <h2>{driver.name}</h2>
        <Button size="small" onClick={onCopy}>
          Copy to my drivers
        </Button>
      </header>
      <p className="reason quiet">
        One of the workshop’s made-up drivers, measured in its box. Its files:{' '}
        <a href={`/drivers/${driver.id}-response.txt`} download>
          response
        </a>
        ,{' '}
        <a href={`/drivers/${driver.id}-impedance.txt`} download>
          impedance
        </a>
        .
      </p>
    </section>
  );
}

interface BesideProps {
  readonly among: readonly Driver[];
  readonly other: Driver | undefined;
  readonly onChoose: (id: string | null) => void;
}

/** Which other driver's curves lie beside the one in hand. */
function Beside({ among, other, onChoose }: BesideProps) {
  return (
    <div className={`field wide ${styles.driversBeside}`}>
      <span className="label">beside it</span>
      <Select
        allowClear
        aria-label="Another driver beside it"
        value={other?.id}
        placeholder="another driver"
        options={among.map((d) => ({ value: d.id, label: d.name }))}
        onChange={(id: string | undefined) => onChoose(id ?? null)}
      />
    </div>
  );
}
