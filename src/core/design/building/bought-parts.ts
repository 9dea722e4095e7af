import type { PlacedPartValue } from '../../parts/parts-list';
import type { Control } from '../document/schema';
import type { DesignedPart } from '../stages/stage-design';

/** Of a trimmer's track. */
const TRIMMER_PCT = 10;

const taperWords = (controls: readonly Control[], id: string): string => {
  const taper = controls.find((c) => c.id === id)?.taper ?? 'linear';
  return typeof taper === 'object' ? 'pot, measured taper' : `pot, ${taper.replace('-', ' ')}`;
};

/**
 * What a place on the board is filled with: one part, or two in series or parallel, or a pot and what keeps it from its
 * end, or a switch and its resistors.
 */
export function boughtParts(part: DesignedPart, reference: string, controls: readonly Control[]): PlacedPartValue[] {
  const { kind } = part.spec;
  if (kind === 'current' || kind === 'voltage') return [];
  const {
    choice: { control: held },
    chosen: value,
    tolerancePct,
  } = part;
  if (held?.kind === 'rheostat') {
    const track = {
      reference,
      kind: 'potentiometer' as const,
      value: held.totalOhm,
      tolerancePct: 20,
      name: taperWords(controls, held.control),
    };
    return held.endOhm > 0
      ? [track, { reference: `${reference} stop`, kind: 'resistor', value: held.endOhm, tolerancePct }]
      : [track];
  }
  if (held?.kind === 'switch')
    return [
      { reference, kind: 'switch', value: held.ohms.length, tolerancePct: 0, name: 'switch, positions' },
      ...held.ohms.map((ohm, i): PlacedPartValue => ({
        reference: `${reference} ${i + 1}`,
        kind: 'resistor',
        value: ohm,
        tolerancePct,
      })),
    ];
  const { use } = part.choice;
  if (use && use.kind !== 'single' && use.values.length === 2)
    return use.values.map((each, i): PlacedPartValue => {
      const trimmer = i === 1 ? part.choice.trimmerOhm : undefined;
      if (trimmer !== undefined)
        return {
          reference: `${reference}b`,
          kind: 'potentiometer',
          value: trimmer,
          tolerancePct: TRIMMER_PCT,
          name: 'trimmer',
        };
      return {
        reference: `${reference}${i === 0 ? 'a' : 'b'}`,
        kind,
        value: each,
        tolerancePct,
      };
    });
  const name = held?.kind === 'wiper' ? taperWords(controls, held.control) : part.grade?.name;
  return [{ reference, kind, value, tolerancePct, ...(name === undefined ? {} : { name }) }];
}
