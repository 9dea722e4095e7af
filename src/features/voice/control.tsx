'use client';

import { calledIn } from '@/core/design/stages/designators';
import { useSelectedStage } from '@/store/use-selected-stage';
import type { ControlLaw } from '@/core/jobs/voice/control-law';
import type { Resonance } from '@/core/jobs/voice/resonance';
import { wahAt } from '@/core/topology/voice/wah-inductor';
import { formatQuantity, formatFixed } from '@/core/units/quantity';
import type { Axis } from '@/ui/chart/chart-frame';
import { edit, useDesign } from '@/store/document';
import { choosePart } from '@/store/edits/part-edits';
import { currentVariantOf, currentWayOf } from '@/store/edits/edits';
import { DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { useDesignJob } from '@/store/use-design-job';
import { decibelAxis, logAxis, minus, SmallChart } from '@/ui/chart/small-chart';
import { Fold } from '@/ui/fold';
import styles from './voice.module.css';

/** Less than this that resonance takes is not spoken of. */
const LEAST_LOSS_DB = 0.05;
/** Cents a degree: less is no drift. */
const NO_DRIFT = 0.05;
const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 3 });
const short = (v: number) => formatQuantity(v, 'resistance', { digits: 2, bare: true, tight: true });
const ohm = (v: number) => formatQuantity(v, 'resistance', { digits: 3 });

/** What the control does along its travel, and how near the circuit is to singing. */
export function Control() {
  const law = useDesignJob('control-law', {});
  const control = useDesign((d) => currentVariantOf(d).controls.find((c) => c.id === law?.controlId));
  const { facts } = useSelectedStage();
  if (!law) return null;
  const { points, octaves, worstCents, driftCents, singing, resonance } = law;
  const [first, last] = [points[0], points[points.length - 1]];
  const byCurrent = control?.kind !== 'pedal';
  return (
    <>
      <section className="panel" aria-label="Control and resonance" data-testid="control-panel">
        <h2>{control?.kind === 'pedal' ? 'Pedal, heel to toe' : 'Control and resonance'}</h2>
        {points.length > 2 && (
          <p className="reason" data-testid="control-law">
            From end to end {byCurrent ? 'the control' : 'the pedal'} moves it{' '}
            <b className="figures">{formatFixed(Math.abs(Math.log2(last.freqHz / first.freqHz)), 2)}</b> octaves,{' '}
            {hz(first.freqHz)} to {hz(last.freqHz)}
            {byCurrent ? (
              <>
                ; a straight line through them has {formatFixed(octaves, 2)}, and its worst point lies{' '}
                <b className="figures">{formatFixed(worstCents, 1)} cents</b> off it.
              </>
            ) : (
              <>
                ; Q {formatFixed(first.q, 1)} to {formatFixed(last.q, 1)}.
              </>
            )}
          </p>
        )}
        {points.length > 2 && <LawTable points={points} name={byCurrent ? 'control, %' : 'pedal, %'} />}
        <Capacitor />
        {driftCents !== null && Math.abs(driftCents) > NO_DRIFT && byCurrent && (
          <p className="reason" data-testid="drift">
            A degree warmer moves it <b className="figures">{formatFixed(driftCents, 1)} cents</b> with its currents
            held.
          </p>
        )}
        {singing && (
          <p className="reason" data-testid="singing">
            {singing.sings ? (
              <b>It oscillates.</b>
            ) : (
              <>
                It starts to oscillate at {calledIn(facts, singing.part)} ={' '}
                <b className="figures">{ohm(singing.atOhm)}</b>, now {ohm(singing.nowOhm)}, at {hz(singing.freqHz)}.
              </>
            )}{' '}
            {singing.knob !== null && <>On its pot that is at {Math.round(100 * singing.knob)}&#8239;% of the track.</>}
          </p>
        )}
        {resonance && <LostLevel resonance={resonance} />}
      </section>
      {resonance && <ResonanceCurve resonance={resonance} />}
    </>
  );
}

const SHOWN = [0, 0.2, 0.4, 0.6, 0.8, 1];

function LawTable({ points, name }: { points: ControlLaw['points']; name: string }) {
  const rows = SHOWN.map((position) =>
    points.reduce((a, b) => (Math.abs(b.position - position) < Math.abs(a.position - position) ? b : a)),
  );
  return (
    <div className="sheet-scroll" tabIndex={0} role="region" aria-label="Control against frequency and Q">
      <table className={`sheet speaker-figures ${styles.lawTable}`}>
        <tbody>
          <tr>
            <th>{name}</th>
            {rows.map((r) => (
              <td key={r.position} className="number">
                {Math.round(100 * r.position)}
              </td>
            ))}
          </tr>
          <tr>
            <th>frequency</th>
            {rows.map((r) => (
              <td key={r.position} className="number">
                {formatQuantity(r.freqHz, 'frequency', { digits: 2, bare: true, tight: true })}
              </td>
            ))}
          </tr>
          <tr>
            <th>level there, dB</th>
            {rows.map((r) => (
              <td key={r.position} className="number">
                {minus(Number(r.levelDb.toFixed(1)))}
              </td>
            ))}
          </tr>
          <tr>
            <th>Q</th>
            {rows.map((r) => (
              <td key={r.position} className="number">
                {r.q < 0 ? 'oscillates' : formatFixed(r.q, 1)}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </div>
  );
}

const PEDAL = Array.from({ length: 21 }, (_, i) => i / 20);
const X_PEDAL: Axis = { from: 0, to: 100, labelled: [0, 25, 50, 75, 100], format: String };

/** Of a wah with a coil: what its capacitor seems, from heel to toe. */
function Capacitor() {
  const wah = useDesign((d) => currentWayOf(d).stages.find((s) => s.topology === 'wah-inductor' && !s.bypassed)?.id);
  const facts = useAnswer(DESK, (d) => d.stages.find((x) => x.id === wah));
  if (!wah || facts?.topology !== 'wah-inductor') return null;
  const parts = { ...facts.values, ...Object.fromEntries(facts.parts.map((p) => [p.name, p.chosen])) };
  const at = PEDAL.map((p) => ({ p: 100 * p, nano: 1e9 * wahAt(parts, p).farad }));
  const [low, high] = [at[at.length - 1].nano, at[0].nano];
  return (
    <>
      <SmallChart
        testId="capacitor-chart"
        height={140}
        lines={[{ name: 'C', x: at.map((a) => a.p), y: at.map((a) => a.nano) }]}
        x={X_PEDAL}
        y={logAxis(low, high, minus)}
        title="what C2 seems, nF, against the pedal"
        xUnit="%"
      />
      <p className="reason" data-testid="capacitor-range">
        C2 of {formatQuantity(low * 1e-9, 'capacitance', { digits: 3 })} seems{' '}
        <b className="figures">{formatFixed(high / low, 1)}</b> times as much with the heel down: the amplifier drives
        its far end the other way.
      </p>
    </>
  );
}

/** What resonance takes of the level, and the part that makes it up. */
function LostLevel({ resonance: { stageId, lostDb, makeUp } }: { resonance: Resonance }) {
  const { facts } = useSelectedStage();
  if (Math.abs(lostDb) <= LEAST_LOSS_DB) return null;
  return (
    <p className="reason" data-testid="lost">
      Resonance takes <b className="figures">{formatFixed(lostDb, 1)}&#8239;dB</b> of the level as it stands.{' '}
      {makeUp && (
        <>
          <button
            type="button"
            className="link"
            onClick={() =>
              edit(
                choosePart(stageId, makeUp.part, {
                  use: { kind: 'single', values: [Number(makeUp.ohm.toPrecision(3))] },
                }),
              )
            }
          >
            Make it up: {calledIn(facts, makeUp.part)} {ohm(makeUp.ohm)}
          </button>{' '}
          for {ohm(makeUp.nowOhm)}; it bends that much sooner.
        </>
      )}
    </p>
  );
}

/** Q and level over the resistor that makes it resonate. */
function ResonanceCurve({ resonance: { part, points, lostDb } }: { resonance: Resonance }) {
  const shown = points.flatMap((p) => (p.q !== null && p.q > 0 ? [{ ...p, q: p.q }] : []));
  if (shown.length < 3) return null;
  const onKnob = points[0].knob !== null;
  const x = (p: (typeof points)[number]) => (p.knob !== null ? 100 * p.knob : p.ohm);
  const ohms = points.map((p) => p.ohm);
  const across = onKnob ? X_PEDAL : logAxis(Math.min(...ohms), Math.max(...ohms), short);
  const against = onKnob ? 'the knob' : part;
  const qTop = Math.min(100, Math.max(10, 1.2 * Math.max(...shown.map((p) => p.q))));
  const qs = shown.map((p) => p.q);
  const levels = points.map((p) => p.levelDb ?? NaN);
  return (
    <Fold
      name="Resonance over its part"
      title={`Q and level against ${against}`}
      outcome={`Q ${formatFixed(Math.min(...qs), 1)} to ${formatFixed(Math.max(...qs), 1)}`}
    >
      <SmallChart
        testId="resonance-chart"
        height={150}
        lines={[{ name: 'Q', x: shown.map(x), y: shown.map((p) => Math.min(100, p.q)) }]}
        x={across}
        y={{
          from: 0.4,
          to: qTop,
          log: true,
          labelled: [0.5, 1, 2, 5, 10, 20, 50, 100].filter((v) => v <= qTop),
          format: minus,
        }}
        title={`Q against ${against}`}
        xUnit={onKnob ? '%' : 'Ω'}
      />
      {Math.abs(lostDb) > LEAST_LOSS_DB && (
        <SmallChart
          testId="lost-chart"
          height={120}
          lines={[{ name: 'level', x: points.map(x), y: levels }]}
          x={across}
          y={decibelAxis([levels], 40)}
          title="level well under the cutoff, dB"
          xUnit={onKnob ? '%' : 'Ω'}
        />
      )}
    </Fold>
  );
}
