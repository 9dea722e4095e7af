'use client';

import { Segmented, Select } from 'antd';
import { type ReactNode } from 'react';
import type { Stage } from '@/core/design/document/schema';
import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { NETWORK_TOPOLOGIES, SECTION_TOPOLOGIES } from '@/core/topology/index';
import { OP_AMP_IDS } from '@/core/device/op-amps';
import { calledThroughout } from '@/core/design/stages/designators';
import { stageTopology } from '@/core/design/stages/stage-topology';
import {
  parametersOf,
  type NetworkTopology,
  type SectionTopology,
  type Topology,
} from '@/core/topology/kit/define-topology';
import { decibels } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { Fold } from '@/ui/fold';
import { isReadTwice, isTallStage, StageSchematic } from '@/ui/stage-schematic';
import { useOpAmpChoices } from '@/store/shelf/op-amps';
import { useSelectedStage } from '@/store/use-selected-stage';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { currentWayOf, followPlan, predistort, retune, setTopology } from '@/store/edits/edits';
import { setDevice } from '@/store/edits/part-edits';
import { setForm, setParameter } from '@/store/edits/network-edits';
import { findTopology } from '@/core/topology/index';
import { usePointing } from '@/store/curves/use-pointing';
import { setView, useView } from '@/store/view';
import { Blocks } from './blocks';
import { Candidates } from './candidates';
import { OpAmps } from './op-amps';
import { Shaping } from './shaping';
import { DeckButton } from '@/ui/deck-dialog';
import { Walk } from './walk';
import { Working } from './working';
import styles from './circuit.module.css';

/**
 * Which circuit: the selected stage drawn, tuned and built one way or another, what else belongs to it, and the
 * candidates for the whole path side by side.
 */
export function Circuit({ children }: { children?: ReactNode }) {
  const { stage, facts } = useSelectedStage();
  const topology = stage && findTopology(stage.topology);
  const shaped = topology?.role === 'network' && topology.shelved === true;
  return (
    <>
      {stage && facts && facts.topology === stage.topology ? (
        <StagePanel stage={stage} facts={facts} />
      ) : (
        <p className="panel quiet">Choose a stage on the path, or add one with the + at its end.</p>
      )}
      {shaped && stage && <Shaping stageId={stage.id} />}
      {children}
      <Candidates />
      <OpAmps />
    </>
  );
}

/** Families whose circuits stand for one another. */
const OPEN: ReadonlySet<Topology['family']> = new Set(['op-amp', 'rc']);
const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };
const named = (t: Topology) => ({ value: t.id, label: t.name });

/** What may stand in a stage's place. */
const othersFor = (topology: Topology, facts: DeskStage): readonly Topology[] =>
  topology.role === 'network'
    ? NETWORK_TOPOLOGIES.filter(
        (t) => t.family === topology.family || (OPEN.has(t.family) && OPEN.has(topology.family)),
      )
    : SECTION_TOPOLOGIES.filter(
        (t) =>
          t.order === topology.order &&
          t.family !== 'loudspeaker' &&
          (!facts.target || t.responses.includes(facts.target.response)),
      );

interface StageProps {
  readonly stage: Stage;
  readonly facts: DeskStage;
  readonly topology: Topology;
}

function StagePanel({ stage, facts }: { stage: Stage; facts: DeskStage }) {
  const plans = useDesign((d) => currentWayOf(d).plans);
  const topology = stageTopology(stage, { plans });
  const { pointed, point } = usePointing(facts.id);
  return (
    <section className="panel" aria-label={facts.name}>
      <header>
        <h2>{facts.name}</h2>
        {facts.retuned && stage.target.kind === 'own' && stage.target.of && (
          <button type="button" className="link" onClick={() => edit(followPlan(stage.id))}>
            follow the plan again
          </button>
        )}
      </header>
      <Choices stage={stage} facts={facts} topology={topology} />
      {stage.predistortion && (
        <p className="reason quiet">
          The values are aimed to make up for the op-amp.{' '}
          <button type="button" className="link" onClick={() => edit(predistort(stage.id, null))}>
            aim at the target itself
          </button>
        </p>
      )}
      {topology.role === 'network' ? (
        <Parameters stage={stage} topology={topology} />
      ) : (
        <Tuning stage={stage} facts={facts} />
      )}
      {topology.role === 'section' && topology.blocks && facts.target && (
        <Blocks
          blocks={topology.blocks(facts.target.response)}
          present={new Set(facts.parts.filter((p) => !p.leftOut).map((p) => p.name))}
          lit={pointed}
          onPoint={point}
        />
      )}
      {isReadTwice(topology, facts.form) && <Readings />}
      <Drawn stage={stage} facts={facts} topology={topology} />
      {(opAmpsOf(topology, facts.form) > 0 || topology.family === 'voltage-controlled') && (
        <Fold name="Walk" title="Walk the signal" outcome="part by part: where it goes, what it does, what comes back">
          <Walk facts={facts} onPoint={point} />
        </Fold>
      )}
      {topology.cautions.map((caution) => (
        <p key={caution} className="reason caution">
          {calledThroughout(facts, caution)}
        </p>
      ))}
      <p className="reason quiet">From: {topology.sources.join('; ')}.</p>
    </section>
  );
}

/** Which circuit a stage is, in which form, with which op-amp. */
function Choices({ stage, facts, topology }: StageProps) {
  const opAmps = useOpAmpChoices();
  const others = othersFor(topology, facts);
  return (
    <div className="field-row">
      {stage.target.kind === 'deck' ? (
        <DeckButton stageId={stage.id} deck={stage.target} />
      ) : stage.target.kind === 'plan' ? (
        <p className="reason">{topology.name}</p>
      ) : (
        <div className="field wide">
          <span className="label">circuit</span>
          <Select
            aria-label="Circuit of this stage"
            value={stage.topology}
            onChange={(id) => edit(setTopology(stage.id, id))}
            options={others.map(named)}
            popupMatchSelectWidth={false}
          />
        </div>
      )}
      {topology.role === 'network' && topology.modes.length > 1 && (
        <div className="field wide">
          <span className="label">form</span>
          <Select
            aria-label="Form of this circuit"
            value={stage.mode}
            onChange={(form) => edit(setForm(stage.id, form))}
            options={topology.modes.map((mode) => ({ value: mode, label: MODE_NAMES[mode] ?? mode }))}
          />
        </div>
      )}
      {opAmpsOf(topology, facts.form) > 0 && (
        <div className="field wide">
          <span className="label">op-amp</span>
          <Select
            aria-label="Op-amp of this stage"
            value={stage.device}
            onChange={(id) =>
              edit(
                setDevice(
                  stage.id,
                  id,
                  opAmps.find((o) => o.id === id && !OP_AMP_IDS.includes(id)),
                ),
              )
            }
            options={[
              { value: 'ideal', label: 'Ideal op-amp' },
              ...opAmps.map((o) => ({ value: o.id, label: o.name })),
            ]}
            popupMatchSelectWidth={false}
          />
        </div>
      )}
    </div>
  );
}

/** Its drawing, with the working beside or below it. */
function Drawn({ facts, topology }: StageProps) {
  const { pointed, lit, point } = usePointing(facts.id);
  const tall = useDesign((d) => isTallStage(d, facts));
  return (
    <div className={styles.beside}>
      <div>
        <div
          className={tall ? styles.tall : undefined}
          {...(tall ? { tabIndex: 0, role: 'region', 'aria-label': 'Drawing of the stage' } : {})}
        >
          <StageSchematic
            facts={facts}
            highlighted={lit}
            onPoint={point}
            onPick={(part) => setView({ selectedPart: part })}
          />
        </div>
        <p className="reason">{calledThroughout(facts, topology.reason)}</p>
      </div>
      {tall ? (
        <Fold name="Working" title="Working" outcome="the textbook’s formulas with the numbers in">
          <Working topology={topology} facts={facts} lit={pointed} onPoint={point} />
        </Fold>
      ) : (
        <Working topology={topology} facts={facts} lit={pointed} onPoint={point} />
      )}
    </div>
  );
}

const READINGS = [
  { value: 'built' as const, label: 'as built' },
  { value: 'dc' as const, label: 'as DC sees it' },
  { value: 'signal' as const, label: 'as the signal sees it' },
];

/**
 * The same drawing read as direct current does (no capacitors) or as the signal does (large capacitors and supplies are
 * wires).
 */
function Readings() {
  const reading = useView((s) => s.reading);
  return (
    <Segmented
      size="small"
      aria-label="How the circuit is read"
      value={reading}
      onChange={(value) => setView({ reading: value })}
      options={READINGS}
    />
  );
}

/** Forms by what they leave in and out. */
const MODE_NAMES: Readonly<Record<string, string>> = {
  both: 'top and bottom taken',
  top: 'top taken (Cf)',
  bottom: 'bottom taken (Ci)',
  plain: 'no capacitor',
};

const opAmpsOf = (topology: Topology, form: string): number =>
  (topology as Pick<SectionTopology, 'order'> & { opAmps(form: string): number }).opAmps(form);

/** What a section is tuned to. */
function Tuning({ stage, facts: { target } }: { stage: Stage; facts: DeskStage }) {
  if (!target) return null;
  return (
    <div className="field-row">
      {target.order > 0 && (
        <QuantityInput
          label={target.order === 2 ? 'frequency' : 'cutoff'}
          kind="frequency"
          value={target.freqHz}
          min={Number.MIN_VALUE}
          max={1e9}
          onChange={(v) => v !== null && edit(retune(stage.id, { freqHz: v }))}
          {...gesture}
        />
      )}
      {target.order === 2 && (
        <QuantityInput
          label="Q"
          kind="ratio"
          value={target.q}
          min={0.5}
          max={100}
          onChange={(v) => v !== null && edit(retune(stage.id, { q: v }))}
          {...gesture}
          testId="stage-q"
        />
      )}
      {target.response === 'notch' && (
        <QuantityInput
          label="null"
          kind="frequency"
          value={target.zeroHz ?? target.freqHz}
          min={Number.MIN_VALUE}
          max={1e9}
          onChange={(v) => v !== null && edit(retune(stage.id, { zeroHz: v }))}
          {...gesture}
          testId="stage-null"
        />
      )}
      <QuantityInput
        label="gain"
        kind="decibel"
        step={0.5}
        min={-60}
        max={60}
        value={Number(decibels(target.gain).toFixed(6))}
        onChange={(v) => v !== null && edit(retune(stage.id, { gainDb: v }))}
        {...gesture}
      />
    </div>
  );
}

/** What a circuit asks for of its own. */
function Parameters({ stage, topology }: { stage: Stage; topology: NetworkTopology }) {
  if (stage.target.kind !== 'network') return null;
  const { parameters } = stage.target;
  return (
    <div className="field-row">
      {parametersOf(topology, stage.mode).map(({ name, label, kind, min, max }) => (
        <QuantityInput
          key={name}
          label={label}
          kind={kind}
          value={parameters[name]}
          min={min}
          max={max}
          testId={`parameter-${name}`}
          {...(kind === 'decibel'
            ? { step: 0.5 }
            : kind === 'degree'
              ? { step: 1 }
              : kind === 'resistance'
                ? { series: 'E12' as const }
                : {})}
          onChange={(v) => v !== null && edit(setParameter(stage.id, name, v))}
          {...gesture}
        />
      ))}
    </div>
  );
}
