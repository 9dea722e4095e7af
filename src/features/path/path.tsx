'use client';

import { DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import { Button, Dropdown } from 'antd';
import { PlusOutlined } from '@ant-design/icons';
import { Fragment } from 'react';
import { documentStore, edit, useDesign } from '@/store/document';
import { addPlan, addStage, currentVariantOf, insertBuffer, moveStage } from '@/store/edits';
import { formatQuantity } from '@/core/units/quantity';
import { Joint } from './joint';
import { StageCard } from './stage-card';

/** The signal path: source, stages in order, load, and the joints between them. */
export function Path() {
  const brief = useDesign((d) => d.brief);
  const stages = useDesign((d) => currentVariantOf(d).ways[0].stages);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }), useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }));
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    edit(moveStage(stages.findIndex((s) => s.id === active.id), stages.findIndex((s) => s.id === over.id)));
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
        <span className="figures quiet">{brief.load.ohm === null ? 'open' : formatQuantity(brief.load.ohm, 'resistance')}</span>
      </div>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            { key: 'highpass', label: 'High-pass with a plan of its own', onClick: () => edit(addPlan('highpass', 40)) },
            { key: 'lowpass', label: 'Low-pass with a plan of its own', onClick: () => edit(addPlan('lowpass', 12e3)) },
            { key: 'stage', label: 'Single second-order low-pass stage', onClick: () => edit(addStage('lowpass', middleHz())) },
            { key: 'stage-high', label: 'Single second-order high-pass stage', onClick: () => edit(addStage('highpass', middleHz())) },
            { key: 'buffer', label: 'Buffer at the end', onClick: () => edit(insertBuffer(stages.length)) },
          ],
        }}
      >
        <Button type="text" icon={<PlusOutlined />} aria-label="Add to the path" className="path-add" />
      </Dropdown>
    </section>
  );
}

/** Where an added stage starts: at the last plan's cutoff. */
function middleHz(): number {
  const { design } = documentStore.getState();
  return (design ? currentVariantOf(design).ways[0].plans.at(-1)?.cutoffHz : undefined) ?? 1000;
}
