import { assignPackages, type Package } from '../../parts/packages';
import { partsList, type PartsLine, type PlacedPartValue } from '../../parts/parts-list';
import { success, type Result } from '../../result';
import type { Compilation } from '../compiled/compile';
import { RAIL_SOURCES } from '../compiled/writing';
import type { Design, Variant } from '../document/schema';
import { isPassive } from '../making/create';
import { outputResistorName } from '../stages/designators';
import { stageName } from '../stages/stage-design';
import { besidesOf, type Besides } from './besides';
import { boughtParts } from './bought-parts';
import { compileBuilt, netsOf, referencesOn, type Nets } from './nets';

export interface Connection {
  readonly net: string;
  /** What is soldered together there: `R101 a` is the first lead of R101. */
  readonly pins: readonly string[];
}

export interface BuildSheet {
  readonly parts: readonly PartsLine[];
  readonly connections: readonly Connection[];
  readonly stages: readonly {
    readonly name: string;
    readonly topology: string;
    readonly references: readonly string[];
  }[];
  readonly opAmpUnits: number;
  readonly packages: readonly Package[];
  readonly boards: number;
  /** What belongs to each board besides its circuit. */
  readonly besides: readonly Besides[];
  /** Parts that are to be sorted to one another. */
  readonly batches: readonly {
    readonly name: string;
    readonly matchPct: number;
    readonly references: readonly string[];
  }[];
}

const UNCHOSEN = 'ideal op-amp (choose a real one)';

/**
 * What to buy, what meets where, and in which order it is built, for the variant with its chosen parts. Bypassed stages
 * are not built.
 */
export function buildSheet(design: Design, variant: Variant): Result<BuildSheet> {
  const built = compileBuilt(design, variant);
  if (!built.ok) return built;
  const compiled = built.value;
  const reference = referencesOn(compiled, variant);
  const stages = compiled.ways
    .flatMap((way, w) => way.stages.map((designed) => ({ designed, way: variant.ways[w] })))
    .filter(({ designed }) => !designed.stage.bypassed);
  const named = (stageId: string, part: string) => reference({ stageId, part, wayId: '' });
  const standing = new Map(stages.map(({ designed }) => [designed.stage.id, designed]));
  const amplifiers = compiled.placed
    .filter(({ mount }) => mount === 'op-amp')
    .map((placed) => ({
      reference: reference(placed),
      name: standing.get(placed.stageId ?? '')?.device?.name ?? UNCHOSEN,
    }));
  const devices = compiled.placed.flatMap((placed) =>
    placed.bought === null ? [] : [{ reference: reference(placed), name: placed.bought }],
  );
  const packages = assignPackages(amplifiers, design.preferences.opAmpPackage ?? 2);
  const several = variant.ways.length > 1;
  return success({
    parts: partsList(partsOf(design, variant, stages, named), amplifiers, design.preferences.boards, devices),
    connections: connectionsOf(netsOf(compiled, variant, design)),
    stages: stages.map(({ designed, way }) => ({
      name: several ? `${way.name}: ${stageName(way, designed.stage)}` : stageName(way, designed.stage),
      topology: designed.topology.name,
      references: designed.parts.map((p) => named(designed.stage.id, p.spec.name)),
    })),
    opAmpUnits: amplifiers.length,
    packages,
    boards: design.preferences.boards,
    besides: variant.ways.every(isPassive) ? [] : besidesOf(design, variant, packages, fedBy(compiled)),
    batches: (variant.batches ?? []).map(({ name, matchPct, parts: members }) => ({
      name,
      matchPct,
      references: members.flatMap(({ stage, part }) => (standing.has(stage) ? [named(stage, part)] : [])),
    })),
  });
}

/** What the supply feeds besides op-amps. */
const fedBy = ({ placed, netlist }: Compilation) => ({
  otas: placed.filter(({ mount }) => mount === 'ota').length,
  rails: netlist.elements.some((e) => e.name === RAIL_SOURCES.plus || e.name === RAIL_SOURCES.minus),
});

/** What its places are filled with, and the resistors behind its ways. */
function partsOf(
  design: Design,
  variant: Variant,
  stages: readonly { readonly designed: Compilation['ways'][number]['stages'][number] }[],
  named: (stageId: string, part: string) => string,
): PlacedPartValue[] {
  const behind = variant.ways.flatMap((way): PlacedPartValue[] =>
    way.outputResistor
      ? [
          {
            reference: outputResistorName(variant, way),
            kind: 'resistor',
            value: way.outputResistor.ohm,
            tolerancePct: way.outputResistor.tolerancePct ?? design.preferences.resistorTolerancePct,
          },
        ]
      : [],
  );
  const placed = stages.flatMap(({ designed }) =>
    designed.parts
      .filter((p) => !p.choice.leftOut && !p.spec.given)
      .flatMap((p) => boughtParts(p, named(designed.stage.id, p.spec.name), variant.controls)),
  );
  return [...placed, ...behind];
}

/** Nets where more than one lead meets: those without a name of their own are counted. */
function connectionsOf({ pins, ports, named }: Nets): Connection[] {
  const met = new Map<string, string[]>();
  const put = (net: string, pin: string) => met.set(net, [...(met.get(net) ?? []), pin]);
  for (const { reference, pin, net } of pins) put(net, `${reference} ${pin}`);
  for (const { net, joins } of ports) put(net, joins);
  let letter = 0;
  return [...met]
    .filter(([, list]) => list.length > 1)
    .map(([net, list]) => ({ net: named.has(net) ? net : `N${++letter}`, pins: list }));
}
