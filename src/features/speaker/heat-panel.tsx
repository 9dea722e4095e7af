'use client';

import { calledIn } from '@/core/design/stages/designators';
import { Select } from 'antd';
import { gradeById, gradesFor, lossOhm, priceOf, type Grade } from '@/core/parts/grades';
import type { PartKind } from '@/core/topology/kit/part';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import type { Preferences, Variant } from '@/core/design/document/schema';
import type { Acoustics, PartPower } from '@/core/jobs/loudspeaker/acoustics-types';
import type { Excursion } from '@/core/jobs/loudspeaker/excursion';
import { variantPrice } from '@/core/design/stages/price';
import { useView } from '@/store/view';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { setGrade, setGrades } from '@/store/edits/speaker-edits';

const GRADED = ['inductor', 'capacitor', 'resistor'] as const;
type Graded = (typeof GRADED)[number];
const isGraded = (kind: PartKind): kind is Graded => (GRADED as readonly PartKind[]).includes(kind);
const USUAL = 'usual';

/** A part of a way with how it is made and how hot it gets. */
interface Row {
  readonly key: string;
  readonly stage: string;
  readonly part: string;
  readonly called: string;
  readonly kind: Graded;
  readonly way: string;
  readonly value: number;
  readonly own: string | undefined;
  readonly grade: Grade | undefined;
  readonly heat: PartPower | undefined;
}

function rowsOf({ ways, power }: Acoustics, variant: Variant, grades: Preferences['grades']): Row[] {
  const stages = variant.ways.flatMap((way) => way.stages);
  return ways.flatMap((way) =>
    way.stages
      .filter((s) => !s.bypassed)
      .flatMap((s) =>
        s.parts.flatMap(({ name, kind, leftOut, chosen }): Row[] => {
          if (leftOut || !isGraded(kind)) return [];
          const own = stages.find((x) => x.id === s.id)?.parts[name]?.grade;
          return [
            {
              key: `${s.id} ${name}`,
              stage: s.id,
              part: name,
              called: calledIn(s, name),
              kind,
              way: way.name,
              value: chosen,
              own,
              grade: gradeById(own ?? grades?.[kind]),
              heat: power.find((x) => x.stageId === s.id && x.part === name),
            },
          ];
        }),
      ),
  );
}

/** Every part of every way with how it is made, what it loses, how hot it gets and what it costs. */
export function HeatPanel() {
  const variant = useDesign(currentVariantOf);
  const grades = useDesign((d) => d.preferences.grades);
  const volts = useDesign((d) => d.brief.signalVolts);
  const acoustics = useAnswer(ACOUSTICS);
  if (variant.join !== 'acoustic' || !acoustics || !acoustics.load) return null;
  return (
    <section className="panel" aria-label="Grades, heat and price" data-testid="heat-panel">
      <header>
        <h2>Grades, heat and price</h2>
        <Price variant={variant} />
      </header>
      <div className="field-row">
        {GRADED.map((kind) => (
          <div key={kind} className="field wide">
            <span className="label">{kind}s as a rule</span>
            <Select
              size="small"
              aria-label={`Grade of ${kind}s`}
              value={grades?.[kind]}
              options={gradesFor(kind).map((g) => ({ value: g.id, label: g.name }))}
              popupMatchSelectWidth={false}
              onChange={(id) => edit(setGrades({ [kind]: id }))}
            />
          </div>
        ))}
      </div>
      <Grades rows={rowsOf(acoustics, variant, grades)} />
      <Drivers volts={volts} power={acoustics.power} excursions={acoustics.excursions} />
      <p className="reason quiet">
        Watts are those of programme of {formatQuantity(volts, 'voltage')} RMS, with less in its highs than noise has;
        volts are those of a sine as loud. A steady sine, or pink noise, heats some parts more.
      </p>
      <p className="reason quiet">
        Some pay for better parts for their sound, others only for a difference that can be measured: what a grade loses
        is in the curves, so flip between two variants to see it.
      </p>
    </section>
  );
}

/** What all parts cost, beside what those of the variant behind do. */
function Price({ variant }: { variant: Variant }) {
  const preferences = useDesign((d) => d.preferences);
  const brief = useDesign((d) => d.brief);
  const ghost = useView((s) => s.ghostVariant);
  const beside = useDesign((d) => d.variants.find((v) => v.id === ghost));
  const total = variantPrice(variant, { preferences, brief }) ?? 0;
  const other = beside && beside.id !== variant.id ? variantPrice(beside, { preferences, brief }) : null;
  return (
    <span>
      <b className="figures" data-testid="network-price">
        {formatFixed(total, 2)}
      </b>
      {other !== null && (
        <span className="quiet">
          {' '}
          {beside?.name} {formatFixed(other, 2)}, the change {formatSigned(total - other, 'ratio', 2)}
        </span>
      )}
    </span>
  );
}

function Grades({ rows }: { rows: readonly Row[] }) {
  return (
    <div className="sheet-scroll" tabIndex={0} role="region" aria-label="Parts with their grades">
      <table className="sheet speaker-figures">
        <thead>
          <tr>
            <th>part</th>
            <th className="number">value</th>
            <th>grade</th>
            <th className="number" title="in series with it">
              loses
            </th>
            <th className="number" title="of programme, 20 Hz to 20 kHz, at the brief’s volts">
              W of programme
            </th>
            <th className="number" title="the most across it with a sine, peak">
              volts
            </th>
            <th className="number">price</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <GradeRow key={row.key} row={row} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function GradeRow({ row: r }: { row: Row }) {
  const over = r.grade?.kind === 'resistor' && (r.heat?.watts ?? 0) > r.grade.watts;
  return (
    <tr>
      <td>
        {r.called} {r.way}
      </td>
      <td className="number">{formatQuantity(r.value, PART_UNITS[r.kind], { digits: 3 })}</td>
      <td>
        <Select
          size="small"
          aria-label={`Grade of ${r.called}, ${r.way}`}
          value={r.own ?? USUAL}
          options={[
            { value: USUAL, label: 'as a rule' },
            ...gradesFor(r.kind).map((g) => ({ value: g.id, label: g.name })),
          ]}
          popupMatchSelectWidth={false}
          onChange={(id) => edit(setGrade(r.stage, r.part, id === USUAL ? undefined : id))}
        />
      </td>
      <td className="number">
        {r.kind === 'resistor' ? '–' : formatQuantity(lossOhm(r.kind, r.value, r.grade), 'resistance', { digits: 2 })}
      </td>
      <td className={over ? 'number bad' : 'number'}>{r.heat === undefined ? '–' : formatFixed(r.heat.watts, 2)}</td>
      <td className="number" title={r.heat?.core ? coreWords(r.heat.core) : undefined}>
        {r.heat?.peakVolts == null ? '–' : formatFixed(r.heat.peakVolts, 1)}
      </td>
      <td className="number">{r.grade ? formatFixed(priceOf(r.value, r.grade), 2) : '–'}</td>
    </tr>
  );
}

/** What the drivers bear: heat with a programme, and how far their cones go with a sine. */
function Drivers({
  volts,
  power,
  excursions,
}: {
  volts: number;
  power: readonly PartPower[];
  excursions: readonly Excursion[];
}) {
  const rows = power.filter((p) => p.stageId === null);
  if (rows.length === 0) return null;
  return (
    <table className="sheet speaker-figures" data-testid="driver-stress">
      <thead>
        <tr>
          <th>with {formatQuantity(volts, 'voltage')}</th>
          <th className="number">takes of programme</th>
          <th className="number" title="peak, with a sine, where it is small against the wave">
            cone goes at most
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => {
          const gone = excursions.find((e) => e.wayId === row.wayId);
          const tooFar = gone && gone.ratingM !== null && gone.metres > gone.ratingM;
          return (
            <tr key={row.wayId}>
              <td>{row.part}</td>
              <td className={row.ratingWatts !== null && row.watts > row.ratingWatts ? 'number bad' : 'number'}>
                {formatFixed(row.watts, 1)}
                {row.ratingWatts === null ? '' : ` of ${row.ratingWatts}`}&#8239;W
              </td>
              <td className={tooFar ? 'number bad' : 'number'}>
                {gone ? `±${millimetres(gone.metres)}` : '–'}
                {gone && gone.ratingM !== null ? ` of ${millimetres(gone.ratingM)}` : ''}&#8239;mm
                {gone && ` at ${formatQuantity(gone.atHz, 'frequency', { digits: 2 })}`}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

const coreWords = ({ peakAmps, fullAmps }: NonNullable<PartPower['core']>): string =>
  `up to ${formatFixed(peakAmps, 1)}\u202fA; about ${formatFixed(fullAmps, 1)}\u202fA fill its core`;
const millimetres = (metres: number): string => formatFixed(1000 * metres, metres < 1e-3 ? 2 : 1);
