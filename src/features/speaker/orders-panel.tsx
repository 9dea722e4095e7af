'use client';

import { Button } from 'antd';
import { cascadeResponse } from '@/core/filter/section';
import { alignmentById } from '@/core/filter/alignments/index';
import { planSections, ordersIn } from '@/core/filter/plan-sections';
import { rationalResponse } from '@/core/filter/rational';
import { levelsDb } from '@/core/analysis/curves/response';
import { logGrid } from '@/core/math/grid';
import { passiveLadder } from '@/core/topology/loudspeaker/passive-ladder-circuit';
import { DesignContext } from '@/core/topology/kit/design-context';
import type { Plan } from '@/core/design/document/schema';
import { Glyph } from '@/ui/glyph';
import { edit, useDesign } from '@/store/document';
import { currentWayOf } from '@/store/edits/edits';
import { changePlan } from '@/store/edits/plan-edits';
import styles from './speaker.module.css';

const HIGHEST = 4;
const EXACT = new DesignContext({ chooseFirst: 'capacitors', pinned: {}, pick: (_kind, wanted) => wanted });

/**
 * Orders learnt by doing: what each adds to the ladder, its slope, its own phase, and how far it puts the ways apart.
 */
export function OrdersPanel() {
  const way = useDesign(currentWayOf);
  const plan = way.plans.find((p) => p.topologies.whole && (p.response === 'lowpass' || p.response === 'highpass'));
  if (!plan) return null;
  const orders = ordersIn(plan.response, alignmentById(plan.alignment)).filter((n) => n <= HIGHEST);
  return (
    <section className="panel" aria-label="Orders" data-testid="orders-panel">
      <h2>What each order adds</h2>
      <table className="sheet speaker-figures">
        <thead>
          <tr>
            <th>order</th>
            <th>parts</th>
            <th className="number" title="of this way at the crossover">
              own phase
            </th>
            <th className="number" title="between this way and its mirror image">
              ways apart
            </th>
            <th />
          </tr>
        </thead>
        <tbody>
          {orders.map((order, i) => (
            <OrderRow key={order} plan={plan} order={order} before={orders[i - 1]} />
          ))}
        </tbody>
      </table>
      <p className="reason quiet">
        Steeper keeps drivers out of each other’s way; gentler keeps phase together. At 180° apart one driver is wired
        the other way round; at 90° either way sums alike; a fourth order is two seconds in a row, and its ways come
        together again.
      </p>
    </section>
  );
}

function OrderRow({ plan, order, before }: { plan: Plan; order: number; before: number | undefined }) {
  const current = plan.order === order;
  const circuit = (n: number) =>
    passiveLadder({
      response: plan.response === 'lowpass' ? 'lowpass' : 'highpass',
      alignment: plan.alignment,
      order: n,
      cutoffHz: plan.cutoffHz,
      bandwidthHz: plan.bandwidthHz,
      rippleDb: plan.rippleDb,
      cutoffAt: plan.cutoffAt,
      ohm: 8,
    });
  const topology = circuit(order);
  const parts = topology.parts('normal');
  const fewer = before === undefined ? [] : circuit(before).parts('normal');
  const added = parts.filter((p) => !fewer.some((f) => f.name === p.name));
  const freqHz = logGrid(plan.cutoffHz / 8, plan.cutoffHz * 8, 41);
  const exact = topology.design({}, 'normal', EXACT);
  const levelDb =
    exact.ok && topology.transfer
      ? levelsDb(rationalResponse(topology.transfer('normal', exact.value, {}), freqHz))
      : null;
  const phase = (response: 'lowpass' | 'highpass') => {
    const [re, im] = cascadeResponse(
      planSections({ ...plan, response, order, alignment: alignmentById(plan.alignment) }),
      Float64Array.of(plan.cutoffHz),
    );
    return (Math.atan2(im, re) * 180) / Math.PI;
  };
  const own = phase(plan.response === 'lowpass' ? 'lowpass' : 'highpass');
  const apart = Math.round((((phase('highpass') - phase('lowpass')) % 360) + 360) % 360);
  return (
    <tr className={current ? 'current' : undefined}>
      <td>
        {current ? <b>{order}</b> : order}
        <span className={`quiet ${styles.stacked}`}>{order * 6}&#8239;dB/oct</span>
        <Glyph freqHz={freqHz} levelDb={levelDb} width={44} height={22} />
      </td>
      <td>
        {before === undefined ? (
          parts.map((p) => p.name).join(', ')
        ) : (
          <>
            adds <b>{added.map((p) => `${p.name} ${p.role}`).join(', ')}</b>
          </>
        )}
      </td>
      <td className="number">{`${Math.round(own)}°`.replace('-', '−')}</td>
      <td className="number">
        {apart > 180 ? `${apart - 360}°`.replace('-', '−') : `${apart}°`}
        {apart > 120 && apart < 240 ? (
          <>
            <br />
            reverse one
          </>
        ) : (
          ''
        )}
      </td>
      <td>
        {!current && (
          <Button size="small" aria-label={`Take order ${order}`} onClick={() => edit(changePlan(plan.id, { order }))}>
            take
          </Button>
        )}
      </td>
    </tr>
  );
}
