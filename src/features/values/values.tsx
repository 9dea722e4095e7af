'use client';

import { Fold, LongList } from '@/ui/fold';
import { calledIn } from '@/core/design/stages/designators';
import { Checkbox, Select, Segmented } from 'antd';
import { SERIES_IDS } from '@/core/parts/preferred';
import type { DeskPart, DeskStage } from '@/core/jobs/desk/desk-types';
import type { PartDetail } from '@/core/jobs/desk/detail';
import type { Preferences } from '@/core/design/document/schema';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { formatQuantity, formatSigned } from '@/core/units/quantity';
import { PartValue } from '@/ui/part-value';
import { QuantityInput } from '@/ui/quantity-input';
import { isTallStage, StageSchematic, type StageSchematicProps } from '@/ui/stage-schematic';
import { edit, useDesign } from '@/store/document';
import { choosePart } from '@/store/edits/part-edits';
import { currentWayOf, setOutputResistor } from '@/store/edits/edits';
import { changePreferences } from '@/store/edits/record-edits';
import { DETAIL } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { useSelectedStage } from '@/store/use-selected-stage';
import { usePointing } from '@/store/curves/use-pointing';
import { setView, useView } from '@/store/view';
import { ChooseTogether } from './choose-together';
import { Outcome } from './outcome';
import { PartInHand } from './part-in-hand';
import { Turn } from './turn';
import styles from './values.module.css';

/**
 * The table to live in: every part of the selected stage, exact and taken, what it moves and what leaving it out costs.
 */
export function Values() {
  const { facts } = useSelectedStage();
  const { pointed, lit, point } = usePointing(facts?.id);
  return (
    <>
      {facts ? (
        <section className="panel" aria-label={`Values of ${facts.name}`}>
          <Outcome facts={facts} />
          <DrawnStage facts={facts} highlighted={lit} onPoint={point} onPick={pick} />
          <PartTable facts={facts} lit={pointed} onPoint={point} />
          <PartInHand facts={facts} />
          <OutputResistor />
        </section>
      ) : (
        <p className="panel quiet">Choose a stage on the path.</p>
      )}
      <ChooseTogether />
      <Turn />
      <Habits />
    </>
  );
}

/** The drawing by its values; one that takes a screen by itself is drawn when it is asked for. */
function DrawnStage(props: StageSchematicProps) {
  const tall = useDesign((d) => isTallStage(d, props.facts));
  if (!tall) return <StageSchematic {...props} />;
  return (
    <Fold name="Drawing" title="Drawing" outcome="also in Circuit and Schematic">
      <StageSchematic {...props} />
    </Fold>
  );
}

const NOTHING: readonly string[] = [];
const pick = (part: string): void => setView({ selectedPart: part });

function PartTable({
  facts,
  lit,
  onPoint,
}: {
  facts: DeskStage;
  lit: readonly string[];
  onPoint: (parts: readonly string[]) => void;
}) {
  const detail = useAnswer(DETAIL);
  const known = new Map(detail?.map((p) => [p.part, p]));
  // A circuit with neither a cutoff nor a Q of its own has no use for their columns.
  const moves = facts.target !== null || (facts.network?.parameters.some((p) => p.kind === 'frequency') ?? false);
  const rings =
    moves &&
    (facts.target !== null
      ? facts.target.order === 2
      : (facts.network?.parameters.some((p) => p.name === 'q') ?? false));
  return (
    <LongList label="Parts of the stage">
      <table className="sheet parts">
        <thead>
          <tr>
            <th>part</th>
            <th className="number">exact</th>
            <th className="number">use</th>
            <th className="number">off by</th>
            {moves && (
              <th className="number" title="per cent of cutoff per per cent of the part">
                moves f
              </th>
            )}
            {rings && (
              <th className="number" title="per cent of Q per per cent of the part">
                moves Q
              </th>
            )}
            <th className="number" title="worst change in the pass band without it, dB">
              without
            </th>
          </tr>
        </thead>
        <tbody>
          {facts.parts.map((part) => (
            <PartRow
              key={part.name}
              stageId={facts.id}
              part={part}
              called={calledIn(facts, part.name)}
              detail={known.get(part.name)}
              moves={moves}
              rings={rings}
              lit={lit.includes(part.name)}
              onPoint={onPoint}
            />
          ))}
        </tbody>
      </table>
    </LongList>
  );
}

const slope = (v: number | null | undefined): string => formatSigned(v ?? null, 'ratio', 2);

interface PartRowProps {
  readonly stageId: string;
  readonly part: DeskPart;
  /** Its designator. */
  readonly called: string;
  readonly detail: PartDetail | undefined;
  readonly moves: boolean;
  readonly rings: boolean;
  readonly lit: boolean;
  readonly onPoint: (parts: readonly string[]) => void;
}

function PartRow({ stageId, part, called, detail, moves, rings, lit, onPoint }: PartRowProps) {
  const choice = useDesign((d) => currentWayOf(d).stages.find((s) => s.id === stageId)?.parts[part.name]);
  const inHand = useView((s) => s.selectedPart === part.name);
  const off = part.chosen / part.exact - 1;
  return (
    <tr
      className={`${lit ? 'lit' : ''}${inHand ? ` ${styles.inHand}` : ''}`}
      onPointerEnter={() => onPoint([part.name])}
      onPointerLeave={() => onPoint(NOTHING)}
    >
      <td title={part.role}>
        <button
          type="button"
          className={`plain ${styles.partName}`}
          onFocus={() => onPoint([part.name])}
          onBlur={() => onPoint(NOTHING)}
          aria-pressed={inHand}
          aria-label={`${called}, ${part.role}: take in hand`}
          onClick={() => pick(part.name)}
        >
          {called}
        </button>
      </td>
      <td className="number">{formatQuantity(part.exact, PART_UNITS[part.kind], { bare: true })}</td>
      <td className={`use${choice?.use !== undefined ? ' typed' : ''}`}>
        <PartValue stageId={stageId} part={part} called={called} />
      </td>
      <td className="number">
        {part.exact === 0 ? '–' : formatSigned(100 * off, 'percent', Math.abs(off) < 1 ? 1 : 0)}
      </td>
      {moves && <td className="number">{slope(detail?.movesCutoff)}</td>}
      {rings && <td className="number">{slope(detail?.movesQ)}</td>}
      <td className={styles.leaveOut}>
        <LeaveOut stageId={stageId} part={part} called={called} detail={detail} out={choice?.leftOut ?? false} />
      </td>
    </tr>
  );
}

/** Whether it is left out, and what that does or would do. */
function LeaveOut({
  stageId,
  part,
  called,
  detail,
  out,
}: Pick<PartRowProps, 'stageId' | 'part' | 'called' | 'detail'> & { out: boolean }) {
  const cost = detail?.leaveOut ?? null;
  return (
    <>
      <Checkbox
        disabled={part.given}
        checked={out}
        aria-label={`Leave ${called} out ` + (part.leaveOut === 'open' ? '(its place empty)' : '(a wire in its place)')}
        onChange={(e) => edit(choosePart(stageId, part.name, { leftOut: e.target.checked }))}
      />
      <span
        className="figures"
        title={
          cost
            ? `at ${formatQuantity(cost.atHz, 'frequency', { digits: 3 })}, ${part.leaveOut}`
            : 'without it there is no signal to speak of, or no answer'
        }
      >
        {cost ? formatSigned(cost.costDb, 'ratio', 1) : detail ? 'dead' : '…'}
      </span>
    </>
  );
}

/** What stands between the last stage and the load. */
function OutputResistor() {
  const outputOhm = useDesign((d) => currentWayOf(d).outputResistor?.ohm ?? null);
  return (
    <div className={styles.output}>
      <QuantityInput
        label="output R"
        kind="resistance"
        series="E12"
        allowEmpty
        placeholder="none"
        value={outputOhm}
        min={Number.MIN_VALUE}
        max={1e7}
        onChange={(v) => edit(setOutputResistor(v))}
        testId="output-resistor"
      />
    </div>
  );
}

const habitWords = (p: Preferences): string =>
  `resistors ${p.resistorSeries} ± ${p.resistorTolerancePct}\u202f%, ` +
  `capacitors ${p.capacitorSeries} ± ${p.capacitorTolerancePct}\u202f%`;

/** How parts are chosen: series, order of choice, tolerances, symbols; and the way's output resistor. */
function Habits() {
  const preferences = useDesign((d) => d.preferences);
  const change = (patch: Partial<Preferences>) => edit(changePreferences(patch));
  const series = SERIES_IDS.filter((id) => id !== 'E192').map((id) => ({ value: id, label: id }));
  return (
    <Fold name="How parts are chosen" title="How parts are chosen" outcome={habitWords(preferences)}>
      <div className="field-row">
        <div className="field wide">
          <span className="label">choose first</span>
          <Segmented
            size="small"
            aria-label="Choose first"
            value={preferences.chooseFirst}
            onChange={(chooseFirst) => change({ chooseFirst })}
            options={CHOOSE_FIRST}
          />
        </div>
        <div className="field wide">
          <span className="label">resistor symbol</span>
          <Segmented
            size="small"
            aria-label="Resistor symbol"
            value={preferences.resistorSymbol}
            onChange={(resistorSymbol) => change({ resistorSymbol })}
            options={SYMBOLS}
          />
        </div>
      </div>
      <div className="field-row">
        <div className="field">
          <span className="label">resistors</span>
          <Select
            aria-label="Resistor series"
            value={preferences.resistorSeries}
            onChange={(resistorSeries) => change({ resistorSeries })}
            options={series}
          />
        </div>
        <QuantityInput
          label="± %"
          kind="percent"
          step={1}
          min={0.01}
          max={50}
          value={preferences.resistorTolerancePct}
          onChange={(v) => v !== null && change({ resistorTolerancePct: v })}
        />
        <div className="field">
          <span className="label">capacitors</span>
          <Select
            aria-label="Capacitor series"
            value={preferences.capacitorSeries}
            onChange={(capacitorSeries) => change({ capacitorSeries })}
            options={series}
          />
        </div>
        <QuantityInput
          label="± %"
          kind="percent"
          step={1}
          min={0.01}
          max={50}
          value={preferences.capacitorTolerancePct}
          onChange={(v) => v !== null && change({ capacitorTolerancePct: v })}
        />
      </div>
    </Fold>
  );
}

const CHOOSE_FIRST: { value: Preferences['chooseFirst']; label: string }[] = [
  { value: 'capacitors', label: 'capacitors' },
  { value: 'resistors', label: 'resistors' },
];
const SYMBOLS: { value: Preferences['resistorSymbol']; label: string }[] = [
  { value: 'box', label: 'box' },
  { value: 'zigzag', label: 'zigzag' },
];
