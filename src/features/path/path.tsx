'use client';

import { DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import { Button, Dropdown } from 'antd';
import { PlusOutlined } from '@ant-design/icons';
import { Fragment } from 'react';
import { edit, useDesign } from '@/store/document';
import { addPlan, addStage, currentVariantOf, insertBuffer, moveStage } from '@/store/edits';
import { useResults } from '@/store/results';
import { formatQuantity } from '@/core/units/quantity';
import { Joint } from './joint';
import { StageCard } from './stage-card';

/** The signal path: source, stages in order, load, and the joints between them. */
export function Path() {
  const brief = useDesign((d) => d.brief);
  const way = useDesign((d) => currentVariantOf(d).ways[0]);
  const desk = useResults((s) => s.desk);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }), useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }));
  const facts = new Map(desk?.stages.map((s) => [s.id, s]));
  // While results catch up with an edit, joints are shown only where they still belong to the same row of stages.
  const settled = desk !== null && desk.stages.length === way.stages.length;
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    edit(moveStage(way.stages.findIndex((s) => s.id === active.id), way.stages.findIndex((s) => s.id === over.id)));
  };
  const middle = way.plans.at(-1)?.cutoffHz ?? 1000;
  return (
    <section className="path" aria-label="Signal path">
      <div className="path-end">
        <b>{brief.source.name || 'Source'}</b>
        <span className="figures quiet">{formatQuantity(brief.source.ohm, 'resistance')}</span>
      </div>
      <DndContext id="path" sensors={sensors} onDragEnd={onDragEnd}>
        <SortableContext items={way.stages.map((s) => s.id)} strategy={horizontalListSortingStrategy}>
          {way.stages.map((stage, i) => (
            <Fragment key={stage.id}>
              <Joint index={i} joint={settled ? desk.joints[i] : undefined} />
              <StageCard stage={stage} facts={facts.get(stage.id)} />
            </Fragment>
          ))}
        </SortableContext>
      </DndContext>
      <Joint index={way.stages.length} joint={settled ? desk.joints[way.stages.length] : undefined} />
      <div className="path-end">
        <b>{brief.load.name || 'Load'}</b>
        <span className="figures quiet">{brief.load.ohm === null ? 'open' : formatQuantity(brief.load.ohm, 'resistance')}</span>
      </div>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            { key: 'highpass', label: 'High-pass with a plan of its own', onClick: () => edit(addPlan('highpass', 40)) },
            { key: 'lowpass', label: 'Low-pass with a plan of its own', onClick: () => edit(addPlan('lowpass', 12e3)) },
            { key: 'stage', label: 'Single second-order low-pass stage', onClick: () => edit(addStage('lowpass', middle)) },
            { key: 'stage-high', label: 'Single second-order high-pass stage', onClick: () => edit(addStage('highpass', middle)) },
            { key: 'buffer', label: 'Buffer at the end', onClick: () => edit(insertBuffer(way.stages.length)) },
          ],
        }}
      >
        <Button type="text" icon={<PlusOutlined />} aria-label="Add to the path" className="path-add" />
      </Dropdown>
    </section>
  );
}
