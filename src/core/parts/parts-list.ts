import { PART_UNITS } from '../topology/kit/part-units';
import { formatQuantity } from '../units/quantity';

/** One line of a shopping list. */
export interface PartsLine {
  readonly kind: 'resistor' | 'capacitor' | 'inductor' | 'potentiometer' | 'switch' | 'op-amp' | 'device';
  readonly value: number | null;
  readonly name: string;
  readonly tolerancePct: number | null;
  /** Designators on one board. */
  readonly references: readonly string[];
  readonly perBoard: number;
  readonly total: number;
}

export interface PlacedPartValue {
  readonly reference: string;
  readonly kind: 'resistor' | 'capacitor' | 'inductor' | 'potentiometer' | 'switch';
  /** What to ask for besides the value: a pot's taper. */
  readonly name?: string;
  readonly value: number;
  readonly tolerancePct: number;
}

export interface PlacedAmplifier {
  readonly reference: string;
  readonly name: string;
}

/**
 * Gathers equal parts (same kind, value and tolerance) into lines, resistors first, by value; then op-amps, counted in
 * units, and devices.
 */
export function partsList(
  parts: readonly PlacedPartValue[],
  amplifiers: readonly PlacedAmplifier[],
  boards: number,
  devices: readonly PlacedAmplifier[] = [],
): PartsLine[] {
  const lines = new Map<string, PartsLine>();
  const put = (key: string, line: Omit<PartsLine, 'references' | 'perBoard' | 'total'>, reference: string) => {
    const before = lines.get(key);
    const references = [...(before?.references ?? []), reference];
    lines.set(key, { ...line, references, perBoard: references.length, total: references.length * boards });
  };
  for (const { reference, kind, value, tolerancePct, name = '' } of parts)
    put(`${kind} ${value.toPrecision(9)} ${tolerancePct} ${name}`, { kind, value, name, tolerancePct }, reference);
  for (const { reference, name } of amplifiers)
    put(`op-amp ${name}`, { kind: 'op-amp', value: null, name, tolerancePct: null }, reference);
  for (const { reference, name } of devices)
    put(`device ${name}`, { kind: 'device', value: null, name, tolerancePct: null }, reference);
  const rank = { resistor: 0, capacitor: 1, inductor: 2, potentiometer: 3, switch: 4, 'op-amp': 5, device: 6 };
  return [...lines.values()].sort(
    (a, b) => rank[a.kind] - rank[b.kind] || (a.value ?? 0) - (b.value ?? 0) || a.name.localeCompare(b.name),
  );
}

/** A line of the list as it is asked for at the counter. */
export function partText(line: PartsLine): string {
  if (line.kind === 'op-amp' || line.kind === 'device') return line.name;
  if (line.kind === 'switch') return `${line.name}: ${line.value}`;
  return (
    `${formatQuantity(line.value ?? 0, PART_UNITS[line.kind])} ± ${line.tolerancePct} ` +
    `%${line.name ? `, ${line.name}` : ''}`
  );
}
