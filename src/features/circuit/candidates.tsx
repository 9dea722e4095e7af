'use client';

import { LongList } from '@/ui/fold';
import { Segmented } from 'antd';
import type { Candidate } from '@/core/jobs/desk/compare';
import type { Plan } from '@/core/design/document/schema';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { failureWords } from '@/ui/words/failures';
import { edit, useDesign } from '@/store/document';
import { currentWayOf, setAllTopologies } from '@/store/edits/edits';
import { changePlan } from '@/store/edits/plan-edits';
import { CANDIDATES } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import styles from './circuit.module.css';

const ORDERS: { value: Plan['stageOrder']; label: string }[] = [
  { value: 'low-q-first', label: 'low Q first' },
  { value: 'high-q-first', label: 'high Q first' },
];
const OWN_ORDER: { value: Plan['stageOrder']; label: string } = { value: 'free', label: 'own' };

/** The circuits that could build the whole path, side by side. */
export function Candidates() {
  const candidates = useAnswer(CANDIDATES);
  const plans = useDesign((d) => currentWayOf(d).plans);
  if (plans.length === 0 || plans.every((p) => p.topologies.whole)) return null;
  const order = plans[0].stageOrder;
  return (
    <section className="panel" aria-label="Candidates for the whole path">
      <header>
        <h2>The whole path, built as</h2>
        <Segmented
          size="small"
          aria-label="Order of stages"
          value={order}
          onChange={(stageOrder) => plans.forEach((plan) => edit(changePlan(plan.id, { stageOrder })))}
          options={order === 'free' ? [...ORDERS, OWN_ORDER] : ORDERS}
        />
      </header>
      <LongList label="Comparison of circuits">
        <table className={`sheet ${styles.candidates}`}>
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
          <tbody>
            {candidates?.map((candidate) => (
              <CandidateRow key={candidate.topology} candidate={candidate} />
            ))}
          </tbody>
        </table>
      </LongList>
      <p className="reason quiet">
        {order === 'high-q-first'
          ? 'High Q first: the later stages filter its noise, but its peak must fit the rails.'
          : order === 'low-q-first'
            ? 'Low Q first: the peak of the sharp stage meets a signal already tamed; best headroom.'
            : 'In an order of your own.'}
      </p>
    </section>
  );
}

function CandidateRow({ candidate }: { candidate: Candidate }) {
  const { figures } = candidate;
  return (
    <>
      <tr className={candidate.current ? 'current' : undefined}>
        <td>
          {candidate.current ? (
            <b>{candidate.name}</b>
          ) : (
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
            <td className="number">{formatFixed(figures.worstSensitivityOfQ, 1)}&#8239;%</td>
            <td className="number">{formatSigned(figures.realPartsDb, 'decibel')}</td>
          </>
        )}
      </tr>
      <tr>
        <td colSpan={6} className={`quiet ${styles.candidateReason}`}>
          {candidate.reason}
        </td>
      </tr>
    </>
  );
}
