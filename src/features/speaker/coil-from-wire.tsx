'use client';

import { useMemo, useState } from 'react';
import type { DeskPart } from '@/core/jobs/desk/desk-types';
import { gradeById } from '@/core/parts/grades';
import { woundCoil } from '@/core/parts/wound-coil';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { ACOUSTICS } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { Fold } from '@/ui/fold';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';

const USUAL = { wireMm: 1, formerMm: 25, widthMm: 20 };
const FIELDS = [
  { key: 'wireMm', label: 'wire, mm', min: 0.1, max: 4, step: 0.1 },
  { key: 'formerMm', label: 'former across, mm', min: 4, max: 300, step: 1 },
  { key: 'widthMm', label: 'between cheeks, mm', min: 1, max: 200, step: 1 },
] as const;
const USUAL_HENRY = 1e-3;
const isCoil = ({ kind, leftOut }: DeskPart): boolean => kind === 'inductor' && !leftOut;
const copper = gradeById('air-1.0');

/** An air coil wound by hand: how many turns on a former at hand, what they come to, lose, weigh and cost. */
export function CoilFromWire() {
  const first = useAnswer(
    ACOUSTICS,
    (a) =>
      a.ways
        .flatMap((w) => w.stages)
        .flatMap((s) => s.parts)
        .find(isCoil)?.chosen,
  );
  const [typed, setTyped] = useState<number | null>(null);
  const [made, setMade] = useState(USUAL);
  const henry = typed ?? first ?? USUAL_HENRY;
  const coil = useMemo(
    () =>
      woundCoil(henry, {
        wireM: made.wireMm / 1000,
        radiusM: made.formerMm / 2000,
        widthM: made.widthMm / 1000,
      }),
    [henry, made],
  );
  if (first === undefined) return null;
  const price = (kg: number) => (copper?.kind === 'inductor' ? copper.pricePerGram * kg * 1000 : 0);
  return (
    <Fold name="A coil from wire" title="A coil from wire" outcome="turns on a former at hand" testId="coil-from-wire">
      <div className="field-row">
        <QuantityInput
          label="inductance"
          kind="inductance"
          series="E12"
          value={henry}
          min={1e-6}
          max={0.05}
          onChange={setTyped}
        />
        {FIELDS.map(({ key, ...field }) => (
          <QuantityInput
            key={key}
            {...field}
            kind="ratio"
            value={made[key]}
            onChange={(v) => v !== null && setMade({ ...made, [key]: v })}
          />
        ))}
      </div>
      {coil.ok ? (
        <p className="reason figures" data-testid="wound">
          {coil.value.turns} turns in {coil.value.layers} layers of {coil.value.turnsPerLayer}:{' '}
          {formatQuantity(coil.value.henry, 'inductance', { digits: 3 })},{' '}
          {formatQuantity(coil.value.ohm, 'resistance', { digits: 2 })}, {formatFixed(coil.value.lengthM, 1)}&#8239;m of
          wire, {formatFixed(1000 * coil.value.copperKg, 0)}&#8239;g of copper for{' '}
          {formatFixed(price(coil.value.copperKg), 2)}, {formatFixed(2000 * coil.value.outerRadiusM, 0)}&#8239;mm
          across.
        </p>
      ) : (
        <p className="failure" role="alert">
          {failureWords(coil)}
        </p>
      )}
      <p className="reason quiet">
        Least wire where the winding is as deep as it is wide and a mean turn thrice that across. Scrape or burn the
        enamel off the ends before soldering, with electronics solder only.
      </p>
    </Fold>
  );
}
