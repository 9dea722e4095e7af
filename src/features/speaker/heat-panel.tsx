'use client';

import { calledIn } from '@/core/design/designators';
import { Select } from 'antd';
import { gradeById, gradesFor, lossOhm, priceOf, type Grade } from '@/core/parts/grades';
import type { PartKind } from '@/core/topology/kit/part';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { variantPrice } from '@/core/design/price';
import { useView } from '@/store/view';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { setGrade, setGrades } from '@/store/speaker-edits';

const GRADED = ['inductor', 'capacitor', 'resistor'] as const;
type Graded = (typeof GRADED)[number];
const isGraded = (kind: PartKind): kind is Graded => (GRADED as readonly PartKind[]).includes(kind);
const USUAL = 'usual';

/** Every part of every way with how it is made, what it loses, how hot it gets and what it costs. */
export function HeatPanel() {
  const variant = useDesign(currentVariantOf);
  const grades = useDesign((d) => d.preferences.grades);
  const preferences = useDesign((d) => d.preferences);
  const ghost = useView((s) => s.ghostVariant);
  const beside = useDesign((d) => d.variants.find((v) => v.id === ghost));
  const brief = useDesign((d) => d.brief);
  const volts = brief.signalVolts;
  const acoustics = useAnswer(ACOUSTICS);
  if (variant.join !== 'acoustic' || !acoustics || !acoustics.load) return null;
  const rows = acoustics.ways.flatMap((w) =>
    w.stages
      .filter((s) => !s.bypassed)
      .flatMap((s) =>
        s.parts
          .filter((p) => !p.leftOut && isGraded(p.kind))
          .map((p) => {
            const own = variant.ways.flatMap((x) => x.stages).find((x) => x.id === s.id)?.parts[p.name]?.grade;
            const grade = gradeById(own ?? grades?.[p.kind as Graded]);
            return {
              key: `${s.id} ${p.name}`,
              stage: s.id,
              part: p.name,
              called: calledIn(s, p.name),
              kind: p.kind as Graded,
              way: w.name,
              value: p.chosen,
              own,
              grade,
              watts: acoustics.power.find((x) => x.stageId === s.id && x.part === p.name)?.watts,
            };
          }),
      ),
  );
  const total = variantPrice(variant, { preferences, brief }) ?? 0;
  const other = beside && beside.id !== variant.id ? variantPrice(beside, { preferences, brief }) : null;
  const drivers = acoustics.power.filter((p) => p.stageId === null);
  return (
    <section className="panel" aria-label="Grades, heat and price" data-testid="heat-panel">
      <header>
        <h2>Grades, heat and price</h2>
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
              <th className="number">watts</th>
              <th className="number">price</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.key}>
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
                      ...gradesFor(r.kind).map((g: Grade) => ({ value: g.id, label: g.name })),
                    ]}
                    popupMatchSelectWidth={false}
                    onChange={(id) => edit(setGrade(r.stage, r.part, id === USUAL ? undefined : id))}
                  />
                </td>
                <td className="number">
                  {r.kind === 'resistor'
                    ? '–'
                    : formatQuantity(lossOhm(r.kind, r.value, r.grade), 'resistance', { digits: 2 })}
                </td>
                <td
                  className={r.grade?.kind === 'resistor' && (r.watts ?? 0) > r.grade.watts ? 'number bad' : 'number'}
                >
                  {r.watts === undefined ? '–' : formatFixed(r.watts, 2)}
                </td>
                <td className="number">{r.grade ? formatFixed(priceOf(r.value, r.grade), 2) : '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="reason">
        With {formatQuantity(volts, 'voltage')} of programme:{' '}
        {drivers
          .map((d) => `${d.part} takes ${formatFixed(d.watts, 1)}\u202fW${d.ratingWatts ? ` of ${d.ratingWatts}` : ''}`)
          .join(', ')}
        .
      </p>
      <p className="reason quiet">
        Some pay for better parts for their sound, others only for a difference that can be measured: what a grade loses
        is in the curves, so flip between two variants to see it.
      </p>
    </section>
  );
}
