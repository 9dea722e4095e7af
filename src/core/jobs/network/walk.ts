import { RAIL_NODES, VIRTUAL_GROUND } from '../../design/compiled/writing';
import * as z from 'zod';
import type { AcSolver } from '../../analysis/ac/solver';
import { GROUND, mergeNodes, type ElementInstance } from '../../circuit/netlist';
import type { Compilation } from '../../design/compiled/compile';
import { failure, success, type Result } from '../../result';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { builtVariant } from '../reading/built-variant';

/** The signal's way through a stage, part by part. */
const walkRequest = requestOf('walk', { ...ofVariant, stageId: z.string() });
export type WalkRequest = z.infer<typeof walkRequest>;

export interface WalkStep {
  /** What it goes through, by its name in the circuit, and what that is there for; null of a device. */
  readonly through: string;
  readonly role: string | null;
  readonly device: 'op-amp' | 'OTA' | 'transistor' | 'diode' | 'lit cell' | null;
  /** The node it comes to: its own name, `in` or `out`. */
  readonly to: string;
  /** From the last node before it that moves, dB and degrees; null to one that stands still (a virtual ground). */
  readonly gainDb: number | null;
  readonly phaseDeg: number | null;
  /** What else meets there: to a node that stands still, or back from one further on. */
  readonly besides: readonly {
    readonly part: string;
    readonly role: string | null;
    readonly from: string | null;
  }[];
}

export interface Walk {
  readonly atHz: number;
  readonly steps: readonly WalkStep[];
  /** From input to output there: dB, and degrees. */
  readonly gainDb: number;
  readonly phaseDeg: number;
}

interface Edge {
  readonly element: string;
  readonly to: string;
  readonly device: WalkStep['device'];
}

const DEVICES: Readonly<
  Record<string, { readonly is: WalkStep['device']; readonly from: readonly (readonly [number, number])[] }>
> = {
  ota: {
    is: 'OTA',
    from: [
      [0, 2],
      [1, 2],
    ],
  },
  'ota-with-pin': {
    is: 'OTA',
    from: [
      [0, 2],
      [1, 2],
    ],
  },
  npn: {
    is: 'transistor',
    from: [
      [1, 0],
      [1, 2],
      [2, 0],
    ],
  },
  pnp: {
    is: 'transistor',
    from: [
      [1, 0],
      [1, 2],
      [2, 0],
    ],
  },
  'n-jfet': {
    is: 'transistor',
    from: [
      [0, 2],
      [2, 0],
    ],
  },
  'p-jfet': {
    is: 'transistor',
    from: [
      [0, 2],
      [2, 0],
    ],
  },
  diode: {
    is: 'diode',
    from: [
      [0, 1],
      [1, 0],
    ],
  },
  optocoupler: {
    is: 'lit cell',
    from: [
      [2, 3],
      [3, 2],
    ],
  },
};
/** Two leads, either way. */
const PASSIVE = /^(resistor|small-resistor|capacitor|inductor)$/;
/** What a device is passed for against a part, in looking for the way: the signal goes where it is driven. */
const DEVICE_COST = 0.5;
/** A node that moves by less than this share of the input stands still. */
const STILL = 3e-3;
/** What makes the control current carries no signal. */
const CONTROL = /^cv-/;

/** Fails as the design does, with `no-such-stage`, or `no-way` where nothing leads from its input to its output. */
export function runWalk({ design, variantId, stageId }: WalkRequest, solver: AcSolver): Result<Walk> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const way = built.value.ways.find((w) => w.stages.some((s) => s.stage.id === stageId));
  const at = way?.stages.findIndex((s) => s.stage.id === stageId) ?? -1;
  const designed = way?.stages[at];
  if (!way || !designed || designed.stage.bypassed) return failure('no-such-stage', { stage: stageId });
  const canonical = mergeNodes(built.value.netlist);
  const [input, output] = [canonical(way.joints[at]), canonical(way.joints[at + 1])];
  const graph = graphOf(built.value, stageId, canonical);
  const path = shortest(graph, input, output);
  if (!path) return failure('no-way', { stage: stageId });
  const atHz = designed.cornersHz[0] ?? 1000;
  const nodes = [input, ...path.map((e) => e.to)];
  const solved = solver.sweep(built.value.circuit, Float64Array.of(atHz), nodes);
  if (!solved.ok) return solved;
  const volts = solved.value.map(([re, im]) => ({ re, im, size: Math.hypot(re, im) }));
  const roles = new Map(designed.parts.map((p) => [p.spec.name, p.spec.role]));
  const named = (node: string): string =>
    node === input
      ? 'in'
      : node === output
        ? 'out'
        : node.startsWith(`${stageId}.`)
          ? node.slice(stageId.length + 1)
          : node;
  const local = (element: string): string => element.slice(stageId.length + 1).split('.')[0];
  // What an op-amp drives is a figure of its own, however small.
  const still = (k: number): boolean => path[k - 1]?.device !== 'op-amp' && volts[k].size < STILL * volts[0].size;
  const lastMoving = (k: number): number => (k > 0 && still(k) ? lastMoving(k - 1) : k);
  const taken = new Set(path.map((e) => local(e.element)));
  const steps = path.map((edge, k): WalkStep => {
    const later = new Set(nodes.slice(k + 2));
    const besides = (graph.met.get(edge.to) ?? []).filter((m) => !taken.has(local(m.element)));
    const moves = !still(k + 1);
    const from = volts[lastMoving(k)];
    return {
      through: local(edge.element),
      role: roles.get(local(edge.element)) ?? null,
      device: edge.device,
      to: named(edge.to),
      gainDb: moves ? 20 * Math.log10(volts[k + 1].size / from.size) : null,
      phaseDeg: moves ? turn(from, volts[k + 1]) : null,
      besides: besides
        .filter((m) => m.other === null || later.has(m.other))
        .map((m) => ({
          part: local(m.element),
          role: roles.get(local(m.element)) ?? null,
          from: m.other === null ? null : named(m.other),
        }))
        .filter((m, i, all) => all.findIndex((o) => o.part === m.part) === i),
    };
  });
  return success({
    atHz,
    steps: joined(steps),
    gainDb: 20 * Math.log10(volts[volts.length - 1].size / volts[0].size),
    phaseDeg: turn(volts[0], volts[volts.length - 1]),
  });
}

interface Graph {
  readonly edges: ReadonlyMap<string, readonly Edge[]>;
  /** Parts at a node, and the node at their other end: null where that stands still by itself. */
  readonly met: ReadonlyMap<string, readonly { readonly element: string; readonly other: string | null }[]>;
}

/**
 * Where a signal can go within a stage: along parts either way, through devices as they drive. What an op-amp drives is
 * come to through it alone.
 */
function graphOf({ netlist }: Compilation, stageId: string, canonical: (node: string) => string): Graph {
  const own = netlist.elements.filter((e) => e.name.startsWith(`${stageId}.`));
  const quiet = new Set([GROUND, VIRTUAL_GROUND, RAIL_NODES.plus, RAIL_NODES.minus].map(canonical));
  const isQuiet = (node: string): boolean => quiet.has(node) || CONTROL.test(node.slice(stageId.length + 1));
  const outputs = new Map(own.filter(isAmplifier).map((e) => [canonical(outputOf(e, own)), e.name]));
  const edges = new Map<string, Edge[]>();
  const met = new Map<string, { element: string; other: string | null }[]>();
  const put = (from: string, edge: Edge) => {
    const driven = outputs.get(edge.to);
    if (isQuiet(from) || isQuiet(edge.to) || (driven !== undefined && driven !== edge.element)) return;
    edges.set(from, [...(edges.get(from) ?? []), edge]);
  };
  for (const element of own) {
    const { name, definition, nodes } = element;
    const [a, b] = nodes.map(canonical);
    if (isAmplifier(element)) {
      for (const node of [a, b]) put(node, { element: name, to: canonical(outputOf(element, own)), device: 'op-amp' });
    } else if (PASSIVE.test(definition.kind) && !name.endsWith('.output')) {
      put(a, { element: name, to: b, device: null });
      put(b, { element: name, to: a, device: null });
      for (const [here, there] of [
        [a, b],
        [b, a],
      ])
        met.set(here, [...(met.get(here) ?? []), { element: name, other: isQuiet(there) ? null : there }]);
    } else
      for (const [from, to] of DEVICES[definition.kind]?.from ?? [])
        put(canonical(nodes[from]), {
          element: name,
          to: canonical(nodes[to]),
          device: DEVICES[definition.kind].is,
        });
  }
  return { edges, met };
}

const isAmplifier = ({ definition }: ElementInstance): boolean => definition.kind.endsWith('op-amp');

/** An op-amp's output, behind the resistance it has. */
const outputOf = ({ name, nodes }: ElementInstance, all: readonly ElementInstance[]): string =>
  all.find((e) => e.name === `${name}.output`)?.nodes[1] ?? nodes[2];

/** The way with the fewest parts (E. W. Dijkstra, Numerische Mathematik 1, 1959). */
function shortest({ edges }: Graph, from: string, to: string): Edge[] | null {
  const best = new Map<string, { readonly cost: number; readonly path: readonly Edge[] }>([
    [from, { cost: 0, path: [] }],
  ]);
  const done = new Set<string>();
  for (;;) {
    const [node, here] = [...best].filter(([n]) => !done.has(n)).sort(([, a], [, b]) => a.cost - b.cost)[0] ?? [];
    if (node === undefined || here === undefined) return null;
    if (node === to) return [...here.path];
    done.add(node);
    for (const edge of edges.get(node) ?? []) {
      const cost = here.cost + (edge.device ? DEVICE_COST : 1);
      if (cost < (best.get(edge.to)?.cost ?? Infinity)) best.set(edge.to, { cost, path: [...here.path, edge] });
    }
  }
}

type Phasor = { readonly re: number; readonly im: number };
const turn = (a: Phasor, b: Phasor): number =>
  (Math.atan2(b.im * a.re - b.re * a.im, b.re * a.re + b.im * a.im) * 180) / Math.PI;

/** A coil and its own loss are one part: what lies between them is no place. */
function joined(steps: readonly WalkStep[]): WalkStep[] {
  return steps.reduce<WalkStep[]>((all, step) => {
    const last = all[all.length - 1];
    if (!last || last.through !== step.through) return [...all, step];
    const merged = {
      ...step,
      gainDb: step.gainDb === null ? null : (last.gainDb ?? 0) + step.gainDb,
      phaseDeg: step.phaseDeg === null ? null : (last.phaseDeg ?? 0) + step.phaseDeg,
    };
    return [...all.slice(0, -1), merged];
  }, []);
}

export const walkJob = defineJob(walkRequest, (request, { solver }) => runWalk(request, solver));
