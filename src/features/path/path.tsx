'use client';

import dynamic from 'next/dynamic';
import { DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import { Button } from 'antd';
import { PlusOutlined } from '@ant-design/icons';
import { Fragment, useState } from 'react';
import { edit, useDesign } from '@/store/document';
import { addDeck } from '@/store/edits/deck-edits';
import { currentWayOf, moveStage } from '@/store/edits/edits';
import { formatQuantity } from '@/core/units/quantity';
import { takeIn } from '@/store/add-to-path';
import { Joint } from './joint';
import { StageCard } from './stage-card';
import styles from './path.module.css';

// What is opened now and then comes when it is opened.
const AddDialog = dynamic(() => import('@/ui/gallery/add-dialog').then((m) => m.AddDialog), { ssr: false });
const DeckDialog = dynamic(() => import('@/ui/deck-dialog').then((m) => m.DeckDialog), { ssr: false });

/** The signal path: source, stages in order, load, and the joints between them. */
export function Path() {
  const [deck, setDeck] = useState(false);
  const [adding, setAdding] = useState(false);
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
      <div className={styles.pathEnd}>
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
      <div className={styles.pathEnd}>
        <b>{brief.load.name || 'Load'}</b>
        <span className="figures quiet">
          {brief.load.ohm === null ? 'open' : formatQuantity(brief.load.ohm, 'resistance')}
        </span>
      </div>
      <Button
        type="text"
        icon={<PlusOutlined />}
        aria-label="Add to the path"
        className={styles.pathAdd}
        onClick={() => setAdding(true)}
      />
      {adding && (
        <AddDialog
          open
          onClose={() => setAdding(false)}
          onDeck={() => {
            setAdding(false);
            setDeck(true);
          }}
        />
      )}
      {deck && (
        <DeckDialog
          open
          start={null}
          onClose={() => setDeck(false)}
          onTake={(taken) => {
            takeIn(addDeck(taken));
            setDeck(false);
          }}
        />
      )}
    </section>
  );
}
