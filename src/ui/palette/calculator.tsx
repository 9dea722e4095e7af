'use client';

import { Button } from 'antd';
import { useState } from 'react';
import type { Calculator as CalculatorSpec, CalculatorOutput } from '@/core/parts/calculator';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import type { PartChoice } from '@/core/design/document/schema';
import type { SeriesId } from '@/core/parts/preferred';
import { formatQuantity, type QuantityKind } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { documentStore, edit } from '@/store/document';
import { choosePart } from '@/store/edits/part-edits';
import { currentWayOf } from '@/store/edits/edits';
import { DESK } from '@/store/questions/live';
import { viewStore } from '@/store/view';

/** The part of the design that a result may be dropped into: the one in hand. */
function partInHand(): { stageId: string; name: string; unit: string } | null {
  const { design } = documentStore.getState();
  const { selectedStage, selectedPart } = viewStore.getState();
  const stages = design ? currentWayOf(design).stages : [];
  const stage = stages.find((s) => s.id === selectedStage) ?? stages[0];
  const part = DESK.current()
    .value?.stages.find((s) => s.id === stage?.id)
    ?.parts.find((p) => p.name === selectedPart);
  return stage && part && !part.given ? { stageId: stage.id, name: part.name, unit: PART_UNITS[part.kind] } : null;
}

interface CalculatorProps {
  readonly calculator: CalculatorSpec;
  readonly onBack: () => void;
  readonly onDropped: (words: string) => void;
}

/** How a field of a kind is stepped. */
const STEPPED: Readonly<Partial<Record<QuantityKind, { series: SeriesId } | { step: number }>>> = {
  resistance: { series: 'E24' },
  capacitance: { series: 'E6' },
  decibel: { step: 1 },
};

/** One quick calculator: numbers in, numbers out as they are typed, and a result dropped into the part in hand. */
export function Calculator({ calculator, onBack, onDropped }: CalculatorProps) {
  const [given, setGiven] = useState<Readonly<Record<string, number | null>>>(() =>
    Object.fromEntries(calculator.inputs.map((i) => [i.name, i.initial])),
  );
  const answer = calculator.compute(given);
  const part = partInHand();
  return (
    <div className="calculator" data-testid="calculator">
      <div className="field-row">
        {calculator.inputs.map(({ name, label, kind }) => (
          <QuantityInput
            key={name}
            label={label}
            kind={kind}
            value={given[name]}
            allowEmpty
            placeholder="to find"
            {...STEPPED[kind]}
            onChange={(v) => setGiven({ ...given, [name]: v })}
            testId={`calculator-${name}`}
          />
        ))}
      </div>
      <div aria-live="polite">
        {answer.ok ? (
          <Results results={answer.value} part={part} onDropped={onDropped} />
        ) : (
          <p className="reason quiet">
            {answer.code === 'needs-more'
              ? needWords(Number(answer.data.wanted), calculator.inputs.length)
              : `That cannot be: ${answer.data.why}.`}
          </p>
        )}
      </div>
      <p className="reason quiet">
        {part
          ? `${part.name} of the stage in hand is in hand: a result of its kind can be put into it.`
          : 'Take a part in hand (by its name in Values, or on the circuit) to put a result into it.'}
      </p>
      <Button size="small" type="text" onClick={onBack}>
        Back to the list
      </Button>
    </div>
  );
}

interface ResultsProps extends Pick<CalculatorProps, 'onDropped'> {
  readonly results: readonly CalculatorOutput[];
  readonly part: ReturnType<typeof partInHand>;
}

function Results({ results, part, onDropped }: ResultsProps) {
  const drop = ({ value, pair }: CalculatorOutput) => {
    if (!part) return;
    const use: PartChoice['use'] = pair
      ? { kind: pair.joined, values: [...pair.values], typed: true }
      : { kind: 'single', values: [value], typed: true };
    edit(choosePart(part.stageId, part.name, { use }));
    onDropped(`${part.name} is now ${formatQuantity(value, part.unit as 'resistance')}`);
  };
  return (
    <table className="sheet">
      <tbody>
        {results.map((out) => (
          <tr key={out.label}>
            <td>{out.label}</td>
            <td className="number" data-testid="calculator-result">
              <b>{formatQuantity(out.value, out.kind, { digits: 5 })}</b>
            </td>
            <td className="drop">
              {part && part.unit === out.kind && (
                <Button size="small" onClick={() => drop(out)}>
                  Put into {part.name}
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const needWords = (wanted: number, inputs: number): string =>
  inputs - wanted === 1 && inputs > 1
    ? `Fill in ${wanted} and leave empty the one to find.`
    : `${wanted === 1 ? 'One number' : `${wanted} numbers`} wanted.`;
