/** An op-amp unit of a board, and in which package and place it sits. */
export interface PlacedUnit {
  /** `U1.2`, or null for a unit that nothing uses. */
  readonly reference: string | null;
  readonly package: string;
  /** A, B, C, D. */
  readonly unit: string;
}

export interface Package {
  readonly name: string;
  readonly opAmp: string;
  readonly units: readonly PlacedUnit[];
}

const LETTERS = 'ABCD';

/**
 * Units of one op-amp put into packages of so many, in the order of the path, so that neighbours share one; the last
 * package's spare units stand at its end.
 */
export function assignPackages(
  amplifiers: readonly { readonly reference: string; readonly name: string }[],
  size: 1 | 2 | 4,
): Package[] {
  const packages: Package[] = [];
  for (const opAmp of new Set(amplifiers.map((a) => a.name))) {
    const units = amplifiers.filter((a) => a.name === opAmp).map((a) => a.reference);
    for (let at = 0; at < units.length; at += size) {
      const name = `IC${packages.length + 1}`;
      packages.push({
        name,
        opAmp,
        units: Array.from({ length: size }, (_, i) => ({
          reference: units[at + i] ?? null,
          package: name,
          unit: LETTERS[i],
        })),
      });
    }
  }
  return packages;
}

/** A lead and the net it is soldered to. */
export interface Lead {
  readonly name: string;
  readonly net: string;
}

/** What a package is fed by, and where the input of a spare unit goes. */
export interface Rails {
  readonly plus: string;
  readonly minus: string;
  readonly spare: string;
}

/**
 * Leads of small packages as they stand in a row; look up the type that is bought. A transistor's base, and a
 * field-effect transistor's gate, are as most types have them.
 */
const IN_A_ROW: readonly (readonly string[])[] = [
  ['collector', 'base', 'emitter'],
  ['drain', 'source', 'gate'],
  ['low', 'wiper', 'high'],
];

/** Leads in the order in which their package has them; as they come where it has none of its own. */
export function inPackageOrder(leads: readonly Lead[]): Lead[] {
  const order = IN_A_ROW.find((names) => leads.some((lead) => names.includes(lead.name)));
  return order ? [...leads].sort((a, b) => order.indexOf(a.name) - order.indexOf(b.name)) : [...leads];
}

/** What each pin of the usual packages of one, two and four op-amps is, by its number: unit and lead, or a rail. */
const OP_AMP_PINS: Readonly<Record<number, readonly (string | null)[]>> = {
  1: [null, 'A −', 'A +', 'V−', null, 'A out', 'V+', null],
  2: ['A out', 'A −', 'A +', 'V−', 'B +', 'B −', 'B out', 'V+'],
  4: ['A out', 'A −', 'A +', 'V+', 'B +', 'B −', 'B out', 'C out', 'C −', 'C +', 'V−', 'D +', 'D −', 'D out'],
};

/**
 * A package's pins by number, null where nothing is joined to one. A spare unit follows the middle of the supply: its
 * output to its minus, its plus there.
 */
export function opAmpLeads(
  name: string,
  units: readonly PlacedUnit[],
  leadsOf: (reference: string) => readonly Lead[],
  { plus, minus, spare }: Rails,
): (Lead | null)[] {
  return OP_AMP_PINS[units.length].map((pin) => {
    if (pin === null) return null;
    if (pin === 'V+') return { name: pin, net: plus };
    if (pin === 'V−') return { name: pin, net: minus };
    const [letter, lead] = pin.split(' ');
    const reference = units.find((u) => u.unit === letter)?.reference;
    if (!reference) return { name: pin, net: lead === '+' ? spare : `${name}${letter} spare` };
    return { name: `${reference} ${lead}`, net: leadsOf(reference).find((p) => p.name === lead)?.net ?? spare };
  });
}

/** An OTA in the usual eight pins: inputs at 2 and 3, control current at 5, output at 6. */
export function otaLeads(reference: string, leads: readonly Lead[], { plus, minus, spare }: Rails): (Lead | null)[] {
  const of = (name: string): Lead => ({ name, net: leads.find((p) => p.name === name)?.net ?? spare });
  const pin = leads.find((p) => p.name === 'control')?.net;
  const control = { name: 'control', net: pin ?? `${reference} control` };
  return [null, of('−'), of('+'), { name: 'V−', net: minus }, control, of('out'), { name: 'V+', net: plus }, null];
}
