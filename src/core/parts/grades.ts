import type { PartKind } from '../topology/kit/part';

/**
 * How a part for loudspeaker work is made: what it loses, what it bears and what it costs, all typical. Prices are of
 * our own made-up trade.
 */
interface CoilGrade {
  readonly id: string;
  readonly name: string;
  readonly kind: 'inductor';
  /** Bare copper, mm. */
  readonly wireMm: number;
  /** Times the inductance that its iron makes of the same turns; 1 for air. */
  readonly core: number;
  /** Flux density that its core is full at, T, typical; absent: air. */
  readonly fullTesla?: number;
  readonly note: string;
  readonly pricePerGram: number;
  readonly basePrice: number;
}
interface CapacitorGrade {
  readonly id: string;
  readonly name: string;
  readonly kind: 'capacitor';
  /** Loss angle's tangent at 1 kHz. */
  readonly lossTangent: number;
  readonly note: string;
  readonly pricePerMicrofarad: number;
  readonly basePrice: number;
}
interface ResistorGrade {
  readonly id: string;
  readonly name: string;
  readonly kind: 'resistor';
  readonly watts: number;
  readonly note: string;
  readonly basePrice: number;
}
export type Grade = CoilGrade | CapacitorGrade | ResistorGrade;

export const GRADES: readonly Grade[] = [
  {
    id: 'air-0.7',
    name: 'air, 0.7 mm wire',
    kind: 'inductor',
    wireMm: 0.7,
    core: 1,
    note: 'never saturates',
    pricePerGram: 0.022,
    basePrice: 2,
  },
  {
    id: 'air-1.0',
    name: 'air, 1.0 mm wire',
    kind: 'inductor',
    wireMm: 1,
    core: 1,
    note: 'never saturates',
    pricePerGram: 0.022,
    basePrice: 2,
  },
  {
    id: 'air-1.4',
    name: 'air, 1.4 mm wire',
    kind: 'inductor',
    wireMm: 1.4,
    core: 1,
    note: 'never saturates',
    pricePerGram: 0.022,
    basePrice: 2.5,
  },
  {
    id: 'bar-1.0',
    name: 'ferrite bar, 1.0 mm wire',
    kind: 'inductor',
    wireMm: 1,
    core: 3.2,
    fullTesla: 0.35,
    note: 'saturates at some amperes: keep it out of the woofer’s bass at high power',
    pricePerGram: 0.022,
    basePrice: 4,
  },
  {
    id: 'iron-1.2',
    name: 'iron core, 1.2 mm wire',
    kind: 'inductor',
    wireMm: 1.2,
    core: 9,
    fullTesla: 1.5,
    note: 'little resistance; its iron distorts a little at high level',
    pricePerGram: 0.022,
    basePrice: 7,
  },
  {
    id: 'film',
    name: 'film',
    kind: 'capacitor',
    lossTangent: 0.0006,
    note: 'low loss, keeps its value',
    pricePerMicrofarad: 0.55,
    basePrice: 0.8,
  },
  {
    id: 'film-high',
    name: 'film, high grade',
    kind: 'capacitor',
    lossTangent: 0.0002,
    note: 'for those who hear it; the loss it saves is hundredths of an ohm',
    pricePerMicrofarad: 2.4,
    basePrice: 3,
  },
  {
    id: 'electrolytic',
    name: 'bipolar electrolytic',
    kind: 'capacitor',
    lossTangent: 0.04,
    note: 'cheap where it stands across; its value and loss drift over the years',
    pricePerMicrofarad: 0.06,
    basePrice: 0.4,
  },
  {
    id: 'wirewound-5',
    name: 'wirewound, 5 W',
    kind: 'resistor',
    watts: 5,
    note: 'stand it off the board',
    basePrice: 0.5,
  },
  {
    id: 'wirewound-10',
    name: 'wirewound, 10 W',
    kind: 'resistor',
    watts: 10,
    note: 'stand it off the board',
    basePrice: 0.8,
  },
  {
    id: 'wirewound-20',
    name: 'wirewound, 20 W',
    kind: 'resistor',
    watts: 20,
    note: 'hot: keep it from wood and foil',
    basePrice: 1.6,
  },
];

export const gradesFor = (kind: PartKind): readonly Grade[] => GRADES.filter((g) => g.kind === kind);
export const gradeById = (id: string | undefined): Grade | undefined => GRADES.find((g) => g.id === id);

const COPPER_OHM_M = 1.724e-8;
const COPPER_KG_M3 = 8960;

/** Resistance (ohm) and weight (kg) of so much round copper wire, m. */
export function copperOf(lengthM: number, wireM: number): { ohm: number; copperKg: number } {
  const section = (Math.PI / 4) * wireM ** 2;
  return { ohm: (COPPER_OHM_M * lengthM) / section, copperKg: COPPER_KG_M3 * lengthM * section };
}
/** Insulation, and how square turns lie in a winding. */
export const INSULATED = 1.06;
const FILL = 0.9;

/** A coil as it is wound: turns, mean radius (m), resistance (ohm), copper (kg). */
export interface Winding {
  readonly turns: number;
  readonly radiusM: number;
  readonly ohm: number;
  readonly copperKg: number;
}

/**
 * The winding that has most inductance for its wire: a square section of side c at a mean radius of 1.5 c, L =
 * 1.6994e-6 a N² in metres (H. B. Brooks, Design of Standards of Inductance, J. Research NBS 7, 1931). With iron inside
 * it the turns for L/core make L.
 */
export function windingOf(henry: number, { wireMm, core }: Pick<CoilGrade, 'wireMm' | 'core'>): Winding {
  const wire = wireMm * 1e-3;
  const side = (turns: number) => wire * INSULATED * Math.sqrt(turns / FILL);
  const turns = (henry / core / (1.6994e-6 * 1.5 * wire * INSULATED * Math.sqrt(1 / FILL))) ** (1 / 2.5);
  const radiusM = 1.5 * side(turns);
  const length = 2 * Math.PI * radiusM * turns;
  return { turns, radiusM, ...copperOf(length, wire) };
}

/**
 * Series resistance (ohm) of a part of a grade: a coil's wire; a capacitor's loss at 1 kHz, where its tangent is given.
 */
export function lossOhm(kind: PartKind, value: number, grade: Grade | undefined): number {
  if (grade?.kind === 'inductor' && kind === 'inductor') return windingOf(value, grade).ohm;
  if (grade?.kind === 'capacitor' && kind === 'capacitor') return grade.lossTangent / (2 * Math.PI * 1000 * value);
  return 0;
}

/**
 * Amperes (peak) that fill a coil's core: all flux through a core as wide as the winding's inside, L I = N B A; null
 * for air, which never is full. Typical: a core is narrower than its hole, and begins to distort before.
 */
export function fullAmps(henry: number, grade: Grade | undefined): number | null {
  if (grade?.kind !== 'inductor' || grade.fullTesla === undefined) return null;
  const { turns, radiusM } = windingOf(henry, grade);
  const insideM = (2 / 3) * radiusM;
  return (turns * grade.fullTesla * Math.PI * insideM ** 2) / henry;
}

/** What one of it costs, not rounded: what a search for cheap ones goes by. */
export const exactPriceOf = (value: number, grade: Grade): number =>
  grade.kind === 'inductor'
    ? grade.basePrice + grade.pricePerGram * windingOf(value, grade).copperKg * 1000
    : grade.kind === 'capacitor'
      ? grade.basePrice + grade.pricePerMicrofarad * value * 1e6
      : grade.basePrice;

/** What one of it costs. */
export const priceOf = (value: number, grade: Grade): number => Math.round(exactPriceOf(value, grade) * 100) / 100;

export const TURNED = ['one behind the other', 'side by side', 'one stood up'] as const;
export type Turned = (typeof TURNED)[number];
