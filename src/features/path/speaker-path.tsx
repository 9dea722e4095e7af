'use client';

import { mainResonance } from '@/core/loudspeaker/voice-coil';
import { ActionMenu } from '@/ui/action-menu';
import { DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import { Button } from 'antd';
import { PlusOutlined } from '@ant-design/icons';
import { Fragment } from 'react';
import type { Way } from '@/core/design/document/schema';
import { topologyById } from '@/core/topology/index';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { documentStore, edit, useDesign } from '@/store/document';
import { currentVariantOf, currentWayOf, moveStage, selectWay } from '@/store/edits/edits';
import { addPlan } from '@/store/edits/plan-edits';
import { addNetwork, setParameter } from '@/store/edits/network-edits';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { turnOver } from '@/store/edits/speaker-edits';
import { useTakeDriverFiles } from '@/ui/driver-files';
import { useFileDrop } from '@/ui/use-file-drop';
import { setView } from '@/store/view';
import { StageCard } from './stage-card';
import styles from './path.module.css';

/**
 * A crossover as it is wired: the amplifier, a row for each way with its networks and its driver, and what they sum to.
 */
export function SpeakerPath() {
  const brief = useDesign((d) => d.brief);
  const ways = useDesign((d) => currentVariantOf(d).ways);
  return (
    <section className={styles.speakerPath} aria-label="Signal paths, a row for each way">
      <div className={styles.pathEnd}>
        <b>{brief.source.name || 'Amplifier'}</b>
        <span className="figures quiet">{formatQuantity(brief.source.ohm, 'resistance')}</span>
        <span className="figures quiet">{formatQuantity(brief.signalVolts, 'voltage')}</span>
      </div>
      <div className={styles.wayRows}>
        {ways.map((way) => (
          <WayRow key={way.id} way={way} />
        ))}
      </div>
      <Sum />
    </section>
  );
}

function take(wayId: string): void {
  const { design } = documentStore.getState();
  if (!design || currentWayOf(design).id === wayId) return;
  edit(selectWay(wayId));
  setView({ selectedStage: null, selectedPart: null });
}

function WayRow({ way }: { way: Way }) {
  const current = useDesign((d) => currentWayOf(d).id === way.id);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    take(way.id);
    edit(
      moveStage(
        way.stages.findIndex((s) => s.id === active.id),
        way.stages.findIndex((s) => s.id === over.id),
      ),
    );
  };
  const takeFiles = useTakeDriverFiles();
  const { over, handlers } = useFileDrop((files) => void takeFiles(way.id, files));
  return (
    <div
      className={`way-row${current || over ? ' current' : ''}`}
      data-testid="way-row"
      title={over ? `Measured files for the driver of ${way.name}` : undefined}
      {...handlers}
    >
      <button type="button" className={`plain ${styles.wayName}`} aria-pressed={current} onClick={() => take(way.id)}>
        {way.name}
      </button>
      <DndContext id={`way-${way.id}`} sensors={sensors} onDragEnd={onDragEnd}>
        <SortableContext items={way.stages.map((s) => s.id)} strategy={horizontalListSortingStrategy}>
          {way.stages.map((stage) => (
            <Fragment key={stage.id}>
              <span className={styles.wayWire} aria-hidden="true" />
              <StageCard stage={stage} wayId={way.id} />
            </Fragment>
          ))}
        </SortableContext>
      </DndContext>
      <span className={styles.wayWire} aria-hidden="true" />
      <AddBeforeDriver way={way} />
      <span className={`${styles.wayWire} long`} aria-hidden="true" />
      <DriverEnd way={way} />
    </div>
  );
}

const NETWORKS = [
  { id: 'driver-pad', label: 'Level pad' },
  { id: 'impedance-correction', label: 'Impedance correction, voice coil' },
  { id: 'impedance-correction', label: 'Impedance correction, resonance', form: 'resonance' },
  { id: 'driver-notch', label: 'Notch across the driver' },
  { id: 'driver-notch', label: 'Notch in line', form: 'in line' },
  { id: 'baffle-step', label: 'Baffle-step shelf' },
] as const;
const ACTIVE = ['shelving-equaliser', 'gyrator-equaliser', 'twin-t'] as const;
/** What an active way's sections may do beside what was laid out; an all-pass delays. */
const ACTIVE_PLANS = [
  { response: 'highpass', cutoffHz: 40, label: 'High-pass' },
  { response: 'lowpass', cutoffHz: 3000, label: 'Low-pass' },
  { response: 'allpass', cutoffHz: 3000, label: 'All-pass, a delay' },
] as const;

function AddBeforeDriver({ way }: { way: Way }) {
  const driver = useDesign((d) => d.drivers?.find((x) => way.load.kind === 'driver' && x.id === way.load.driver));
  const add = (id: string, form?: string) => {
    take(way.id);
    edit(addNetwork(id, form));
    const { design } = documentStore.getState();
    const stage = design && currentWayOf(design).stages.at(-1);
    if (!stage) return;
    // What the network works against is the driver at hand, not eight ohms.
    if (driver && stage.target.kind === 'network' && 'ohm' in stage.target.parameters)
      edit(setParameter(stage.id, 'ohm', id === 'impedance-correction' ? driver.impedance.reOhm : driver.nominalOhm));
    if (driver && id === 'impedance-correction')
      for (const [name, value] of Object.entries(correctionOf(driver.impedance, form)))
        edit(setParameter(stage.id, name, value));
    setView({ selectedStage: stage.id, selectedPart: null, task: 'circuit' });
  };
  const active = way.load.kind === 'driver' && way.load.amplifier !== null;
  return (
    <ActionMenu
      items={
        active
          ? [
              ...ACTIVE_PLANS.map(({ response, cutoffHz, label }) => ({
                key: response,
                label,
                onClick: () => {
                  take(way.id);
                  edit(addPlan(response, cutoffHz));
                },
              })),
              ...ACTIVE.map((id) => ({ key: id, label: topologyById(id).name, onClick: () => add(id) })),
            ]
          : NETWORKS.map(({ id, label, ...form }) => ({
              key: label,
              label,
              onClick: () => add(id, 'form' in form ? form.form : undefined),
            }))
      }
    >
      <Button
        type="text"
        size="small"
        icon={<PlusOutlined />}
        aria-label={`Add before the driver of ${way.name}`}
        className={styles.pathAdd}
      />
    </ActionMenu>
  );
}

/** What a correction is asked for, from the driver's own impedance. */
function correctionOf(
  model: {
    leHenry: number;
    lossy: readonly { henry: number }[];
    resonances: readonly { freqHz: number; q: number; ohm: number }[];
  },
  form: string | undefined,
): Record<string, number> {
  if (form === 'resonance') {
    const highest = mainResonance(model);
    return highest ? { centreHz: highest.freqHz, peakOhm: highest.ohm, q: highest.q } : {};
  }
  return { henry: Math.max(1e-6, model.leHenry + model.lossy.reduce((sum, l) => sum + l.henry, 0)) };
}

function DriverEnd({ way }: { way: Way }) {
  const driver = useDesign((d) => d.drivers?.find((x) => way.load.kind === 'driver' && x.id === way.load.driver));
  const turned = way.polarity === -1;
  return (
    <div className={styles.driverEnd}>
      <b>{driver?.name ?? 'no driver'}</b>
      <span className="quiet">
        {driver
          ? (way.load.kind === 'driver' && way.load.amplifier ? '' : 'nominal ') +
            formatQuantity(driver.nominalOhm, 'resistance')
          : 'choose one in Brief'}
        {way.load.kind === 'driver' && way.load.amplifier ? ', own amp' : ''}{' '}
        <button
          type="button"
          className={`plain polarity${turned ? ' turned' : ''}`}
          aria-pressed={turned}
          title={`Polarity ${turned ? 'reversed' : 'normal'}: click to change it`}
          onClick={() => edit(turnOver(way.id))}
        >
          {turned ? 'reversed −' : '+'}
        </button>
        {way.levelTrimDb !== 0 && <span className="figures"> {formatSigned(way.levelTrimDb, 'decibel', 1)}</span>}
      </span>
    </div>
  );
}

function Sum() {
  const flat = useAnswer(ACOUSTICS, (a) => a.flat);
  const listening = useDesign((d) => currentVariantOf(d).listening);
  const off = flat ? Math.max(flat.overDb, -flat.underDb) : NaN;
  const onAxis = !listening || (listening.acrossDeg === 0 && listening.upDeg === 0);
  return (
    <div className={`${styles.pathEnd} ${styles.sumEnd}`} data-testid="sum-end">
      <b>Sum at {formatQuantity(listening?.distanceM ?? 2, 'ratio', { digits: 2 })} m</b>
      <span className="quiet">{onAxis ? 'on axis' : 'off axis'}</span>
      <span className="figures quiet">{Number.isFinite(off) ? `±${formatFixed(off, 1)}\u202fdB of level` : ' '}</span>
    </div>
  );
}
