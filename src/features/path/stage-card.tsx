'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { Dropdown } from 'antd';
import { memo } from 'react';
import { MoreOutlined } from '@ant-design/icons';
import type { Stage } from '@/core/design/schema';
import { placeOf } from '@/core/design/create';
import type { DeskStage } from '@/core/jobs/desk-types';
import { stageTopology } from '@/core/design/stage-topology';
import { decibels, formatQuantity, formatSigned } from '@/core/units/quantity';
import { Glyph } from '@/ui/glyph';
import { edit, useDesign } from '@/store/document';
import { duplicateStage, followPlan, moveStage, removeStage, toggleBypass } from '@/store/edits';
import { documentStore } from '@/store/document';
import { currentWayOf } from '@/store/edits';
import { useResults } from '@/store/results';
import { setView, useView } from '@/store/view';

/** A stage on the path: its own curve, what it is, and where it lies. Drag it, or move it from its menu. */
export const StageCard = memo(function StageCard({ stage }: { stage: Stage }) {
  const selected = useView((s) => s.selectedStage === stage.id);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: stage.id });
  const plans = useDesign((d) => currentWayOf(d).plans);
  const topology = stageTopology(stage, { plans });
  const name = useResults((s) => s.deskToRead?.stages.find((f) => f.id === stage.id)?.name) ?? topology.name;
  const step = (by: number) => {
    const { design } = documentStore.getState();
    const at = design ? currentWayOf(design).stages.findIndex((s) => s.id === stage.id) : -1;
    if (at >= 0) edit(moveStage(at, at + by));
  };
  const { role: _role, tabIndex: _tabIndex, ...sortable } = attributes;
  return (
    <div ref={setNodeRef} style={{ transform: CSS.Translate.toString(transform), transition }} className={`stage-card${selected ? ' selected' : ''}${stage.bypassed ? ' bypassed' : ''}${isDragging ? ' dragging' : ''}`} data-testid="stage-card">
      <button type="button" className="plain stage-face" {...sortable} {...listeners} aria-pressed={selected} onClick={() => setView({ selectedStage: stage.id, selectedPart: null })}>
        <StageFace stage={stage} />
      </button>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            { key: 'bypass', label: stage.bypassed ? 'Put back in the path' : 'Bypass', onClick: () => edit(toggleBypass(stage.id)) },
            { key: 'left', label: 'Move towards the source', onClick: () => step(-1) },
            { key: 'right', label: 'Move towards the load', onClick: () => step(1) },
            { key: 'copy', label: 'Duplicate', onClick: () => edit(duplicateStage(stage.id)) },
            ...(stage.target.kind === 'own' && stage.target.of ? [{ key: 'follow', label: 'Follow the plan again', onClick: () => edit(followPlan(stage.id)) }] : []),
            ...(placeOf(stage) === null ? [{ key: 'remove', label: 'Remove', danger: true, onClick: () => edit(removeStage(stage.id)) }] : []),
          ],
        }}
      >
        <button type="button" className="plain stage-menu" aria-label={`${name}: more`}>
          <MoreOutlined />
        </button>
      </Dropdown>
    </div>
  );
});

/** What of a card changes with every result: its curve and its figures. */
function StageFace({ stage }: { stage: Stage }) {
  const facts = useResults((s) => s.deskToRead?.stages.find((f) => f.id === stage.id));
  const plans = useDesign((d) => currentWayOf(d).plans);
  const topology = stageTopology(stage, { plans });
  return (
    <>
        <Glyph freqHz={facts?.glyph.freqHz ?? [1, 2]} levelDb={facts?.glyph.levelDb ?? null} width={36} height={40} />
        <span className="stage-words">
          <b>{facts?.name ?? topology.name}</b>
          <span className="quiet stage-topology">
            {facts && gainText(facts) !== '' && <b className="figures">{gainText(facts)} </b>}
            {facts?.name === topology.shortName ? (topology.modes.length > 1 ? facts.form : '') : topology.shortName}
          </span>
          <span className="figures stage-figures">{stage.bypassed ? 'bypassed' : facts ? figures(facts) : ' '}</span>
        </span>
    </>
  );
}

function figures({ target, retuned, network }: DeskStage): string {
  if (!target) {
    const first = network?.parameters.find((p) => p.kind === 'frequency') ?? network?.parameters[0];
    return first ? formatQuantity(first.wanted, first.kind, { digits: 3 }) : '';
  }
  if (target.order === 0) return 'flat';
  const q = target.order === 2 ? ` Q ${target.q.toFixed(3)}` : '';
  return `${retuned ? '≠ ' : ''}${formatQuantity(target.freqHz, 'frequency', { digits: 3 })}${q}`;
}

function gainText({ target, network }: DeskStage): string {
  const asked = target ? decibels(target.gain) : network?.parameters.find((p) => p.name === 'gainDb')?.wanted;
  return asked === undefined || Math.abs(asked) < 0.005 ? '' : formatSigned(asked, 'decibel', 1);
}
