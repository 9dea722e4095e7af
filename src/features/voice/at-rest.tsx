'use client';

import type { Sag } from '@/core/jobs/voice/sag';
import { Select } from 'antd';
import { useState } from 'react';
import { BATTERIES, discharge } from '@/core/device/batteries';
import { centsBetween, formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { minus, SmallChart } from '@/ui/chart/small-chart';
import { QuantityInput } from '@/ui/quantity-input';
import { useDesign } from '@/store/document';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { useDesignJob } from '@/store/use-design-job';
import { Panel } from '@/ui/panel';

const volts = (v: number) => formatQuantity(v, 'voltage', { digits: 3 });
const amps = (v: number) => formatQuantity(v, 'current', { digits: 3 });

const STOPPED_BY = {
  rest: 'no rest is found there: a transistor or a current has no room left under the rail',
  'op-amps': 'its op-amps have no room left',
} as const;

/** What to measure first on the bench, what it takes from its battery, and what changes as that sags. */
export function AtRest() {
  const rest = useDesignJob('rest', {});
  const stages = useAnswer(DESK, (d) => d.stages);
  const opAmps = useAnswer(DESK, (d) => d.supplyAmps) ?? 0;
  if (!rest) return null;
  const nameOf = (id: string) => stages?.find((s) => s.id === id)?.name ?? '';
  return (
    <>
      <Panel name="At rest" testId="at-rest">
        <header>
          <h2>At rest, to check first on the bench</h2>
          <span className="figures quiet">{amps(rest.supplyAmps + opAmps)}</span>
        </header>
        <p className="reason quiet">
          Volts are counted from {rest.from === 'ground' ? 'ground' : 'the battery’s minus'}; amperes go into collectors
          and anodes.
        </p>
        {rest.stages.map((s) => (
          <div key={s.stageId}>
            {rest.stages.length > 1 && <h3>{nameOf(s.stageId)}</h3>}
            <div className="rest-nodes">
              {Object.entries(s.volts).map(([node, v]) => (
                <span key={node} className="figures">
                  <span className="quiet">{node}</span> {volts(v)}
                </span>
              ))}
              {Object.entries(s.amps).map(([device, a]) => (
                <span key={device} className="figures">
                  <span className="quiet">{device}</span> {amps(a)}
                </span>
              ))}
            </div>
          </div>
        ))}
      </Panel>
      <Battery restAmps={rest.supplyAmps} opAmps={opAmps} />
    </>
  );
}

/** What a battery of a kind does under this circuit, whatever it holds. */
function useBattery(wholeAmps: number) {
  const [type, setType] = useState(BATTERIES[0].id);
  const [own, setOwn] = useState<number | null>(null);
  const sag = useDesignJob('sag', {});
  const supply = useDesign((d) => d.brief.supply);
  const battery = BATTERIES.find((b) => b.id === type) ?? BATTERIES[0];
  const held = own ?? battery.ampereHours;
  const nominal = supply.kind === 'dual' ? 2 * supply.volts : supply.volts;
  const drawn = sag?.points.map((p) => ({ volts: p.supplyVolts, amps: p.restAmps })) ?? [];
  const run = discharge(
    { ...battery, ampereHours: held },
    nominal,
    drawn.length > 0 ? drawn : [{ volts: nominal, amps: wholeAmps }],
    sag?.stopsAtVolts ?? null,
  );
  const choose = (id: typeof type) => {
    setType(id);
    setOwn(null);
  };
  return { type, choose, held, hold: setOwn, sag, single: supply.kind === 'single', nominal, run };
}

function Battery({ restAmps, opAmps }: { restAmps: number; opAmps: number }) {
  const whole = restAmps + opAmps;
  const { type, choose, held, hold, sag, single, nominal, run } = useBattery(whole);
  if (whole <= 0) return null;
  const full = sag?.points[0];
  const lasts = run.hours[run.hours.length - 1];
  return (
    <section className="panel" aria-label="Battery" data-testid="battery">
      <h2>{single ? 'Battery' : 'Supply'}</h2>
      <div className="field-row">
        <div className="field wide">
          <span className="label">of the kind</span>
          <Select
            aria-label="Kind of battery"
            value={type}
            popupMatchSelectWidth={false}
            options={BATTERIES.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={choose}
          />
        </div>
        <QuantityInput
          label="holding, Ah"
          kind="ratio"
          step={0.1}
          value={held}
          min={0.01}
          max={100}
          onChange={(v) => v !== null && hold(v)}
        />
      </div>
      <p className="reason">
        It runs{' '}
        <b className="figures" data-testid="battery-hours">
          {Math.round(lasts)}
        </b>{' '}
        hours on it{opAmps > 0 ? `, ${amps(opAmps)} of its ${amps(whole)} in op-amps` : ''}
        {run.stopped && sag?.stopsAtVolts
          ? `: then it is down to ${volts(sag.stopsAtVolts)}, and ${STOPPED_BY[sag.stoppedBy ?? 'rest']}.`
          : ', until it is empty.'}
      </p>
      <Discharge run={run} nominal={nominal} />
      {full && sag && sag.points.length > 1 && <SagTable points={sag.points} full={full} />}
      {sag && sag.stopsAtVolts !== null && (
        <p className="reason bad" data-testid="sag-stops">
          At {volts(sag.stopsAtVolts)} it stops: {STOPPED_BY[sag.stoppedBy ?? 'rest']}.
        </p>
      )}
      {full && <p className="reason quiet">The parts stay what they are; lines under the first are changes from it.</p>}
    </section>
  );
}

function Discharge({ run, nominal }: { run: ReturnType<typeof discharge>; nominal: number }) {
  const lasts = run.hours[run.hours.length - 1];
  return (
    <SmallChart
      testId="battery-chart"
      height={130}
      lines={[{ name: 'volts', x: run.hours, y: run.volts }]}
      x={{ from: 0, to: lasts, labelled: [0, lasts / 4, lasts / 2, (3 * lasts) / 4, lasts], format: minus }}
      y={{
        from: 0,
        to: Math.ceil(run.volts[0]),
        labelled: [0, Math.round(nominal / 2), nominal],
        format: minus,
      }}
      title="what is left of its volts, against hours"
      xUnit="h"
    />
  );
}

/** Volt by volt: what it draws, how loud it is and where it cuts off; under the first line as changes from it. */
function SagTable({ points, full }: { points: Sag['points']; full: Sag['points'][number] }) {
  return (
    <table className="sheet" data-testid="sag">
      <thead>
        <tr>
          <th className="number">volts</th>
          <th className="number">current</th>
          <th className="number">highest</th>
          <th className="number">at</th>
          <th className="number">−3 dB point</th>
        </tr>
      </thead>
      <tbody>
        {points.map((p) => (
          <tr key={p.supplyVolts}>
            <td className="number">{formatFixed(p.supplyVolts, 1)}</td>
            <td className="number">{amps(p.restAmps)}</td>
            {p.singsHz !== null && (
              <td colSpan={2} className="number">
                oscillates at {formatQuantity(p.singsHz, 'frequency', { digits: 3 })}
              </td>
            )}
            {p.singsHz === null && (
              <td className="number">
                {formatSigned(
                  p === full || p.topDb === null || full.topDb === null ? p.topDb : p.topDb - full.topDb,
                  'decibel',
                  1,
                )}
              </td>
            )}
            {p.singsHz === null && <td className="number">{formatQuantity(p.topHz, 'frequency', { digits: 3 })}</td>}
            <td className="number">
              {p === full || p.cutoffHz === null || full.cutoffHz === null
                ? formatQuantity(p.cutoffHz, 'frequency', { digits: 3 })
                : `${formatSigned(centsBetween(full.cutoffHz, p.cutoffHz), 'ratio', 0)} cents`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
