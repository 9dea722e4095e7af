'use client';

import { Button, Input, Select } from 'antd';
import { memo } from 'react';
import { DeleteOutlined, PlusOutlined } from '@ant-design/icons';
import { alignmentById, ALIGNMENTS } from '@/core/filter/alignments/index';
import type { MaskLimit, Plan } from '@/core/design/schema';
import type { Alignment } from '@/core/filter/alignments/define-alignment';
import { bandEdges, isBand, ordersIn, PLAN_RESPONSES } from '@/core/filter/plan-sections';
import { PLAN_NAMES } from '@/core/filter/response-names';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { beginGesture, documentStore, edit, endGesture, useDesign } from '@/store/document';
import { changePlan, currentVariantOf, currentWayOf, removePlan } from '@/store/edits';
import { addLimit, changeBrief, changeLimit, removeLimit } from '@/store/record-edits';
import { DESK } from '@/store/questions/live';
import { useAnswerToRead } from '@/store/questions/question';
import { useDesignToRead } from '@/store/use-design-to-read';
import { MatchBrief } from './match-brief';
import { OwnSections } from './own-sections';

/**
 * What is wanted: response, cutoff, order, gain; from what, into what, at what level, on what supply; and what must be
 * met.
 */
export function Brief() {
  const plans = useDesignToRead((d) => currentWayOf(d).plans);
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

function PlanForm({ plan }: { plan: Plan }) {
  const alignment: Alignment = alignmentById(plan.alignment);
  const band = isBand(plan.response);
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
      )}
      {plan.alignment === 'custom' && plan.custom && <OwnSections planId={plan.id} sections={plan.custom} />}
      <p className="quiet reason">
        {alignment.reason}
        {band && <> {bandWords(plan)}</>}
      </p>
    </section>
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
        className="plan-response"
        aria-label="Response"
        value={response}
        onChange={(wanted) => change({ response: wanted })}
        options={RESPONSES}
        popupMatchSelectWidth={false}
      />
      <Select
        className="plan-alignment"
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

function Surroundings() {
  const brief = useDesign((d) => d.brief);
  const change = (patch: Partial<typeof brief>) => edit(changeBrief(patch));
  const { supply } = brief;
  return (
    <section className="panel" aria-label="Surroundings">
      <div className="field-row">
        <div className="field">
          <label htmlFor="source-name">from</label>
          <Input
            id="source-name"
            value={brief.source.name}
            maxLength={60}
            onChange={(e) => change({ source: { ...brief.source, name: e.target.value } })}
          />
        </div>
        <QuantityInput
          label="source resistance"
          kind="resistance"
          series="E12"
          value={brief.source.ohm}
          min={0}
          max={1e9}
          onChange={(v) => v !== null && change({ source: { ...brief.source, ohm: v } })}
          {...gesture}
        />
        <QuantityInput
          label="level, RMS"
          kind="voltage"
          value={brief.signalVolts}
          min={Number.MIN_VALUE}
          max={100}
          onChange={(v) => v !== null && change({ signalVolts: v })}
          {...gesture}
        />
      </div>
      <div className="field-row">
        <div className="field">
          <label htmlFor="load-name">into</label>
          <Input
            id="load-name"
            value={brief.load.name}
            title={brief.load.name}
            maxLength={60}
            onChange={(e) => change({ load: { ...brief.load, name: e.target.value } })}
          />
        </div>
        <QuantityInput
          label="load"
          kind="resistance"
          series="E12"
          value={brief.load.ohm}
          min={Number.MIN_VALUE}
          max={1e12}
          allowEmpty
          placeholder="open"
          onChange={(v) => change({ load: { ...brief.load, ohm: v } })}
          {...gesture}
          testId="load"
        />
        <div className="field">
          <span className="label">supply</span>
          <Select
            aria-label="Supply"
            value={supply.kind}
            onChange={(kind) =>
              change({
                supply:
                  kind === 'dual' ? { kind, volts: supply.volts } : { kind, volts: supply.volts, virtualGroundOhm: 10 },
              })
            }
            options={[
              { value: 'dual', label: 'dual' },
              { value: 'single', label: 'single' },
            ]}
          />
        </div>
        <QuantityInput
          label={supply.kind === 'dual' ? 'each rail' : 'volts'}
          kind="voltage"
          value={supply.volts}
          min={1}
          max={60}
          onChange={(v) => v !== null && change({ supply: { ...supply, volts: v } })}
          {...gesture}
        />
      </div>
      <div className="field">
        <label htmlFor="brief-note">in words</label>
        <Input.TextArea
          id="brief-note"
          autoSize={{ minRows: 2, maxRows: 5 }}
          maxLength={4000}
          value={brief.note}
          placeholder="What must pass, what must go, and why"
          onChange={(e) => change({ note: e.target.value })}
        />
      </div>
    </section>
  );
}

function Limits() {
  const mask = useDesign((d) => d.brief.mask);
  const add = (kind: MaskLimit['kind']) => {
    const { design } = documentStore.getState();
    const plan = design ? currentWayOf(design).plans.at(-1) : undefined;
    const low = plan?.response !== 'highpass';
    const corner = plan?.cutoffHz ?? 1000;
    const pass = kind === 'at-most';
    const octave = pass === low ? 0.5 : 2;
    edit(
      addLimit({
        kind,
        side: pass === low ? 'below' : 'above',
        freqHz: Number((corner * octave).toPrecision(2)),
        db: pass ? 1 : 24,
      }),
    );
  };
  return (
    <section className="panel" aria-label="What must be met">
      <header>
        <h2>What must be met</h2>
        <span>
          <Button size="small" type="text" icon={<PlusOutlined />} onClick={() => add('at-most')}>
            pass limit
          </Button>
          <Button size="small" type="text" icon={<PlusOutlined />} onClick={() => add('at-least')}>
            stop limit
          </Button>
        </span>
      </header>
      {mask.length === 0 && (
        <p className="quiet reason">
          Nothing is asked for yet. A pass limit says how far the pass band may fall, a stop limit how far the stop band
          must; both are drawn on the curves.
        </p>
      )}
      {mask.map((limit) => (
        <Limit key={limit.id} limit={limit} />
      ))}
    </section>
  );
}

const Limit = memo(function Limit({ limit }: { limit: MaskLimit }) {
  const change = (patch: Partial<MaskLimit>) => edit(changeLimit(limit.id, patch));
  return (
    <div className="limit-row">
      <span>{limit.kind === 'at-most' ? 'at most' : 'at least'}</span>
      <QuantityInput
        label="dB down"
        hideLabel
        small
        kind="decibel"
        step={1}
        min={0}
        max={200}
        value={limit.db}
        onChange={(v) => v !== null && change({ db: v })}
        {...gesture}
      />
      <span>down</span>
      <Select
        size="small"
        aria-label="Side"
        value={limit.side}
        onChange={(side) => change({ side })}
        options={[
          { value: 'below', label: 'below' },
          { value: 'above', label: 'above' },
        ]}
      />
      <QuantityInput
        label="frequency"
        hideLabel
        small
        kind="frequency"
        min={Number.MIN_VALUE}
        max={1e9}
        value={limit.freqHz}
        onChange={(v) => v !== null && change({ freqHz: v })}
        {...gesture}
      />
      <Button
        size="small"
        type="text"
        icon={<DeleteOutlined />}
        aria-label="Remove this limit"
        onClick={() => edit(removeLimit(limit.id))}
      />
      <Verdict limitId={limit.id} />
    </div>
  );
});

function Verdict({ limitId }: { limitId: string }) {
  const verdict = useAnswerToRead(DESK, (d) => d.brief.find((v) => v.limitId === limitId));
  if (!verdict) return null;
  return (
    <span className={`verdict ${verdict.met ? 'live' : 'bad'}`} data-testid="brief-verdict">
      {verdict.met ? '✓ met' : '✗ missed'} by{' '}
      <span className="figures">{formatSigned(Math.abs(verdict.byDb), 'decibel').replace('+', '')}</span> at{' '}
      <span className="figures">{formatQuantity(verdict.atHz, 'frequency', { digits: 3 })}</span>
    </span>
  );
}
