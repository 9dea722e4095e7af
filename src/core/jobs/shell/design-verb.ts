import { AS_BUILT, compile } from '../../design/compiled/compile';
import { countingIds } from '../../design/making/create';
import { writeDesign } from '../../design/document/migrate';
import type { Design, MaskLimit } from '../../design/document/schema';
import { singlePath } from '../../design/making/single-path';
import { singleSupply } from '../../design/making/single-supply';
import { OP_AMP_IDS } from '../../device/op-amps';
import { success, type Result } from '../../result';
import { findTopology } from '../../topology/index';
import { synthPlanOf, type SynthRequest } from '../deck/deck-jobs';
import { badOption, oneOf, withSeries } from './opened-design';

/** What one path is to be: a circuit of the catalogue with what it is asked for, or a plan. */
export type PathGiven =
  | { readonly topology: string; readonly form?: string; readonly wanted: Readonly<Record<string, number>> }
  | { readonly synth: SynthRequest };

export interface DesignGiven {
  readonly path: PathGiven;
  readonly sourceOhm: number;
  readonly loadOhm: number | null;
  /** V, and `dual` or `single`; null: as is usual for the circuit. */
  readonly rails: number | null;
  readonly supply: string | null;
  readonly resistors: string;
  readonly capacitors: string;
  readonly opAmp: string;
  /** Limits of its specification. */
  readonly mask?: readonly MaskLimit[];
}

/** Names that a section's frequency goes by. */
const FREQUENCY_NAMES = ['cutoffHz', 'centerHz', 'centreHz', 'notchHz', 'frequencyHz'];
/** V, either rail or the one. */
const RAILS = [1, 60] as const;
const RAILS_VOLTS = 12;

/** A design with one path and nothing else on it. Fails with `bad-option`, or as the circuit's design does. */
export function designVerb({
  path,
  sourceOhm,
  loadOhm,
  rails,
  supply,
  resistors,
  capacitors,
  opAmp,
  mask = [],
}: DesignGiven): Result<string> {
  const device = oneOf('--op-amp', opAmp, OP_AMP_IDS);
  if (!device.ok) return device;
  const bare = barePath(path);
  if (!bare.ok) return bare;
  const { supply: usual } = bare.value.brief;
  const kind = oneOf('--supply', supply ?? usual.kind, ['dual', 'single']);
  if (!kind.ok) return kind;
  const volts = rails ?? (kind.value === usual.kind ? usual.volts : RAILS_VOLTS);
  if (!(volts >= RAILS[0] && volts <= RAILS[1])) return badOption('--rails', volts, `${RAILS.join(' to ')} V`);
  const preferences = withSeries({ resistors, capacitors }, bare.value.preferences);
  if (!preferences.ok) return preferences;
  const design: Design = {
    ...bare.value,
    brief: {
      ...bare.value.brief,
      source: { name: 'Source', ohm: sourceOhm },
      load: { name: 'Load', ohm: loadOhm },
      mask: [...mask],
      supply:
        kind.value === usual.kind
          ? { ...usual, volts }
          : kind.value === 'dual'
            ? { kind: 'dual', volts }
            : singleSupply(volts),
    },
    preferences: preferences.value,
    variants: bare.value.variants.map((v) => ({
      ...v,
      ways: v.ways.map((w) => ({ ...w, stages: w.stages.map((s) => ({ ...s, device: device.value })) })),
    })),
  };
  const built = compile(design, design.variants[0], { ...AS_BUILT, rest: 'left' });
  return built.ok ? success(writeDesign(design)) : built;
}

function barePath(path: PathGiven): Result<Design> {
  const makeId = countingIds('path');
  if ('synth' in path) {
    const plan = synthPlanOf(path.synth);
    if (!plan.ok) return plan;
    return singlePath(
      { plan: { ...plan.value, id: makeId() } },
      makeId,
      `${path.synth.alignment} ${path.synth.response}`,
    );
  }
  // A section's frequency is its own, whatever a circuit of its kind calls it.
  const section = findTopology(path.topology)?.role === 'section';
  const called = (name: string) => (section && FREQUENCY_NAMES.includes(name) ? 'freqHz' : name);
  const wanted = Object.fromEntries(Object.entries(path.wanted).map(([name, value]) => [called(name), value]));
  return singlePath({ ...path, wanted }, makeId, path.topology);
}
