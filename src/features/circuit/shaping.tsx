'use client';

import { Button, Input, Select } from 'antd';
import { DeleteOutlined, PlusOutlined } from '@ant-design/icons';
import type { Remedy, Shaping as ShapingFacts, Shelf } from '@/core/jobs/network/shaping';
import type { Nuisance } from '@/core/design/document/schema';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { documentStore, edit, useDesign } from '@/store/document';
import { addNuisance, changeNuisance, currentWayOf, removeNuisance } from '@/store/edits/edits';
import { setForm, setParameter } from '@/store/edits/network-edits';
import { DESK, SHAPING } from '@/store/questions/live';
import { useAnswer, useAnswerToRead } from '@/store/questions/question';
import { setView, useView } from '@/store/view';

const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 3 });
const db = (v: number) => formatQuantity(v, 'decibel', { digits: 3 });
const volts = (v: number) => formatQuantity(v, 'voltage', { digits: 2 });

/**
 * Shaping an amplifier with a capacitor: its shelves by rule and exactly, what there is to gain, the question the other
 * way round, and what it does to nuisances.
 */
export function Shaping({ stageId }: { stageId: string }) {
  const shaping = useAnswer(SHAPING);
  if (shaping?.stageId !== stageId) return null;
  return (
    <>
      <section className="panel" aria-label="Shelves">
        <h2>Where it falls, and where it stops falling</h2>
        {shaping.shelves.length > 0 ? (
          <Shelves shaping={shaping} />
        ) : (
          <p className="reason quiet">No capacitor shapes it: choose a form that takes its top, its bottom or both.</p>
        )}
        <p className="reason">{worthWords(shaping)}</p>
        <p className="reason">{topWords(shaping)}</p>
        {shaping.offset && <p className="reason">{offsetWords(shaping.offset)}</p>}
      </section>
      <TheOtherWay stageId={stageId} shaping={shaping} />
      <Nuisances />
    </>
  );
}

const EDGES: Record<Shelf['edge'], string> = { top: 'top', bottom: 'bottom' };

function Shelves({ shaping: { shelves } }: { shaping: ShapingFacts }) {
  return (
    <table className="sheet parts" data-testid="shelves">
      <thead>
        <tr>
          <th>edge</th>
          <th className="number">falls from</th>
          <th className="number" title="where it levels off, by the rule of thumb">
            to, rule
          </th>
          <th className="number" title="where it levels off">
            exactly
          </th>
          <th className="number">rule off</th>
          <th className="number" title="where the level is 3 dB above the shelf’s floor">
            floor + 3 dB
          </th>
        </tr>
      </thead>
      <tbody>
        {shelves.map(({ edge, fallsHz, levels }) => (
          <tr key={edge}>
            <td>{EDGES[edge]}</td>
            <td className="number">{hz(fallsHz)}</td>
            {levels ? (
              <>
                <td className="number">{hz(levels.ruleHz)}</td>
                <td className="number">
                  <b>{hz(levels.exactHz)}</b>
                </td>
                <td className={`number${Math.abs(levels.errorPct) > 5 ? ' warn' : ''}`}>
                  {formatSigned(levels.errorPct, 'percent', 1)}
                </td>
                <td className="number">{hz(levels.threeAboveHz)}</td>
              </>
            ) : (
              <td className="number" colSpan={4}>
                falls on, past gain one
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function worthWords({ gainDb, inverting, ruleGoodFrom, noiseGain }: ShapingFacts): string {
  if (inverting) return `From ${db(gainDb)} it falls as far as you like: inverting, it has no shelf.`;
  const rule =
    noiseGain >= ruleGoodFrom
      ? `With a gain of ${formatFixed(noiseGain, 1)} the rule of thumb is good to five per cent.`
      : `The rule of thumb is good to five per cent from a gain of ${ruleGoodFrom} on; here, with ` +
        `${formatFixed(noiseGain, 1)}, take the exact corner.`;
  const worth =
    gainDb < 12
      ? ` There is little to take away: at most ${db(gainDb)}.`
      : ` At most ${db(gainDb)} can be taken away: the shelf’s floor is gain one.`;
  return rule + worth;
}

const topWords = ({ ownTopHz, noiseGain }: ShapingFacts): string =>
  ownTopHz === null
    ? 'An ideal op-amp has no top of its own.'
    : `The op-amp’s own top: gain-bandwidth over noise gain ${formatFixed(noiseGain, 1)}, ${hz(ownTopHz)}.`;

function offsetWords({ volts: now, withoutBottomVolts, biasVolts }: NonNullable<ShapingFacts['offset']>): string {
  const cure =
    now < withoutBottomVolts
      ? `Ci keeps it so: without, it would be ${volts(withoutBottomVolts)}.`
      : 'A capacitor in series with Ri would bring its gain for DC down to one.';
  return (
    `Offset at the output: typically ${volts(now)} from the op-amp, ` +
    `${volts(biasVolts)} from its bias current through Rf. ${cure}`
  );
}

const REMEDY: Record<Remedy['id'], string> = {
  capacitor: 'one capacitor',
  'first-order': 'RC, follower',
  'second-order': '2nd order',
};

function TheOtherWay({ stageId, shaping }: { stageId: string; shaping: ShapingFacts }) {
  const goal = useView((s) => s.shapingGoal);
  const { answer } = shaping;
  const apply = () => {
    if (!('hz' in answer)) return;
    const { design } = documentStore.getState();
    const mode = design && currentWayOf(design).stages.find((s) => s.id === stageId)?.mode;
    const edge = answer.parameter === 'topHz' ? 'top' : 'bottom';
    const form = mode === 'both' || mode === edge ? mode : mode === 'plain' ? edge : 'both';
    edit((draft) => {
      setForm(stageId, form)(draft);
      setParameter(stageId, answer.parameter, Number(answer.hz.toPrecision(4)))(draft);
    });
  };
  return (
    <section className="panel" aria-label="The other way round">
      <h2>The other way round</h2>
      <div className="sentence">
        <span>keep {db(shaping.gainDb)} at</span>
        <QuantityInput
          label="keep at"
          hideLabel
          small
          kind="frequency"
          value={goal.keepHz}
          min={1e-3}
          max={1e9}
          onChange={(v) => v !== null && setView({ shapingGoal: { ...goal, keepHz: v } })}
        />
        <span>lose</span>
        <QuantityInput
          label="lose"
          hideLabel
          small
          kind="decibel"
          step={1}
          value={goal.loseDb}
          min={0.1}
          max={100}
          onChange={(v) => v !== null && setView({ shapingGoal: { ...goal, loseDb: v } })}
          testId="lose-db"
        />
        <span>by</span>
        <QuantityInput
          label="lose by"
          hideLabel
          small
          kind="frequency"
          value={goal.loseHz}
          min={1e-3}
          max={1e9}
          onChange={(v) => v !== null && setView({ shapingGoal: { ...goal, loseHz: v } })}
          testId="lose-hz"
        />
        <Button size="small" disabled={!('hz' in answer)} onClick={apply}>
          Set it so
        </Button>
      </div>
      <p className="reason" data-testid="shaping-answer">
        {'hz' in answer
          ? `A corner at ${hz(answer.hz)} does it.`
          : `One capacitor cannot: the shelf’s floor lies ${db(answer.mostDb)} down, and is never quite reached.`}
      </p>
      <table className="sheet">
        <thead>
          <tr>
            <th>remedy</th>
            <th className="number">corner</th>
            <th className="number">costs at {hz(goal.keepHz)}</th>
            <th className="number">takes</th>
            <th className="number">parts</th>
          </tr>
        </thead>
        <tbody>
          {shaping.remedies.map((r) => (
            <tr key={r.id}>
              <td>{REMEDY[r.id]}</td>
              <td className="number">{hz(r.cutoffHz)}</td>
              <td className="number">{db(r.keepLossDb)}</td>
              <td className="number">{db(r.loseDb)}</td>
              <td className="number">
                {r.parts}
                {r.opAmps > 0 ? ' + op-amp' : ''}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

const KINDS: { value: Nuisance['kind']; label: string }[] = [
  { value: 'tone', label: 'tone' },
  { value: 'band', label: 'band' },
];

function Nuisances() {
  const nuisances = useDesign((d) => d.brief.nuisances);
  const read = useAnswerToRead(DESK, (d) => d.nuisances);
  return (
    <section className="panel" aria-label="Nuisances">
      <header>
        <h2>Nuisances, with and without</h2>
        <span>
          <Button
            size="small"
            type="text"
            icon={<PlusOutlined />}
            onClick={() => edit(addNuisance({ name: 'Hum', kind: 'tone', fromHz: 100, toHz: 100, levelDb: -40 }))}
          >
            tone
          </Button>
          <Button
            size="small"
            type="text"
            icon={<PlusOutlined />}
            onClick={() => edit(addNuisance({ name: 'Hiss', kind: 'band', fromHz: 10e3, toHz: 20e3, levelDb: -60 }))}
          >
            band
          </Button>
        </span>
      </header>
      {nuisances.length === 0 && (
        <p className="reason quiet">
          Name a tone or a band that is not wanted, and its level at the source: it is read at the output with and
          without the capacitors.
        </p>
      )}
      {nuisances.map((n) => {
        const got = read?.find((r) => r.id === n.id);
        const change = (patch: Partial<Nuisance>) => edit(changeNuisance(n.id, patch));
        return (
          <div key={n.id} className="nuisance" data-testid="nuisance">
            <Input
              size="small"
              aria-label="Name of the nuisance"
              value={n.name}
              maxLength={60}
              onChange={(e) => change({ name: e.target.value })}
            />
            <Select
              size="small"
              aria-label="Kind of nuisance"
              value={n.kind}
              options={KINDS}
              onChange={(kind) => change({ kind, toHz: kind === 'tone' ? n.fromHz : 2 * n.fromHz })}
            />
            <QuantityInput
              label="from"
              hideLabel
              small
              kind="frequency"
              min={1e-3}
              max={1e9}
              value={n.fromHz}
              onChange={(v) => v !== null && change({ fromHz: v, ...(n.kind === 'tone' ? { toHz: v } : {}) })}
            />
            {n.kind === 'band' ? (
              <QuantityInput
                label="to"
                hideLabel
                small
                kind="frequency"
                min={1e-3}
                max={1e9}
                value={n.toHz}
                onChange={(v) => v !== null && change({ toHz: v })}
              />
            ) : (
              <span />
            )}
            <QuantityInput
              label="level at the source"
              hideLabel
              small
              kind="decibel"
              step={1}
              min={-200}
              max={60}
              value={n.levelDb}
              onChange={(v) => v !== null && change({ levelDb: v })}
            />
            <Button
              size="small"
              type="text"
              icon={<DeleteOutlined />}
              aria-label={`Remove ${n.name}`}
              onClick={() => edit(removeNuisance(n.id))}
            />
            <span className="nuisance-read figures">
              {got ? (
                <>
                  {got.bareDb === null ? '' : `${formatSigned(got.bareDb, 'decibel', 1)} without, `}
                  <b className="live">{formatSigned(got.levelDb, 'decibel', 1)}</b> as built
                  {got.bareDb === null ? '' : `: ${formatSigned(got.levelDb - got.bareDb, 'decibel', 1)}`}
                </>
              ) : (
                ' '
              )}
            </span>
          </div>
        );
      })}
    </section>
  );
}
