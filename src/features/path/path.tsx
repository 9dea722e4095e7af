'use client';

import { DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import { Button, Dropdown } from 'antd';
import { PlusOutlined } from '@ant-design/icons';
import { Fragment, useState } from 'react';
import { documentStore, edit, useDesign } from '@/store/document';
import { addDeck, addPlan, addStage, currentWayOf, insertBuffer, makeBank, moveStage, type Edit } from '@/store/edits';
import { addNetwork } from '@/store/network-edits';
import { setView } from '@/store/view';
import { topologyById } from '@/core/topology/index';
import { formatQuantity } from '@/core/units/quantity';
import type { BankSpec } from '@/core/design/bank';
import { DeckDialog } from '@/ui/deck-dialog';
import { Joint } from './joint';
import { StageCard } from './stage-card';

/** The signal path: source, stages in order, load, and the joints between them. */
export function Path() {
  const [deck, setDeck] = useState(false);
  const brief = useDesign((d) => d.brief);
  const stages = useDesign((d) => currentWayOf(d).stages);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    edit(
      moveStage(
        stages.findIndex((s) => s.id === active.id),
        stages.findIndex((s) => s.id === over.id),
      ),
    );
  };
  return (
    <section className="path" aria-label="Signal path">
      <div className="path-end">
        <b>{brief.source.name || 'Source'}</b>
        <span className="figures quiet">{formatQuantity(brief.source.ohm, 'resistance')}</span>
      </div>
      <DndContext id="path" sensors={sensors} onDragEnd={onDragEnd}>
        <SortableContext items={stages.map((s) => s.id)} strategy={horizontalListSortingStrategy}>
          {stages.map((stage, i) => (
            <Fragment key={stage.id}>
              <Joint index={i} stages={stages.length} />
              <StageCard stage={stage} />
            </Fragment>
          ))}
        </SortableContext>
      </DndContext>
      <Joint index={stages.length} stages={stages.length} />
      <div className="path-end">
        <b>{brief.load.name || 'Load'}</b>
        <span className="figures quiet">
          {brief.load.ohm === null ? 'open' : formatQuantity(brief.load.ohm, 'resistance')}
        </span>
      </div>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            {
              key: 'highpass',
              label: 'High-pass with a plan of its own',
              onClick: () => edit(addPlan('highpass', 40)),
            },
            { key: 'lowpass', label: 'Low-pass with a plan of its own', onClick: () => edit(addPlan('lowpass', 12e3)) },
            {
              key: 'bandpass',
              label: 'Band-pass with a plan of its own',
              onClick: () => edit(addPlan('bandpass', middleHz())),
            },
            {
              key: 'bandstop',
              label: 'Band-stop with a plan of its own',
              onClick: () => edit(addPlan('bandstop', middleHz())),
            },
            {
              key: 'allpass',
              label: 'All-pass with a plan of its own',
              onClick: () => edit(addPlan('allpass', middleHz())),
            },
            {
              key: 'single',
              label: 'Single second-order stage',
              children: STAGES.map(({ response, label, topology }) => ({
                key: response,
                label,
                onClick: () => added(addStage(response, middleHz(), topology)),
              })),
            },
            {
              key: 'bank',
              label: 'Filter bank instead of this path',
              onClick: () => {
                edit(makeBank(BANK));
                setView({ selectedStage: null, task: 'brief' });
              },
            },
            { key: 'deck', label: 'Circuit of your own, from a deck', onClick: () => setDeck(true) },
            { key: 'buffer', label: 'Buffer at the end', onClick: () => edit(insertBuffer(stages.length)) },
            {
              key: 'rc',
              label: 'Single RC or RL section',
              children: SINGLES.map(({ key, label, topology, response }) => ({
                key,
                label,
                onClick: () => added(addStage(response, middleHz(), topology)),
              })),
            },
            ...GROUPS.map(({ key, label, ids }) => ({
              key,
              label,
              children: ids.map((id) => ({
                key: id,
                label: topologyById(id).name,
                onClick: () => added(addNetwork(id)),
              })),
            })),
          ],
        }}
      >
        <Button type="text" icon={<PlusOutlined />} aria-label="Add to the path" className="path-add" />
      </Dropdown>
      {deck && (
        <DeckDialog
          open
          start={null}
          onClose={() => setDeck(false)}
          onTake={(taken) => {
            added(addDeck(taken));
            setDeck(false);
          }}
        />
      )}
    </section>
  );
}

const BANK: BankSpec = {
  rule: 'half',
  firstHz: 110,
  count: 12,
  centresHz: [],
  stages: 2,
  flatnessDb: 0.1,
  ends: false,
};

const STAGES = [
  { response: 'lowpass', label: 'Low-pass', topology: 'sallen-key-unity-gain' },
  { response: 'highpass', label: 'High-pass', topology: 'sallen-key-unity-gain' },
  { response: 'bandpass', label: 'Band-pass', topology: 'multiple-feedback-band-pass' },
  { response: 'notch', label: 'Notch', topology: 'band-pass-subtractor' },
  { response: 'allpass', label: 'All-pass', topology: 'band-pass-subtractor' },
] as const;

const SINGLES = [
  { key: 'rc-low', label: 'RC low-pass', topology: 'first-order-passive', response: 'lowpass' },
  { key: 'rc-high', label: 'RC high-pass', topology: 'first-order-passive', response: 'highpass' },
  { key: 'rl-low', label: 'RL low-pass', topology: 'first-order-coil', response: 'lowpass' },
  { key: 'rl-high', label: 'RL high-pass', topology: 'first-order-coil', response: 'highpass' },
] as const;

const GROUPS = [
  { key: 'amps', label: 'Shaped amplifier', ids: ['shaped-amplifier-non-inverting', 'shaped-amplifier-inverting'] },
  { key: 'steep', label: 'Third order and ladders', ids: ['sallen-key-third-order', 'leapfrog-ladder'] },
  { key: 'equal', label: 'Equalisers', ids: ['shelving-equaliser', 'gyrator-equaliser'] },
  { key: 'calculus', label: 'Integrator, differentiator', ids: ['integrator-with-leak', 'differentiator-with-limit'] },
  {
    key: 'voices',
    label: 'Voltage controlled',
    ids: [
      'transistor-ladder',
      'diode-ladder',
      'ota-cascade',
      'ota-state-variable',
      'ota-sallen-key',
      'ota-one-pole',
      'diode-band-pass',
      'optocoupler-gate',
      'junction-fet-phaser',
    ],
  },
  {
    key: 'rows',
    label: 'RC in a row',
    ids: ['equal-sections-loaded', 'equal-sections-isolated', 'phase-shift-ladder'],
  },
  {
    key: 'shapes',
    label: 'Lead, lag and bridges',
    ids: ['lead-network', 'lag-network', 'lead-lag-network', 'wien-network', 'twin-t', 'bridged-t'],
  },
  { key: 'lcr', label: 'Resonant LCR', ids: ['series-lcr', 'parallel-lcr'] },
  { key: 'pads', label: 'Dividers and pads', ids: ['loaded-divider', 'volume-pot', 'l-pad', 't-pad', 'pi-pad'] },
  { key: 'tone', label: 'Tone control', ids: ['tone-control'] },
] as const;

/** Adds something at the end and takes it in hand. */
function added(change: Edit): void {
  edit(change);
  const { design } = documentStore.getState();
  if (design)
    setView({ selectedStage: currentWayOf(design).stages.at(-1)?.id ?? null, selectedPart: null, task: 'circuit' });
}

/** Where an added stage starts: at the last plan's cutoff. */
function middleHz(): number {
  const { design } = documentStore.getState();
  return (design ? currentWayOf(design).plans.at(-1)?.cutoffHz : undefined) ?? 1000;
}
