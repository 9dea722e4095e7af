'use client';

import { Button, Select } from 'antd';
import { memo } from 'react';
import { DeleteOutlined } from '@ant-design/icons';
import { alignmentById, ALIGNMENTS } from '@/core/filter/alignments/index';
import type { Plan } from '@/core/design/document/schema';
import type { Alignment } from '@/core/filter/alignments/define-alignment';
import { bandEdges, isBand, ordersIn, PLAN_RESPONSES } from '@/core/filter/plan-sections';
import { PLAN_NAMES } from '@/core/filter/response-names';
import { formatQuantity } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { currentVariantOf, currentWayOf } from '@/store/edits/edits';
import { changePlan, removePlan } from '@/store/edits/plan-edits';
import { MatchBrief } from './match-brief';
import { OwnSections } from './own-sections';
import { Limits } from './limits';
import { Surroundings } from './surroundings';
import styles from './brief.module.css';

/**
 * What is wanted: response, cutoff, order, gain; from what, into what, at what level, on what supply; and what must be
 * met.
 */
export function Brief() {
  const plans = useDesign((d) => currentWayOf(d).plans);
  const heard = useDesign((d) => currentVariantOf(d).join === 'acoustic');
  return (
    <>
      {plans.map((plan) => (
        <PlanForm key={plan.id} plan={plan} />
      ))}
      {plans.length === 0 && (
        <p className="panel quiet">This path has no plan. Add a low-pass or a high-pass with the + at its end.</p>
      )}
      <Surroundings />
      {!heard && <Limits />}
      {!heard && <MatchBrief />}
    </>
  );
}

const RESPONSES = PLAN_RESPONSES.map((value) => ({ value, label: PLAN_NAMES[value] }));
const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };

interface PlanProps {
  readonly plan: Plan;
  readonly change: (patch: Partial<Plan>) => void;
}

function PlanForm({ plan }: { plan: Plan }) {
  const alignment: Alignment = alignmentById(plan.alignment);
  const change = (patch: Partial<Plan>) => edit(changePlan(plan.id, patch));
  return (
    <section className="panel" aria-label={PLAN_NAMES[plan.response]}>
      <header>
        <Kind planId={plan.id} response={plan.response} alignment={plan.alignment} />
        <Button
          size="small"
          type="text"
          icon={<DeleteOutlined />}
          aria-label={`Remove the ${PLAN_NAMES[plan.response].toLowerCase()}`}
          title="Remove this plan and its stages"
          onClick={() => edit(removePlan(plan.id))}
        />
      </header>
      <div className="field-row">
        <Where plan={plan} change={change} />
        <Order planId={plan.id} order={plan.order} alignment={plan.alignment} response={plan.response} />
        <QuantityInput
          label="gain"
          kind="decibel"
          step={0.5}
          min={-60}
          max={60}
          value={plan.gainDb}
          onChange={(v) => v !== null && change({ gainDb: v })}
          {...gesture}
        />
      </div>
      {(alignment.hasRipple || alignment.hasAttenuation || alignment.ownCutoff) && (
        <OfAlignment plan={plan} alignment={alignment} change={change} />
      )}
      {plan.alignment === 'custom' && plan.custom && <OwnSections planId={plan.id} sections={plan.custom} />}
      <p className="quiet reason">
        {alignment.reason}
        {isBand(plan.response) && <> {bandWords(plan)}</>}
      </p>
    </section>
  );
}

/** Where it cuts: at its cutoff, or about a centre as broad as its band. */
function Where({ plan, change }: PlanProps) {
  const band = isBand(plan.response);
  return (
    <>
      <QuantityInput
        label={band ? 'centre' : 'cutoff'}
        kind="frequency"
        value={plan.cutoffHz}
        min={Number.MIN_VALUE}
        max={1e9}
        onChange={(v) => v !== null && change({ cutoffHz: v })}
        testId={`cutoff-${plan.response}`}
        {...gesture}
      />
      {band && (
        <QuantityInput
          label="bandwidth"
          kind="frequency"
          value={plan.bandwidthHz}
          min={Number.MIN_VALUE}
          max={1e9}
          onChange={(v) => v !== null && change({ bandwidthHz: v })}
          testId="bandwidth"
          {...gesture}
        />
      )}
    </>
  );
}

/** What only some alignments have. */
function OfAlignment({ plan, alignment, change }: PlanProps & { alignment: Alignment }) {
  return (
    <div className="field-row">
      {alignment.hasAttenuation && (
        <QuantityInput
          label="attenuation"
          kind="decibel"
          step={1}
          min={10}
          max={140}
          value={plan.attenuationDb}
          onChange={(v) => v !== null && change({ attenuationDb: v })}
          testId="attenuation"
          {...gesture}
        />
      )}
      {alignment.hasRipple && (
        <QuantityInput
          label="ripple"
          kind="decibel"
          step={0.1}
          min={0.01}
          max={3}
          value={plan.rippleDb}
          onChange={(v) => v !== null && change({ rippleDb: v })}
          {...gesture}
        />
      )}
      {alignment.ownCutoff && (
        <div className="field wide">
          <span className="label">cutoff means</span>
          <Select
            aria-label="What the cutoff means"
            value={plan.cutoffAt}
            onChange={(cutoffAt) => change({ cutoffAt })}
            options={[
              { value: '-3db', label: '−3 dB' },
              { value: 'own', label: alignment.ownCutoff },
            ]}
          />
        </div>
      )}
    </div>
  );
}

/** Choices that stand still while a cutoff is dragged are not drawn again with it. */
const Kind = memo(function Kind({
  planId,
  response,
  alignment,
}: { planId: string } & Pick<Plan, 'response' | 'alignment'>) {
  const change = (patch: Partial<Plan>) => edit(changePlan(planId, patch));
  return (
    <>
      <Select
        className={styles.planResponse}
        aria-label="Response"
        value={response}
        onChange={(wanted) => change({ response: wanted })}
        options={RESPONSES}
        popupMatchSelectWidth={false}
      />
      <Select
        className={styles.planAlignment}
        aria-label="Alignment"
        value={alignment}
        onChange={(id) => change({ alignment: id })}
        popupMatchSelectWidth={false}
        options={ALIGNMENTS.map((a) => ({ value: a.id as Plan['alignment'], label: a.name }))}
      />
    </>
  );
});

const Order = memo(function Order({
  planId,
  order,
  alignment,
  response,
}: { planId: string } & Pick<Plan, 'order' | 'alignment' | 'response'>) {
  const slope = (n: number) =>
    response === 'allpass'
      ? `${n * 180}° in all`
      : `${(isBand(response) ? n / 2 : n) * 6}\u202fdB/oct${isBand(response) ? ' a side' : ''}`;
  return (
    <div className="field">
      <span className="label">order</span>
      <Select
        aria-label="Order"
        value={order}
        onChange={(wanted) => edit(changePlan(planId, { order: wanted }))}
        options={ordersIn(response, alignmentById(alignment)).map((n) => ({ value: n, label: `${n}  (${slope(n)})` }))}
        labelRender={({ value }) => value}
        popupMatchSelectWidth={false}
      />
    </div>
  );
});

/** Where a band's edges lie. */
function bandWords({ cutoffHz, bandwidthHz }: Plan): string {
  const [low, high] = bandEdges(cutoffHz, bandwidthHz);
  return (
    `From ${formatQuantity(low, 'frequency')} to ${formatQuantity(high, 'frequency')}; the centre is ` +
    `their geometric mean.`
  );
}
