'use client';

import { Button, Select } from 'antd';
import { calledIn } from '@/core/design/stages/designators';
import type { VoltsPerOctave } from '@/core/jobs/voice/volts-per-octave';
import type { ControlChain } from '@/core/topology/voice/control/control-chain';
import { CONTROL_CHAINS, findChain } from '@/core/topology/voice/control/index';
import { findTopology } from '@/core/topology/index';
import { formatFixed, formatQuantity, formatSigned } from '@/core/units/quantity';
import { beginGesture, edit, endGesture } from '@/store/document';
import { changeChain, setControlChain, setTrimmers } from '@/store/edits/chain-edits';
import { useDesignJob } from '@/store/use-design-job';
import { useSelectedStage } from '@/store/use-selected-stage';
import { minus, SmallChart, type Line } from '@/ui/chart/small-chart';
import { Panel } from '@/ui/panel';
import { Fold } from '@/ui/fold';
import { QuantityInput } from '@/ui/quantity-input';

const OUTSIDE = 'outside';
const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 4 });
const volts = (v: number) => formatQuantity(v, 'voltage', { digits: 3 });
const amps = (v: number) => formatQuantity(v, 'current', { digits: 3 });
const off = (v: number) => `${formatFixed(v, 1)}\u202fcents`;
const fine = (v: number) => `${formatFixed(v, 4)}\u202fV`;
const cents = (v: number) => `${formatSigned(v, 'ratio', 1)}\u202fcents`;
const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };

/** What makes the selected voice's control current, and what it is asked for. */
export function Chain() {
  const { stage } = useSelectedStage();
  const asked = useDesignJob('volts-per-octave', stage?.controlledBy ? {} : null);
  const law = asked && asked.points.length > 1 ? asked : null;
  const topology = stage && findTopology(stage.topology);
  if (!stage || topology?.role !== 'network' || !topology.outlet) return null;
  const made = stage.controlledBy;
  const chain = made && findChain(made.circuit);
  return (
    <>
      <Panel name="What makes the control current" testId="chain-panel">
        <h2>From volts to the control current</h2>
        <div className="field-row">
          <div className="field wide">
            <span className="label">made by</span>
            <Select
              aria-label="What makes the control current"
              value={made?.circuit ?? OUTSIDE}
              popupMatchSelectWidth={false}
              options={[
                ...CONTROL_CHAINS.map(({ id, name }) => ({ value: id, label: name })),
                { value: OUTSIDE, label: 'something that is not on this board' },
              ]}
              onChange={(id) => edit(setControlChain(stage.id, id === OUTSIDE ? null : id))}
            />
          </div>
          {chain && made && chain.forms.length > 1 && (
            <div className="field wide">
              <span className="label">warmth</span>
              <Select
                aria-label="What makes up for warmth"
                value={made.form}
                popupMatchSelectWidth={false}
                options={chain.forms.map((value) => ({ value, label: value }))}
                onChange={(form) => edit(setControlChain(stage.id, chain.id, form))}
              />
            </div>
          )}
          {chain &&
            made &&
            chain.parameters.map(({ name, label, kind, min, max }) => (
              <QuantityInput
                key={name}
                label={label}
                kind={kind}
                value={made.parameters[name]}
                min={min}
                max={max}
                testId={`chain-${name}`}
                onChange={(v) => v !== null && edit(changeChain(stage.id, { [name]: v }))}
                {...gesture}
              />
            ))}
        </div>
        <p className="reason quiet">
          {chain
            ? chain.reason
            : 'The current stands in the circuit as it is, with octaves of its own: nothing on the board makes it.'}
        </p>
        {law && <VoltsLaw law={law} />}
      </Panel>
      {law?.trim && <Trim law={law} />}
      {law && chain && made && <Drift law={law} says={warmthWords(chain, made.form)} />}
    </>
  );
}

/** What the chain makes of volts, measured on the circuit as it stands. */
function VoltsLaw({ law }: { law: VoltsPerOctave }) {
  const { reach, scale, worstCents } = law;
  const between = ([from, to]: readonly [number, number]) => `${hz(from)} to ${hz(to)}`;
  return (
    <>
      {scale ? (
        <p className="reason" data-testid="volts-per-octave">
          An octave takes <b className="figures">{fine(scale.measured)}</b> where {volts(scale.asked)} is asked for;
          over the whole input its worst point lies <b className="figures">{off(worstCents)}</b> off that.
        </p>
      ) : (
        <p className="reason" data-testid="volts-per-octave">
          At {volts(law.points[0].volts)} it gets <b className="figures">{amps(law.points[0].amps)}</b>, at{' '}
          {volts(law.points[law.points.length - 1].volts)}{' '}
          <b className="figures">{amps(law.points[law.points.length - 1].amps)}</b>.
        </p>
      )}
      <p className="reason" data-testid="chain-reach">
        The knob alone goes from {between(reach.knob)}, the pitch input from {between(reach.pitch)}, both together{' '}
        {between(reach.together)}.
      </p>
      {scale && <CentsChart law={law} />}
    </>
  );
}

function CentsChart({ law: { points, worstCents } }: { law: VoltsPerOctave }) {
  const most = Math.max(5, Math.ceil(worstCents / 5) * 5);
  const lines: Line[] = [{ name: 'cents', x: points.map((p) => p.volts), y: points.map((p) => p.cents) }];
  const [from, to] = [points[0].volts, points[points.length - 1].volts];
  return (
    <SmallChart
      testId="cents-chart"
      height={140}
      lines={lines}
      x={{ from, to, labelled: [from, from / 2, 0, to / 2, to], format: minus }}
      y={{ from: -most, to: most, labelled: [-most, 0, most], format: minus }}
      title="cents off the scale, against volts at the pitch input"
      xUnit="V"
    />
  );
}

/** What an instrument shows of it, and how a reading is told. */
const READS = { peak: 'peak', cutoff: '−3 dB', oscillation: 'oscillation' } as const;
const INSTRUMENT = {
  peak: 'a sweep peaks at',
  cutoff: 'a sweep is 3 dB down at',
  oscillation: 'it oscillates at',
} as const;

/** The order in which it is trimmed, and what to read at each step. */
function Trim({ law: { stageId, trim } }: { law: VoltsPerOctave }) {
  const { facts } = useSelectedStage();
  if (!trim || trim.parts.length === 0) return null;
  const off = trim.worstCents;
  const reaches = trim.parts.every((p) => p.ohm >= p.lowOhm && p.ohm <= p.highOhm);
  const ohm = (v: number) => formatQuantity(v, 'resistance', { digits: 4 });
  const between = (p: { lowOhm: number; highOhm: number }) => `${ohm(p.lowOhm)} to ${ohm(p.highOhm)}`;
  const still = trim.readings.find((r) => r.volts === 0);
  const [scale, begin] = (['scale', 'beginning'] as const).map((sets) => trim.parts.find((p) => p.sets === sets));
  return (
    <Fold
      name="Trim"
      title="How it is trimmed"
      outcome={off < 1 ? 'trimmed' : `untrimmed: ${formatFixed(off, 0)} cents off at most`}
    >
      <ol className="reason">
        <li>Warm it up for a quarter of an hour, the cover on. Nothing at the jacks, the knob half way.</li>
        {scale && (
          <li>
            Put −1 and then +1 octave’s volts to the pitch jack and turn {calledIn(facts, scale.part)} until the upper
            is four times the lower: about {ohm(scale.ohm - scale.fixedOhm)} of the trimmer, now{' '}
            {ohm(scale.nowOhm - scale.fixedOhm)}.
          </li>
        )}
        {begin && (
          <li>
            Back to no volts, and turn {calledIn(facts, begin.part)} until {INSTRUMENT[still?.reads ?? 'peak']}{' '}
            {hz(still?.wantedHz ?? NaN)}: about {ohm(begin.ohm - begin.fixedOhm)}, now{' '}
            {ohm(begin.nowOhm - begin.fixedOhm)}.
          </li>
        )}
        <li>Both once more: each moves the other a little.</li>
      </ol>
      <table className="sheet speaker-figures" data-testid="trim-readings">
        <thead>
          <tr>
            <th className="number">at the jack</th>
            <th className="number">as it stands</th>
            <th className="number">to read</th>
            <th>of</th>
            <th className="number">off</th>
          </tr>
        </thead>
        <tbody>
          {trim.readings.map(({ volts: at, reads, nowHz, wantedHz, offCents }) => (
            <tr key={at}>
              <td className="number">{volts(at)}</td>
              <td className="number">{hz(nowHz)}</td>
              <td className="number">{hz(wantedHz)}</td>
              <td>{READS[reads]}</td>
              <td className="number">{cents(offCents)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {reaches ? (
        <Button size="small" onClick={() => edit(setTrimmers(stageId, trim.parts))}>
          Set the trimmers there
        </Button>
      ) : (
        <p className="reason bad" role="status">
          {trim.parts
            .filter((p) => p.ohm < p.lowOhm || p.ohm > p.highOhm)
            .map((p) => `${calledIn(facts, p.part)} would have to be ${ohm(p.ohm)}, and reaches ${between(p)}`)
            .join('; ')}
          . Take another fixed part or a larger trimmer.
        </p>
      )}
    </Fold>
  );
}

const followsIn = (chain: ControlChain, form: string): boolean =>
  chain.parts(form).some(({ perDegreePpm }) => perDegreePpm !== undefined);

/** What else gets warm, and what of the chain makes up for it. */
export function warmthWords(chain: ControlChain, form: string): string {
  const ways = chain.forms.filter((way) => chain.heldAtC(way) !== null || followsIn(chain, way));
  if (ways.length === 0) return 'Everything as warm as that.';
  const held = chain.heldAtC(form);
  const pair =
    held !== null
      ? `the pair held at ${held}\u202f°C`
      : followsIn(chain, form)
        ? 'the tempco resistor with the pair'
        : 'the pair too, with nothing to make up for it';
  return `Everything as warm as that, ${pair}.`;
}

function Drift({ law: { drift, driftAtVolts, centsADegree }, says }: { law: VoltsPerOctave; says: string }) {
  return (
    <Fold
      name="Warmth"
      title="Warmth, the whole chain with its voice"
      outcome={`${formatFixed(centsADegree[0], 1)} cents a degree`}
    >
      <table className="sheet speaker-figures" data-testid="chain-drift">
        <thead>
          <tr>
            <th className="number">°C</th>
            {driftAtVolts.map((v) => (
              <th key={v} className="number">
                at {volts(v)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {drift.map((row) => (
            <tr key={row.temperatureC}>
              <td className="number">{row.temperatureC}</td>
              {row.cents.map((c, i) => (
                <td key={driftAtVolts[i]} className="number">
                  {cents(c)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="reason quiet">
        {says} What is left at no volts is the voice’s own: its currents stay, and kT/q under them does not.
      </p>
    </Fold>
  );
}
