'use client';

import { Select, Segmented } from 'antd';
import { useState } from 'react';
import { OP_AMPS } from '@/core/device/op-amps';
import { topologyById, TOPOLOGIES } from '@/core/topology/index';
import type { DeskStage } from '@/core/jobs/desk-types';
import type { Candidate } from '@/core/jobs/compare';
import type { Plan, Stage } from '@/core/design/schema';
import { decibels, formatQuantity, formatSigned } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words';
import { StageSchematic } from '@/ui/stage-schematic';
import { useSelectedStage } from '@/store/use-selected-stage';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { changePlan, currentVariantOf, followPlan, retune, setAllTopologies, setDevice, setTopology } from '@/store/edits';
import { useResults } from '@/store/results';

/** Which circuit: the selected stage drawn, tuned and built one way or another, and the candidates for the whole path side by side. */
export function Circuit() {
  const { stage, facts } = useSelectedStage();
  return (
    <>
      {stage && facts ? <StagePanel stage={stage} facts={facts} /> : <p className="panel quiet">Choose a stage on the path.</p>}
      <Candidates />
    </>
  );
}

const OP_AMP_OPTIONS = [{ value: 'ideal', label: 'Ideal op-amp' }, ...OP_AMPS.map((o) => ({ value: o.id, label: o.name }))];
const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };

function StagePanel({ stage, facts }: { stage: Stage; facts: DeskStage }) {
  const topology = topologyById(stage.topology);
  const [lit, setLit] = useState<string | null>(null);
  const { target } = facts;
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
      <div className="field-row">
        <div className="field wide">
          <span className="label">circuit</span>
          <Select
            aria-label="Circuit of this stage" value={stage.topology} onChange={(id) => edit(setTopology(stage.id, id))}
            options={TOPOLOGIES.filter((t) => t.order === topology.order && t.family !== 'loudspeaker').map((t) => ({ value: t.id, label: t.name }))}
          />
        </div>
        {topology.opAmps > 0 && (
          <div className="field wide">
            <span className="label">op-amp</span>
            <Select aria-label="Op-amp of this stage" value={stage.device} onChange={(id) => edit(setDevice(stage.id, id))} options={OP_AMP_OPTIONS} popupMatchSelectWidth={false} />
          </div>
        )}
      </div>
      <div className="field-row">
        {target.order > 0 && <QuantityInput label={target.order === 2 ? 'frequency' : 'cutoff'} kind="frequency" value={target.freqHz} min={Number.MIN_VALUE} max={1e9} onChange={(v) => v !== null && edit(retune(stage.id, { freqHz: v }))} {...gesture} />}
        {target.order === 2 && <QuantityInput label="Q" kind="ratio" value={target.q} min={0.5} max={100} onChange={(v) => v !== null && edit(retune(stage.id, { q: v }))} {...gesture} testId="stage-q" />}
        <QuantityInput label="gain" kind="decibel" step={0.5} min={-60} max={60} value={Number(decibels(target.gain).toFixed(6))} onChange={(v) => v !== null && edit(retune(stage.id, { gainDb: v }))} {...gesture} />
      </div>
      <StageSchematic facts={facts} highlighted={lit} onPoint={setLit} />
      <p className="reason">{topology.reason}</p>
      <table className="sheet working">
        <tbody>
          {topology.working(target, Object.fromEntries(facts.parts.map((p) => [p.name, p.exact]))).map((line) => (
            <tr key={line.says}>
              <td className="quiet">{line.says}</td>
              <td className="formula">{line.formula}</td>
              <td className="number">{line.value}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {topology.cautions.map((caution) => (
        <p key={caution} className="reason quiet">
          {caution}
        </p>
      ))}
    </section>
  );
}

const ORDERS: { value: Plan['stageOrder']; label: string }[] = [{ value: 'low-q-first', label: 'low Q first' }, { value: 'high-q-first', label: 'high Q first' }];
const OWN_ORDER: { value: Plan['stageOrder']; label: string } = { value: 'free', label: 'own' };

function Candidates() {
  const candidates = useResults((s) => s.candidates);
  const plans = useDesign((d) => currentVariantOf(d).ways[0].plans);
  if (plans.length === 0) return null;
  const order = plans[0].stageOrder;
  return (
    <section className="panel" aria-label="Candidates for the whole path">
      <header>
        <h2>The whole path, built as</h2>
        <Segmented size="small" aria-label="Order of stages" value={order} onChange={(stageOrder) => plans.forEach((plan) => edit(changePlan(plan.id, { stageOrder })))} options={order === 'free' ? [...ORDERS, OWN_ORDER] : ORDERS} />
      </header>
      <div className="sheet-scroll" tabIndex={0} role="region" aria-label="Comparison of circuits">
        <table className="sheet candidates">
          <thead>
            <tr>
              <th>circuit</th>
              <th className="number">parts</th>
              <th className="number">R : 1</th>
              <th className="number">C : 1</th>
              <th className="number">Q per %</th>
              <th className="number">real parts</th>
            </tr>
          </thead>
          <tbody>{candidates?.map((candidate) => <CandidateRow key={candidate.topology} candidate={candidate} />)}</tbody>
        </table>
      </div>
      <p className="reason quiet">{order === 'high-q-first' ? 'High Q first: the later stages filter its noise, but its peak must fit the rails.' : order === 'low-q-first' ? 'Low Q first: the peak of the sharp stage meets a signal already tamed; best headroom.' : 'In an order of your own.'}</p>
    </section>
  );
}

function CandidateRow({ candidate }: { candidate: Candidate }) {
  const { figures } = candidate;
  return (
    <>
      <tr className={candidate.current ? 'current' : undefined}>
        <td>
          {candidate.current ? <b>{candidate.name}</b> : (
            <button type="button" className="link" onClick={() => edit(setAllTopologies(candidate.topology))}>
              {candidate.name}
            </button>
          )}
        </td>
        {'ok' in figures ? (
          <td colSpan={5} className="bad">
            {failureWords(figures)}
          </td>
        ) : (
          <>
            <td className="number">{figures.partCount}</td>
            <td className="number">{formatQuantity(figures.resistorSpread, 'ratio', { digits: 3 })}</td>
            <td className="number">{formatQuantity(figures.capacitorSpread, 'ratio', { digits: 3 })}</td>
            <td className="number">{figures.worstSensitivityOfQ.toFixed(1)} %</td>
            <td className="number">{formatSigned(figures.realPartsDb, 'decibel')}</td>
          </>
        )}
      </tr>
      <tr>
        <td colSpan={6} className="quiet candidate-reason">
          {candidate.reason}
        </td>
      </tr>
    </>
  );
}
