'use client';

import { ActionMenu } from '@/ui/action-menu';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { memo } from 'react';
import { MoreOutlined } from '@ant-design/icons';
import type { Stage } from '@/core/design/document/schema';
import { placeOf } from '@/core/design/making/create';
import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { stageTopology } from '@/core/design/stages/stage-topology';
import { PASSIVE_LADDER } from '@/core/topology/loudspeaker/passive-ladder-circuit';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { decibels, formatQuantity, formatSigned } from '@/core/units/quantity';
import { Glyph } from '@/ui/glyph';
import { edit, useDesign } from '@/store/document';
import {
  duplicateStage,
  followPlan,
  moveStage,
  removeStage,
  selectWay,
  toggleBypass,
  wayOr,
} from '@/store/edits/edits';
import { documentStore } from '@/store/document';
import { currentWayOf } from '@/store/edits/edits';
import { useStageFacts } from '@/store/use-stage-facts';
import { setView, useView } from '@/store/view';
import styles from './path.module.css';

/** A stage on the path: its own curve, what it is, and where it lies. Drag it, or move it from its menu. */
export const StageCard = memo(function StageCard({ stage, wayId }: { stage: Stage; wayId?: string }) {
  const selected = useView((s) => s.selectedStage === stage.id);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id: stage.id });
  const plans = useDesign((d) => wayOr(d, wayId).plans);
  const topology = stageTopology(stage, { plans });
  const name = useStageFacts(stage.id)?.name ?? topology.name;
  const take = () => {
    const { design } = documentStore.getState();
    if (wayId && design && currentWayOf(design).id !== wayId) edit(selectWay(wayId));
    setView({ selectedStage: stage.id, selectedPart: null });
  };
  const inHand = (act: () => void) => () => {
    take();
    act();
  };
  const step = (by: number) => {
    const { design } = documentStore.getState();
    const at = design ? currentWayOf(design).stages.findIndex((s) => s.id === stage.id) : -1;
    if (at >= 0) edit(moveStage(at, at + by));
  };
  const { role: _role, tabIndex: _tabIndex, ...sortable } = attributes;
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={['stage-card', selected && 'selected', stage.bypassed && 'bypassed', isDragging && 'dragging']
        .filter(Boolean)
        .join(' ')}
      data-testid="stage-card"
    >
      <button
        type="button"
        className="plain stage-face"
        {...sortable}
        {...listeners}
        aria-pressed={selected}
        onClick={take}
      >
        <StageFace stage={stage} wayId={wayId} />
      </button>
      <ActionMenu
        items={[
          {
            key: 'bypass',
            label: stage.bypassed ? 'Put back in the path' : 'Bypass',
            onClick: inHand(() => edit(toggleBypass(stage.id))),
          },
          { key: 'left', label: 'Move towards the source', onClick: inHand(() => step(-1)) },
          { key: 'right', label: 'Move towards the load', onClick: inHand(() => step(1)) },
          { key: 'copy', label: 'Duplicate', onClick: inHand(() => edit(duplicateStage(stage.id))) },
          ...(stage.target.kind === 'own' && stage.target.of
            ? [{ key: 'follow', label: 'Follow the plan again', onClick: inHand(() => edit(followPlan(stage.id))) }]
            : []),
          {
            key: 'remove',
            label: placeOf(stage) === null ? 'Remove' : 'Remove the whole plan',
            danger: true,
            onClick: inHand(() => edit(removeStage(stage.id))),
          },
        ]}
      >
        <button type="button" className={`plain ${styles.stageMenu}`} aria-label={`${name}: more`}>
          <MoreOutlined />
        </button>
      </ActionMenu>
    </div>
  );
});

/** What of a card changes with every result: its curve and its figures. */
function StageFace({ stage, wayId }: { stage: Stage; wayId?: string }) {
  const facts = useStageFacts(stage.id);
  const plans = useDesign((d) => wayOr(d, wayId).plans);
  const topology = stageTopology(stage, { plans });
  return (
    <>
      <Glyph freqHz={facts?.glyph.freqHz ?? [1, 2]} levelDb={facts?.glyph.levelDb ?? null} width={36} height={40} />
      {/* The whole of it, where the card has no room. */}
      <span
        className={styles.stageWords}
        title={facts ? `${facts.name}: ${topology.name}, ${figures(facts)} ${standsText(facts)}`.trim() : topology.name}
      >
        <b>{facts?.name ?? topology.name}</b>
        <span className={`quiet ${styles.stageTopology}`}>
          {facts && gainText(facts) !== '' && <b className="figures">{gainText(facts)} </b>}
          {facts?.name !== topology.shortName
            ? topology.shortName
            : topology.modes.length > 1
              ? facts.form
              : topology.id === PASSIVE_LADDER
                ? topology.name.replace(/^.* of /, '')
                : ''}
        </span>
        <span className={`figures ${styles.stageFigures}`}>
          {stage.bypassed ? 'bypassed' : facts ? figures(facts) : ' '}
          {/* On the same line: one that comes and goes would resize the charts while something is dragged. */}
          {!stage.bypassed && facts && standsText(facts) !== '' && <span className="warn"> {standsText(facts)}</span>}
        </span>
      </span>
    </>
  );
}

function figures({ target, retuned, network, parts }: DeskStage): string {
  if (!target) {
    // What has nothing asked of it but a curve is known by its parts.
    if (network?.parameters.length === 0)
      return parts
        .slice(0, MOST_PARTS)
        .map((p) => formatQuantity(p.chosen, PART_UNITS[p.kind], { digits: 2, bare: true, tight: true }))
        .join(' · ');
    const first = network?.parameters.find((p) => p.kind === 'frequency') ?? network?.parameters[0];
    return first ? formatQuantity(first.got, first.kind, { digits: 3 }) : '';
  }
  if (target.order === 0) return 'flat';
  const q = target.order === 2 ? ` Q ${Number(target.q.toPrecision(3))}` : '';
  return `${retuned ? '≠ ' : ''}${formatQuantity(target.freqHz, 'frequency', { digits: 3 })}${q}`;
}

const MOST_PARTS = 3;

/** Less than this, dB, on a stage that is asked for none is its parts' rounding. */
const ROUNDING_DB = 0.3;
/** What it gives as it is built, where it is asked for a gain or has one all the same. */
function gainText({ target, got, network }: DeskStage): string {
  const parameter = network?.parameters.find((p) => p.name === 'gainDb');
  const [asked, gives] = target
    ? [decibels(target.gain), got.gainDb]
    : [parameter?.wanted ?? 0, parameter?.got ?? null];
  if (gives === null) return '';
  return Math.abs(gives) > (Math.abs(asked) < 0.005 ? ROUNDING_DB : 0.005) ? formatSigned(gives, 'decibel', 1) : '';
}

/** Parts that were typed may bring a section far from what it is asked for, as a share. */
const FAR = 0.03;
/** Where a section stands, when that is far from where it is meant. */
function standsText({ target, got }: DeskStage): string {
  if (!target || target.order === 0 || got.freqHz === null || !(Math.abs(got.freqHz / target.freqHz - 1) > FAR))
    return '';
  return `now ${formatQuantity(got.freqHz, 'frequency', { digits: 3 })}`;
}
