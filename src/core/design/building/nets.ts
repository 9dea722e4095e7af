import { GROUND, mergeNodes } from '../../circuit/netlist';
import type { Result } from '../../result';
import { AS_BUILT, compile, type Compilation } from '../compiled/compile';
import { RAIL_NODES, VIRTUAL_GROUND, type Placed } from '../compiled/writing';
import type { Design, Variant } from '../document/schema';
import { designatorsOf, outputResistorName } from '../stages/designators';

/** A lead of a part on the board, and the net that it is soldered to. */
export interface Pin {
  readonly reference: string;
  readonly mount: Placed['mount'];
  readonly pin: string;
  readonly net: string;
}

/** What leaves the board at either end of a way, by its net. */
interface Port {
  readonly net: string;
  /** What it is joined to there. */
  readonly joins: string;
}

export interface Nets {
  readonly pins: readonly Pin[];
  readonly ports: readonly Port[];
  /** The nets that are called by what they are: ground, rails, inputs, outputs. */
  readonly named: ReadonlySet<string>;
  readonly rails: { readonly plus: string; readonly minus: string; readonly spare: string };
}

/**
 * A variant as it is built, with every pot in the middle: at its end it would be no pot. What devices rest at is not
 * asked. Fails as the stages' designs do.
 */
export const compileBuilt = (design: Design, variant: Variant): Result<Compilation> =>
  compile(
    design,
    { ...variant, controls: variant.controls.map((c) => ({ ...c, position: 0.5 })) },
    { ...AS_BUILT, rest: 'left' },
  );

/** What a placed thing is called in the whole variant. */
export function referencesOn(
  { ways }: Compilation,
  variant: Variant,
): (placed: Pick<Placed, 'stageId' | 'wayId' | 'part'>) => string {
  const names = designatorsOf(ways);
  return ({ stageId, wayId, part }) => {
    if (stageId !== null) return names.get(`${stageId}.${part}`) ?? part;
    const way = variant.ways.find((w) => w.id === wayId);
    return way ? outputResistorName(variant, way) : part;
  };
}

/** Every lead on the board, and the node that stands for its net. */
function leadsOf(compiled: Compilation, variant: Variant, canonical: (node: string) => string): Pin[] {
  const reference = referencesOn(compiled, variant);
  return compiled.placed.flatMap((placed) =>
    placed.leads.map(({ name, node }) => ({
      reference: reference(placed),
      mount: placed.mount,
      pin: name,
      net: canonical(node),
    })),
  );
}

/** Every lead on the board with its net: what leaves the board by what it is, the rest by a node that stands for it. */
export function netsOf(compiled: Compilation, variant: Variant, design: Design): Nets {
  const canonical = mergeNodes(compiled.netlist);
  const single = design.brief.supply.kind === 'single';
  const named = new Map([
    [GROUND, 'ground'],
    [canonical(VIRTUAL_GROUND), single ? 'virtual ground' : 'ground'],
    [canonical(RAIL_NODES.plus), '+V'],
    [canonical(RAIL_NODES.minus), single ? 'battery −' : '−V'],
  ]);
  const suffix = (w: number) => (variant.ways.length > 1 ? ` ${variant.ways[w].name}` : '');
  compiled.ways.forEach(({ joints, output }, w) => {
    named.set(canonical(joints[0]), `input${suffix(w)}`);
    named.set(canonical(output), `output${suffix(w)}`);
  });
  const netOf = (node: string) => named.get(canonical(node)) ?? canonical(node);
  const { source, load } = design.brief;
  return {
    pins: leadsOf(compiled, variant, netOf),
    ports: compiled.ways.flatMap(({ joints, output }, w) => [
      { net: netOf(joints[0]), joins: `input${suffix(w)} from ${source.name || 'source'}` },
      { net: netOf(output), joins: `output${suffix(w)} to ${load.name || 'load'}` },
    ]),
    named: new Set(named.values()),
    rails: { plus: netOf(RAIL_NODES.plus), minus: netOf(RAIL_NODES.minus), spare: netOf(VIRTUAL_GROUND) },
  };
}

/** Where a meter is put to for a node: an op-amp's output, a device's pin, or what meets there. */
export function meterPoints(compiled: Compilation, variant: Variant): (node: string) => string {
  const canonical = mergeNodes(compiled.netlist);
  const all = leadsOf(compiled, variant, canonical);
  return (node) => {
    const pins = all.filter((p) => p.net === canonical(node));
    const told =
      pins.find((p) => p.pin === 'out') ??
      pins.find((p) => p.mount === 'device') ??
      pins.find((p) => p.pin === 'wiper');
    if (told) return `${told.reference} ${told.pin}`;
    return [...new Set(pins.map((p) => p.reference))].slice(0, 3).join(', ');
  };
}
