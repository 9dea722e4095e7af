'use client';

import { Button, Input, Segmented, Select } from 'antd';
import { DeleteOutlined } from '@ant-design/icons';
import { alignmentById, ALIGNMENTS } from '@/core/filter/alignments/index';
import { ordersIn } from '@/core/filter/plan-sections';
import type { Way } from '@/core/design/document/schema';
import type { Driver } from '@/core/loudspeaker/driver';
import { formatQuantity } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { useDriverChoices } from '@/store/shelf/drivers';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { currentVariantOf, currentWayOf } from '@/store/edits/edits';
import {
  changeWay,
  removeWay,
  setActive,
  setAim,
  setLadderOhm,
  takeDriver,
  turnOver,
} from '@/store/edits/speaker-edits';
import { DriverDrop } from './driver-drop';
import { Crossings } from './crossings';
import { FoundPanel } from './found-panel';
import { Listening } from './listening';
import { Place } from './place';
import { WaysPanel } from './ways-panel';
import styles from './speaker.module.css';

const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };

/**
 * What a crossover is asked for: the driver of the way in hand and what its sound is to do, where one listens, and how
 * the ways get on.
 */
export function SpeakerBrief() {
  const heard = useDesign((d) => currentVariantOf(d).join === 'acoustic');
  const way = useDesign(currentWayOf);
  if (!heard) return null;
  return (
    <>
      <WaysPanel />
      <FoundPanel />
      <WayPanel way={way} />
      <Crossings />
      <Listening />
    </>
  );
}

const KINDS: { value: 'passive' | 'active'; label: string }[] = [
  { value: 'passive', label: 'passive' },
  { value: 'active', label: 'own amplifier' },
];

function WayPanel({ way }: { way: Way }) {
  const brought = useDesign((d) => d.drivers) ?? [];
  const driver = brought.find((d) => way.load.kind === 'driver' && d.id === way.load.driver);
  const ladder = way.stages.find((s) => s.target.kind === 'plan');
  return (
    <section className="panel" aria-label={`Way: ${way.name}`} data-testid="way-panel">
      <WayTitle way={way} />
      <Fed way={way} driver={driver} brought={brought} />
      <DriverDrop way={way} driver={driver} />
      <div className="field-row">
        {ladder?.target.kind === 'plan' && driver && (
          <QuantityInput
            label="ladder into"
            kind="resistance"
            series="E24"
            value={ladder.target.ohm}
            min={0.5}
            max={1000}
            onChange={(v) => v !== null && edit(setLadderOhm(ladder.id, v))}
            testId="ladder-ohm"
            {...gesture}
          />
        )}
        <TrimAndPolarity way={way} />
      </div>
      {ladder && driver && <LadderOhms ladderId={ladder.id} driver={driver} />}
      <Aim way={way} />
      <Place way={way} />
    </section>
  );
}

function WayTitle({ way }: { way: Way }) {
  const several = useDesign((d) => currentVariantOf(d).ways.length > 1);
  return (
    <header>
      <Input
        className="way-title"
        aria-label="Name of the way"
        value={way.name}
        maxLength={60}
        onChange={(e) => edit(changeWay(way.id, { name: e.target.value }))}
      />
      <span>
        {several && (
          <Button
            size="small"
            type="text"
            icon={<DeleteOutlined />}
            aria-label={`Remove the way ${way.name}`}
            onClick={() => edit(removeWay(way.id))}
          />
        )}
      </span>
    </header>
  );
}

interface FedProps {
  readonly way: Way;
  readonly driver: Driver | undefined;
  /** Drivers that the design brings along. */
  readonly brought: readonly Driver[];
}

/** Which driver the way has, and whether an amplifier of its own feeds it. */
function Fed({ way, driver, brought }: FedProps) {
  const drivers = useDriverChoices();
  const choices = [...drivers, ...brought.filter((b) => !drivers.some((d) => d.id === b.id))];
  return (
    <div className="field-row">
      <div className="field wide">
        <span className="label">driver</span>
        <Select
          aria-label="Driver of this way"
          value={driver?.id}
          placeholder="choose a driver"
          options={choices.map((d) => ({ value: d.id, label: d.name }))}
          popupMatchSelectWidth={false}
          onChange={(id) => {
            const found = choices.find((d) => d.id === id);
            if (found) edit(takeDriver(way.id, found));
          }}
        />
      </div>
      <div className="field wide">
        <span className="label">fed by</span>
        <Segmented
          size="small"
          aria-label="How the way is fed"
          value={way.load.kind === 'driver' && way.load.amplifier ? 'active' : 'passive'}
          options={KINDS}
          onChange={(kind) => edit(setActive(way.id, kind === 'active'))}
        />
      </div>
    </div>
  );
}

function TrimAndPolarity({ way }: { way: Way }) {
  return (
    <>
      <QuantityInput
        label="level trim"
        kind="decibel"
        step={0.5}
        value={way.levelTrimDb}
        min={-40}
        max={40}
        onChange={(v) => v !== null && edit(changeWay(way.id, { levelTrimDb: v }))}
        testId="level-trim"
        {...gesture}
      />
      <div className="field">
        <span className="label">polarity</span>
        <Button size="small" aria-pressed={way.polarity === -1} onClick={() => edit(turnOver(way.id))}>
          {way.polarity === 1 ? 'normal' : 'reversed'}
        </Button>
      </div>
    </>
  );
}

function LadderOhms({ ladderId, driver }: { ladderId: string; driver: Driver }) {
  return (
    <p className="reason">
      A ladder is made into a resistance:{' '}
      <button type="button" className="link" onClick={() => edit(setLadderOhm(ladderId, driver.nominalOhm))}>
        nominal {formatQuantity(driver.nominalOhm, 'resistance')}
      </button>
      , what is printed on the driver, or{' '}
      <button type="button" className="link" onClick={() => edit(setLadderOhm(ladderId, driver.impedance.reOhm))}>
        corrected {formatQuantity(driver.impedance.reOhm, 'resistance', { digits: 2 })}
      </button>
      , what it is behind a correction.
    </p>
  );
}

const SLOPES = ALIGNMENTS.filter((a) => !a.hasAttenuation && a.id !== 'custom').map((a) => ({
  value: a.id as string,
  label: a.name,
}));

/**
 * What the sound of the way is to do: the network's plan, or a slope of its own that driver and network make together.
 */
function Aim({ way }: { way: Way }) {
  const aim = way.aim;
  if (!aim)
    return (
      <p className="reason">
        The sound is to do what the network’s plan says.{' '}
        <button
          type="button"
          className="link"
          onClick={() => edit(setAim(way.id, { alignment: 'linkwitz-riley', order: 4 }))}
        >
          Set an acoustic target of its own
        </button>
        , which driver and network make together.
      </p>
    );
  const slope = (n: number) => `${n}  (${n * 6}\u202fdB/oct)`;
  return (
    <div className={`field-row ${styles.aimRow}`} role="group" aria-label="Acoustic target">
      <div className="field wide">
        <span className="label">acoustic target</span>
        <Select
          aria-label="Alignment of the acoustic target"
          value={aim.alignment as string}
          options={SLOPES}
          popupMatchSelectWidth={false}
          onChange={(id) => edit(setAim(way.id, { alignment: id as typeof aim.alignment }))}
        />
      </div>
      <div className="field">
        <span className="label">order</span>
        <Select
          aria-label="Order of the acoustic target"
          value={aim.order}
          options={ordersIn(aim.response, alignmentById(aim.alignment))
            .filter((n) => n <= 8)
            .map((n) => ({ value: n, label: slope(n) }))}
          labelRender={({ value }) => value}
          popupMatchSelectWidth={false}
          onChange={(order) => edit(setAim(way.id, { order }))}
        />
      </div>
      <QuantityInput
        label="crossing"
        kind="frequency"
        value={aim.cutoffHz}
        min={10}
        max={1e5}
        onChange={(v) => v !== null && edit(setAim(way.id, { cutoffHz: v }))}
        testId="aim-cutoff"
        {...gesture}
      />
      <Button
        size="small"
        type="text"
        aria-label="Follow the network’s plan again"
        icon={<DeleteOutlined />}
        onClick={() => edit(setAim(way.id, null))}
      />
    </div>
  );
}
