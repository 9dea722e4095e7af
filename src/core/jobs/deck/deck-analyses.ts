import * as z from 'zod';
import { defineJob, requestOf, float64 } from '../define-job';
import { linearise } from '../../analysis/rest/linearise';
import { noiseSpectrum } from '../../analysis/ac/noise';
import { operatingPoint } from '../../analysis/rest/operating-point';
import { levelsDb, phasesDeg } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { quantilesOf, valueDraws } from '../../analysis/tolerance/spread';
import { transferFunction } from '../../analysis/roots/transfer';
import { transient } from '../../analysis/time/transient';
import { assemble, type Assembled } from '../../circuit/structure';
import { readDeck, type Deck } from '../../format/deck/read-deck';
import { failure, success, type Result } from '../../result';

const ofDeck = {
  deck: z.string(),
  /** Degrees Celsius; 27 unless given. */
  temperatureC: z.number().optional(),
};
type DeckRequest = z.infer<z.ZodObject<typeof ofDeck>>;

interface Noted {
  /** What was read past, for standard error. */
  readonly notes: readonly string[];
}

const responseRequest = requestOf('response', {
  ...ofDeck,
  /** A node, `v(a,b)` or `i(Vname)`. */
  probe: z.string(),
  freqHz: float64,
});
export type ResponseRequest = z.infer<typeof responseRequest>;

export interface ResponseResult extends Noted {
  readonly levelDb: Float64Array;
  readonly phaseDeg: Float64Array;
}

const operatingPointRequest = requestOf('operating-point', {
  ...ofDeck,
});
export type OperatingPointRequest = z.infer<typeof operatingPointRequest>;

export interface OperatingPointResult extends Noted {
  readonly nodes: Readonly<Record<string, number>>;
  readonly currents: Readonly<Record<string, number>>;
}

const transientRequest = requestOf('transient', {
  ...ofDeck,
  stopS: z.number(),
  stepS: z.number(),
  probes: z.array(z.string()).readonly(),
});
export type TransientRequest = z.infer<typeof transientRequest>;

export interface TransientResult extends Noted {
  readonly timeS: Float64Array;
  readonly traces: readonly Float64Array[];
}

const noiseRequest = requestOf('noise', {
  ...ofDeck,
  probe: z.string(),
  source: z.string(),
  freqHz: float64,
});
export type NoiseRequest = z.infer<typeof noiseRequest>;

export interface NoiseResult extends Noted {
  readonly output: Float64Array;
  readonly input: Float64Array;
}

const polesRequest = requestOf('poles', {
  ...ofDeck,
  probe: z.string(),
});
export type PolesRequest = z.infer<typeof polesRequest>;

export interface PolesResult extends Noted {
  readonly poles: readonly (readonly [number, number])[];
  readonly zeros: readonly (readonly [number, number])[];
  readonly gain: number;
}

const toleranceRequest = requestOf('tolerance', {
  ...ofDeck,
  probe: z.string(),
  freqHz: float64,
  runs: z.number(),
  seed: z.number(),
  /** Per cent either way. */
  resistors: z.number(),
  capacitors: z.number(),
  inductors: z.number(),
});
export type ToleranceRequest = z.infer<typeof toleranceRequest>;

export interface ToleranceResult extends Noted {
  readonly p05Db: Float64Array;
  readonly p50Db: Float64Array;
  readonly p95Db: Float64Array;
  readonly minDb: Float64Array;
  readonly maxDb: Float64Array;
}

/** A pair of unknowns whose difference a probe is (−1: ground). */
type Probe = readonly [number, number];

interface Opened {
  readonly deck: Deck;
  readonly circuit: Assembled;
}

function open(text: string): Result<Opened, 'deck'> {
  const read = readDeck(text);
  return read.ok ? success({ deck: read.value, circuit: assemble(read.value.netlist) }) : read;
}

/** The dense analyses (rest, time, noise, poles) take circuits of up to this many unknowns. */
const MOST_UNKNOWNS = 800;

function openSmall(text: string): Result<Opened> {
  const opened = open(text);
  if (opened.ok && opened.value.circuit.structure.size > MOST_UNKNOWNS)
    return failure('too-large', { unknowns: opened.value.circuit.structure.size, most: MOST_UNKNOWNS });
  return opened;
}

/** Reads `node`, `v(a)`, `v(a,b)` or `i(Vname)`. Fails with `no-such-probe` (`probe`). */
function probeOf({ structure }: Assembled, text: string): Result<Probe, 'no-such-probe'> {
  const missing = failure('no-such-probe', { probe: text });
  const lower = text.toLowerCase().replace(/\s/g, '');
  const current = /^i\(([^(),]+)\)$/.exec(lower);
  if (current) {
    const branch = structure.branchOf(current[1]);
    return branch === undefined ? missing : success([branch, -1]);
  }
  const voltage = /^v\(([^(),]+)(?:,([^(),]+))?\)$/.exec(lower);
  const nodes = voltage ? voltage.slice(1).filter((n) => n !== undefined) : /^[^(),]+$/.test(lower) ? [lower] : [];
  const unknowns = nodes.map((node) => structure.nodeOf(node === 'gnd' ? '0' : node));
  if (unknowns.length === 0 || unknowns.includes(undefined)) return missing;
  return success([unknowns[0] as number, (unknowns[1] as number | undefined) ?? -1]);
}

/** Levels in dB; silence is −400, so that tables hold numbers throughout. */
const flooredDb = (response: Float64Array): Float64Array => levelsDb(response).map((level) => Math.max(level, -400));

/** The circuit's small-signal equations at its operating point; itself when it is linear. */
function smallSignal({ circuit }: Opened, { temperatureC }: DeckRequest): Result<Assembled> {
  if (circuit.structure.size > MOST_UNKNOWNS)
    return failure('too-large', { unknowns: circuit.structure.size, most: MOST_UNKNOWNS });
  const rest = operatingPoint(circuit, { temperatureC });
  if (rest.ok) return success(linearise(circuit, rest.value, { temperatureC }));
  return isLinear(circuit) ? success(circuit) : rest;
}

const isLinear = (circuit: Assembled): boolean =>
  circuit.structure.devices.every(({ definition }) => /resistor$|op-amp$/.test(definition.kind));

/**
 * AC response of a deck at a probe, small-signal at its operating point. Fails with `deck` (line, message),
 * `no-such-probe`, `no-convergence` or `no-unique-solution` (unknown).
 */
export function runResponse(request: ResponseRequest, solver: AcSolver): Result<ResponseResult> {
  const opened = open(request.deck);
  if (!opened.ok) return opened;
  const probe = probeOf(opened.value.circuit, request.probe);
  if (!probe.ok) return probe;
  const circuit = isLinear(opened.value.circuit) ? success(opened.value.circuit) : smallSignal(opened.value, request);
  if (!circuit.ok) return circuit;
  const solved = solver.difference(circuit.value, request.freqHz, probe.value);
  if (!solved.ok) return solved;
  return success({
    levelDb: flooredDb(solved.value),
    phaseDeg: phasesDeg(solved.value),
    notes: opened.value.deck.notes,
  });
}

/** Resting voltages of all nodes and currents of all voltage sources (and whatever else has a branch), by name. */
export function runOperatingPoint(request: OperatingPointRequest): Result<OperatingPointResult> {
  const opened = openSmall(request.deck);
  if (!opened.ok) return opened;
  const { circuit, deck } = opened.value;
  const rest = operatingPoint(circuit, request);
  if (!rest.ok) return rest;
  const nodes: Record<string, number> = {};
  const currents: Record<string, number> = {};
  circuit.structure.unknowns.forEach((name, i) => {
    const branch = /^i\((.*)\)$/.exec(name);
    // A resistor may have its current among the unknowns; it is no source.
    if (branch && !branch[1].split('.').at(-1)?.startsWith('r')) currents[branch[1]] = rest.value[i];
    else if (!branch) nodes[name] = rest.value[i];
  });
  return success({ nodes, currents, notes: deck.notes });
}

function runTransient(request: TransientRequest): Result<TransientResult> {
  const opened = openSmall(request.deck);
  if (!opened.ok) return opened;
  const { circuit, deck } = opened.value;
  const probes: Probe[] = [];
  for (const text of request.probes) {
    const probe = probeOf(circuit, text);
    if (!probe.ok) return probe;
    probes.push(probe.value);
  }
  const run = transient(circuit, { stopS: request.stopS, stepS: request.stepS, conditions: request });
  if (!run.ok) return run;
  const { timeS, unknowns } = run.value;
  const n = circuit.structure.size;
  const at = (i: number, unknown: number) => (unknown < 0 ? 0 : unknowns[i * n + unknown]);
  return success({
    timeS,
    traces: probes.map(([p, m]) => Float64Array.from(timeS, (_, i) => at(i, p) - at(i, m))),
    notes: deck.notes,
  });
}

function runNoise(request: NoiseRequest): Result<NoiseResult> {
  const opened = openSmall(request.deck);
  if (!opened.ok) return opened;
  const { circuit, deck } = opened.value;
  const probe = probeOf(circuit, request.probe);
  if (!probe.ok) return probe;
  const rest = operatingPoint(circuit, request);
  if (!rest.ok && !isLinear(circuit)) return rest;
  const state = rest.ok ? rest.value : new Float64Array(circuit.structure.size);
  const spectrum = noiseSpectrum(circuit, state, {
    freqHz: request.freqHz,
    output: probe.value,
    source: request.source.toLowerCase(),
    conditions: request,
  });
  return spectrum.ok
    ? success({ output: spectrum.value.output, input: spectrum.value.input, notes: deck.notes })
    : spectrum;
}

function runPoles(request: PolesRequest): Result<PolesResult> {
  const opened = openSmall(request.deck);
  if (!opened.ok) return opened;
  const { deck } = opened.value;
  const probe = probeOf(opened.value.circuit, request.probe);
  if (!probe.ok) return probe;
  const circuit = isLinear(opened.value.circuit) ? success(opened.value.circuit) : smallSignal(opened.value, request);
  if (!circuit.ok) return circuit;
  const transfer = transferFunction(circuit.value, probe.value);
  if (!transfer.ok) return transfer;
  const pairs = (roots: typeof transfer.value.poles) => roots.map(({ re, im }) => [re, im] as const);
  return success({
    poles: pairs(transfer.value.poles),
    zeros: pairs(transfer.value.zeros),
    gain: transfer.value.gain,
    notes: deck.notes,
  });
}

/** Seeded draws of every resistor, capacitor and coil of a deck about its value. */
function runTolerance(request: ToleranceRequest, solver: AcSolver): Result<ToleranceResult> {
  const opened = open(request.deck);
  if (!opened.ok) return opened;
  const { circuit, deck } = opened.value;
  const probe = probeOf(circuit, request.probe);
  if (!probe.ok) return probe;
  const percent: Readonly<Record<string, number>> = {
    resistor: request.resistors,
    capacitor: request.capacitors,
    inductor: request.inductors,
  };
  const varying = deck.netlist.elements.flatMap(({ name, definition }) => {
    const tolerancePct = percent[definition.kind] ?? 0;
    return tolerancePct > 0 ? [{ slot: circuit.structure.slotOf(name) as number, tolerancePct }] : [];
  });
  const draw = valueDraws(circuit.values, varying, request.seed);
  const all = Array.from(request.freqHz, () => new Float64Array(request.runs));
  for (let run = 0; run < request.runs; run++) {
    const drawn = { ...circuit, values: draw(new Float64Array(circuit.values.length)) };
    const small = isLinear(circuit) ? success(drawn) : smallSignal({ deck, circuit: drawn }, request);
    if (!small.ok) return small;
    const solved = solver.difference(small.value, request.freqHz, probe.value);
    if (!solved.ok) return solved;
    flooredDb(solved.value).forEach((level, i) => (all[i][run] = level));
  }
  for (const column of all) column.sort();
  const pick = (p: number) => quantilesOf(all, p);
  return success({
    p05Db: pick(0.05),
    p50Db: pick(0.5),
    p95Db: pick(0.95),
    minDb: pick(0),
    maxDb: pick(1),
    notes: deck.notes,
  });
}

export const responseJob = defineJob(responseRequest, (request, { solver }) => runResponse(request, solver));

export const operatingPointJob = defineJob(operatingPointRequest, (request) => runOperatingPoint(request));

export const transientJob = defineJob(transientRequest, (request) => runTransient(request));

export const noiseJob = defineJob(noiseRequest, (request) => runNoise(request));

export const polesJob = defineJob(polesRequest, (request) => runPoles(request));

export const toleranceJob = defineJob(toleranceRequest, (request, { solver }) => runTolerance(request, solver));
