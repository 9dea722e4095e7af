import { failure, success, type Result } from '../../result';
import type { FilterResponse } from '../../filter/section';
import { findTopology } from '../../topology/index';
import { parametersOf, type NetworkTopology, type SectionTopology } from '../../topology/kit/define-topology';
import { arrangeStages, createDesign, createNetwork, DEFAULT_DEVICE, type MakeId } from './create';
import { singleSupply } from './single-supply';
import type { Control, Design, Plan, Stage, Way } from '../document/schema';
import { withTopology } from './with-topology';

/** A design with one path and nothing else on it: a circuit of the catalogue with what it is asked for, or a plan. */
export type SinglePath =
  | {
      readonly topology: string;
      /** Response of a section, form of a network; the first when absent. */ readonly form?: string;
      readonly wanted?: Readonly<Record<string, number>>;
    }
  | { readonly plan: Plan; readonly topology?: string };

/** What a section may be asked for besides its response. */
const SECTION_ASKS = { freqHz: 1000, q: Math.SQRT1_2, gainDb: 0, zeroHz: NaN } as const;

/**
 * Fails with `no-such-topology` (`topology`), `no-such-form` (`form`, `forms`) or `no-such-parameter` (`name`,
 * `names`).
 */
export function singlePath(given: SinglePath, makeId: MakeId, title = 'One path'): Result<Design> {
  if ('plan' in given) {
    const design = createDesign(title, () => [given.plan], makeId);
    if (given.topology !== undefined && !findTopology(given.topology))
      return failure('no-such-topology', { topology: given.topology });
    const { topology } = given;
    return success(
      topology === undefined ? design : { ...design, variants: design.variants.map((v) => withTopology(v, topology)) },
    );
  }
  const topology = findTopology(given.topology);
  if (!topology) return failure('no-such-topology', { topology: given.topology });
  const made =
    topology.role === 'section' ? sectionStage(topology, given, makeId) : networkStage(topology, given, makeId);
  if (!made.ok) return made;
  const { stage, controls } = made.value;
  const base = createDesign(title, () => [], makeId);
  const onPath = (way: Way): Way => arrangeStages({ ...way, stages: [stage] }, makeId);
  const supplyVolts = topology.role === 'network' ? topology.usualSupplyVolts : undefined;
  return success({
    ...base,
    ...(supplyVolts === undefined ? {} : { brief: { ...base.brief, supply: singleSupply(supplyVolts) } }),
    family: FAMILIES[topology.family],
    variants: base.variants.map((v) => ({ ...v, controls: [...controls], ways: v.ways.map(onPath) })),
  });
}

const FAMILIES = {
  'op-amp': 'op-amp-filter',
  rc: 'rc-network',
  loudspeaker: 'loudspeaker',
  'voltage-controlled': 'voltage-controlled',
} as const;

type Made = Result<{ stage: Stage; controls: readonly Control[] }>;
type Asked = Extract<SinglePath, { form?: string }>;

function sectionStage(topology: SectionTopology, { form, wanted = {} }: Asked, makeId: MakeId): Made {
  const response = (form ?? topology.responses[0]) as FilterResponse;
  if (!topology.responses.includes(response))
    return failure('no-such-form', { form: response, forms: topology.responses.join(', ') });
  const unknown = Object.keys(wanted).find((name) => !(name in SECTION_ASKS));
  if (unknown !== undefined)
    return failure('no-such-parameter', { name: unknown, names: Object.keys(SECTION_ASKS).join(', ') });
  const { freqHz, q, gainDb, zeroHz } = { ...SECTION_ASKS, ...wanted };
  const target: Stage['target'] = {
    kind: 'own',
    of: null,
    response,
    order: topology.order,
    freqHz,
    q,
    gainDb,
    ...(Number.isFinite(zeroHz) ? { zeroHz } : {}),
  };
  return success({
    controls: [],
    stage: {
      id: makeId(),
      topology: topology.id,
      target,
      parts: {},
      device: DEFAULT_DEVICE,
      output: 'out',
      mode: 'normal',
      bypassed: false,
    },
  });
}

function networkStage(
  topology: NetworkTopology,
  { form = topology.modes[0], wanted = {} }: Asked,
  makeId: MakeId,
): Made {
  if (!topology.modes.includes(form)) return failure('no-such-form', { form, forms: topology.modes.join(', ') });
  const names = parametersOf(topology, form).map((p) => p.name);
  const unknown = Object.keys(wanted).find((name) => !names.includes(name));
  if (unknown !== undefined) return failure('no-such-parameter', { name: unknown, names: names.join(', ') });
  return success(createNetwork(topology, makeId, { form, parameters: wanted }));
}
