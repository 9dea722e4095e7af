import type { Package } from '../../parts/packages';
import { neighbours } from '../../parts/preferred';
import { formatQuantity } from '../../units/quantity';
import type { Design, Variant } from '../document/schema';

/** What belongs to a board besides its circuit: what feeds it, and what one plugs into it. */
export interface Besides {
  readonly name: string;
  readonly count: number;
  readonly why: string;
}

/** At each pin of a package that a rail feeds; and once for each rail where it comes onto the board. */
const AT_PACKAGE_FARAD = 100e-9;
const AT_RAIL_FARAD = 10e-6;
/** Halves of a divider for the middle of one supply, ohm; and from where on its capacitor holds that, Hz. */
const HALF_OHM = 10e3;
const HELD_FROM_HZ = 20;

const farad = (value: number): string => formatQuantity(value, 'capacitance', { digits: 3 });

/** Of a variant on the packages it takes, however many devices stand beside them. */
export function besidesOf(
  { brief }: Pick<Design, 'brief'>,
  variant: Variant,
  packages: readonly Package[],
  { otas, rails }: { readonly otas: number; readonly rails: boolean },
): Besides[] {
  const { supply } = brief;
  const [amplifiers, count] = [packages.length + otas, supply.kind === 'dual' ? 2 : 1];
  const choices = variant.ways.flatMap((w) => w.stages.flatMap((s) => Object.values(s.parts)));
  const controlJacks = choices.filter(({ control }) => control?.kind === 'voltage').length;
  const found: Besides[] = [];
  if (amplifiers > 0)
    found.push({
      name: `${farad(AT_PACKAGE_FARAD)} ceramic`,
      count: amplifiers * count,
      why: 'from every rail to ground, at the package it feeds',
    });
  if (amplifiers > 0 || rails) {
    found.push({
      name: `${farad(AT_RAIL_FARAD)} electrolytic`,
      count,
      why: 'from every rail to ground, where it comes onto the board; mind its polarity',
    });
    found.push(
      supply.kind === 'dual'
        ? { name: 'supply connector, three ways', count: 1, why: 'plus, ground, minus; keyed, so that it goes one way' }
        : { name: 'battery clip or socket', count: 1, why: 'mark plus and minus' },
      { name: 'switch for the supply', count: 1, why: 'so that it can be off' },
    );
  }
  if (supply.kind === 'single' && (amplifiers > 0 || rails)) {
    const held = formatQuantity(supply.virtualGroundOhm, 'resistance', { digits: 2 });
    const holds = neighbours(1 / (2 * Math.PI * HELD_FROM_HZ * supply.virtualGroundOhm), 'E6').above;
    found.push(
      {
        name: `${formatQuantity(HALF_OHM, 'resistance', { digits: 2 })} resistor`,
        count: 2,
        why: 'halve the supply: the middle that signals count from',
      },
      {
        name: `${farad(holds)} electrolytic`,
        count: 1,
        why: `holds that middle to ${held} from ${HELD_FROM_HZ} Hz up`,
      },
    );
  }
  found.push({ name: 'jack', count: 2, why: 'input and output' });
  if (controlJacks > 0)
    found.push({
      name: 'jack, switched to its sleeve',
      count: controlJacks,
      why: 'control voltages: nothing plugged in is nothing',
    });
  return found;
}
