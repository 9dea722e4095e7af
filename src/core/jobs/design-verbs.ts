import { downsampled, upsampled } from '../analysis/resample';
import { AS_BUILT, compile, type CompileOptions } from '../design/compile';
import { createPlan } from '../design/create';
import { buildSheet, stripParts } from '../design/build-sheet';
import { designatorsOf } from '../design/designators';
import { readDesignText, writeDesign } from '../design/migrate';
import type { Design, Variant } from '../design/schema';
import { singlePath } from '../design/single-path';
import { snapWay, withUses, type WaySnap } from '../design/snap-way';
import { OP_AMP_IDS } from '../device/op-amps';
import { matchBrief, type BriefLimit } from '../filter/brief-mask';
import { figure, writeCsv } from '../format/csv';
import { readWav, writeFloatWav } from '../format/wav';
import { SERIES_IDS, type SeriesId } from '../parts/preferred';
import { checkStrips, stripPlan } from '../parts/strip-board';
import { failure, success, type Result } from '../result';
import { decibels } from '../units/quantity';
import type { DeskMark, DeskResult } from './desk-types';
import { RUN_THROUGH } from './job-context';
import { pathNoise, stagePeaksDb, NOISE_BAND } from './path-noise';
import { naturalOf } from './read-way';
import type { JobRunner } from './run-job';
import { RENDER_OVERSAMPLED, sounding } from './sounding';
import { synthPlanOf, type SynthRequest } from './deck-jobs';
import { variantDeck } from './variant-deck';

/** What a shell asks of a design: each verb reads the product's own file and answers in plain text. */

const GRID = { fromHz: 20, toHz: 20e3, points: 241 };

/** A design from its text, and one of its variants by name or id. Fails as reading does, or with `no-such-variant` (`variant`, `variants`). */
export function openDesign(text: string, variantName?: string): Result<{ design: Design; variant: Variant }> {
  const read = readDesignText(text);
  if (!read.ok) return read;
  const design = read.value;
  const wanted = variantName ?? design.currentVariant;
  const variant = design.variants.find((v) => v.id === wanted) ?? design.variants.find((v) => v.name === wanted || v.label === wanted);
  if (!variant) return failure('no-such-variant', { variant: wanted, variants: design.variants.map((v) => v.name).join(', ') });
  return success({ design: { ...design, currentVariant: variant.id }, variant });
}

export interface DesignGiven {
  readonly topology?: string;
  readonly form?: string;
  readonly wanted: Readonly<Record<string, number>>;
  readonly synth: SynthRequest | null;
  readonly sourceOhm: number;
  readonly loadOhm: number | null;
  readonly rails: number;
  readonly supply: string;
  readonly resistors: string;
  readonly capacitors: string;
  readonly opAmp: string;
}

/** Names that a section's frequency goes by. */
const FREQUENCY_NAMES = ['cutoffHz', 'centerHz', 'centreHz', 'notchHz', 'frequencyHz'];

/** A design with one path and nothing else on it. Fails with `bad-option`, or as the circuit's design does. */
export function designVerb(given: DesignGiven): Result<string> {
  let made = 0;
  const makeId = () => `d${made++}`;
  const bad = (option: string, value: string | number, allowed: string) => failure('bad-option', { option, value, allowed });
  for (const [option, series] of [['--series-resistors', given.resistors], ['--series-capacitors', given.capacitors]] as const) if (!(SERIES_IDS as readonly string[]).includes(series)) return bad(option, series, SERIES_IDS.join(', '));
  if (given.supply !== 'dual' && given.supply !== 'single') return bad('--supply', given.supply, 'dual, single');
  if (!OP_AMP_IDS.includes(given.opAmp)) return bad('--op-amp', given.opAmp, OP_AMP_IDS.join(', '));
  if (!(given.rails >= 1 && given.rails <= 60)) return bad('--rails', given.rails, '1 to 60 V');
  const planned = given.synth ? synthPlanOf(given.synth) : null;
  if (planned && !planned.ok) return planned;
  // A section's frequency is its own, whatever a circuit of its kind calls it.
  const path = planned
    ? singlePath({ plan: { ...createPlan(makeId(), planned.value.response, planned.value.alignment, planned.value.order, planned.value.cutoffHz), ...planned.value } }, makeId)
    : singlePath({ topology: given.topology ?? '', ...(given.form === undefined ? {} : { form: given.form }), wanted: sectionNames(given.topology ?? '', given.wanted) }, makeId);
  if (!path.ok) return path;
  const design: Design = {
    ...path.value,
    title: given.topology ?? `${given.synth?.alignment} ${given.synth?.response}`,
    brief: { ...path.value.brief, source: { name: 'Source', ohm: given.sourceOhm }, load: { name: 'Load', ohm: given.loadOhm }, supply: given.supply === 'dual' ? { kind: 'dual', volts: given.rails } : { kind: 'single', volts: given.rails, virtualGroundOhm: VIRTUAL_GROUND_OHM } },
    preferences: { ...path.value.preferences, resistorSeries: given.resistors as SeriesId, capacitorSeries: given.capacitors as SeriesId },
    variants: path.value.variants.map((v) => ({ ...v, ways: v.ways.map((w) => ({ ...w, stages: w.stages.map((s) => ({ ...s, device: given.opAmp })) })) })),
  };
  const built = compile(design, design.variants[0], { ...AS_BUILT, rest: 'left' });
  return built.ok ? success(writeDesign(design)) : built;
}
const VIRTUAL_GROUND_OHM = 100;

function sectionNames(topology: string, wanted: DesignGiven['wanted']): Readonly<Record<string, number>> {
  const tried = singlePath({ topology, wanted }, () => 'tried');
  if (tried.ok || tried.code !== 'no-such-parameter' || !String(tried.data.names).includes('freqHz')) return wanted;
  return Object.fromEntries(Object.entries(wanted).map(([name, value]) => [FREQUENCY_NAMES.includes(name) ? 'freqHz' : name, value]));
}

const markOut = (mark: DeskMark) => ({ kind: mark.kind, frequencyHz: mark.freqHz, levelDb: mark.levelDb, referenceDb: mark.referenceDb, ...('q' in mark && mark.q !== undefined ? { q: mark.q } : {}), ...('falling' in mark ? { falling: mark.falling } : {}), ...(mark.kind === 'slope' ? { slopeDbPerOctave: mark.slopeDbPerOctave } : {}) });
const LEVELS = { ok: 'ok', warn: 'look', bad: 'trouble' } as const;
const UNITS: Readonly<Record<string, 'ohm' | 'farad' | 'henry' | undefined>> = { resistor: 'ohm', potentiometer: 'ohm', capacitor: 'farad', inductor: 'henry' };

/** What the desk says of a variant, as facts. @param words how a check is said. */
export async function deskVerb(text: string, variantName: string | undefined, runner: JobRunner, words: (check: DeskResult['checks'][number]) => string): Promise<Result<object>> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const { design, variant } = opened.value;
  const desk = await runner.run<'desk'>({ kind: 'desk', design, variantId: variant.id, ghostVariantId: null, grid: GRID });
  if (!desk.ok) return desk;
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const natural = naturalOf(built.value);
  const { stable } = desk.value.stability;
  const noise = stable ? pathNoise(built.value, natural) : null;
  const acoustic = variant.join === 'acoustic' ? await runner.run<'acoustics'>({ kind: 'acoustics', design, variantId: variant.id, ghostVariantId: null, grid: GRID }) : null;
  const names = designatorsOf(built.value.ways, built.value.netlist.elements);
  const crossings = acoustic?.ok ? acoustic.value.crossings.map((c) => ({ kind: 'crossing', frequencyHz: c.freqHz, levelDb: c.levelDb, referenceDb: c.levelDb + c.belowSumDb, belowSumDb: c.belowSumDb, phaseDeg: c.phaseDeg })) : [];
  return success({
    stable, singsHz: desk.value.stability.singsHz,
    marks: [...desk.value.marks.map(markOut), ...crossings],
    passLevelDb: stable ? desk.value.passLevelDb : null, worstMissDb: stable ? desk.value.worstErrorDb : null,
    stages: desk.value.stages.map(({ name, topology, form, bypassed, target, network, got }) => ({
      name, topology, form, bypassed,
      wanted: target ? { frequencyHz: target.freqHz, q: target.order === 2 ? target.q : null, gainDb: decibels(target.gain) } : Object.fromEntries((network?.parameters ?? []).map((p) => [p.name, p.wanted])),
      got: target ? { frequencyHz: got.freqHz, q: target.order === 2 ? got.q : null, gainDb: got.gainDb } : Object.fromEntries((network?.parameters ?? []).map((p) => [p.name, p.got])),
    })),
    checks: [...desk.value.checks, ...(acoustic?.ok ? acoustic.value.checks : [])].map((check) => ({ id: check.id, level: LEVELS[check.level], text: words(check) })),
    noise: noise?.ok ? { totalV: noise.value.totalV, aWeightedV: noise.value.aWeightedV, ...NOISE_BAND } : null,
    stagePeaksDb: stable ? stagePeaksDb(built.value, natural, runner.solver) : null,
    parts: built.value.ways.flatMap((w) => w.stages).flatMap(({ stage, parts }) => parts.filter((p) => p.spec.kind !== 'current').map((p) => {
      const unit = UNITS[p.spec.kind] ?? 'ohm';
      return { designator: names.get(`${stage.id}.${p.spec.name}`), stage: stage.id, part: p.spec.name, kind: p.spec.kind, [unit]: p.chosen, exact: p.exact, chosen: p.chosen, ...(p.choice.leftOut ? { leftOut: true } : {}) };
    })),
  });
}

/** Fails as reading and compiling do, or with `bad-option`. */
export function deckVerb(text: string, variantName: string | undefined, values: string, devices: string): Result<string> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  if (values !== 'exact' && values !== 'chosen') return failure('bad-option', { option: '--values', value: values, allowed: 'exact, chosen' });
  if (devices !== 'ideal' && devices !== 'real') return failure('bad-option', { option: '--devices', value: devices, allowed: 'ideal, real' });
  return variantDeck(opened.value.design, opened.value.variant, { ...AS_BUILT, values, devices, rest: 'left' } satisfies CompileOptions);
}

export interface ChooseGiven {
  readonly how: string;
  readonly resistors?: string;
  readonly capacitors?: string;
  /** From 1 on; absent: the whole path. */
  readonly stage?: number;
}

const MOST_PAIRS = 3;

/** The parts of a variant's first way chosen, and the design with them. */
export function chooseVerb(text: string, variantName: string | undefined, { how, resistors, capacitors, stage }: ChooseGiven, runner: JobRunner): Result<{ claimedErrorDb: number; design: Design }> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const bad = (option: string, value: string | number, allowed: string) => failure('bad-option', { option, value, allowed });
  for (const [option, series] of [['--series-resistors', resistors], ['--series-capacitors', capacitors]] as const) if (series !== undefined && !(SERIES_IDS as readonly string[]).includes(series)) return bad(option, series, SERIES_IDS.join(', '));
  if (!['nearest', 'together', 'pairs'].includes(how)) return bad('--how', how, 'nearest, together, pairs');
  const { preferences } = opened.value.design;
  const design: Design = { ...opened.value.design, preferences: { ...preferences, resistorSeries: (resistors as SeriesId) ?? preferences.resistorSeries, capacitorSeries: (capacitors as SeriesId) ?? preferences.capacitorSeries } };
  const { variant } = opened.value;
  const [way] = variant.ways;
  if (stage !== undefined && !way.stages[stage - 1]) return bad('--stage', stage, `1 to ${way.stages.length}`);
  const snaps = snapWay(way, design, variant.controls, { stageId: stage === undefined ? null : way.stages[stage - 1].id, mostPairs: how === 'pairs' ? MOST_PAIRS : 0 }, runner.solver);
  if (!snaps.ok) return snaps;
  const choice: WaySnap | undefined = how === 'nearest' ? undefined : how === 'together' ? snaps.value.choices[0] : snaps.value.choices[snaps.value.choices.length - 1];
  const chosen = choice ? { ...way, stages: way.stages.map((s) => withUses(s, choice.stages.find((t) => t.stageId === s.id)?.snap.uses)) } : way;
  return success({ claimedErrorDb: choice?.errorDb ?? snaps.value.nearest.errorDb, design: { ...design, variants: design.variants.map((v) => (v.id === variant.id ? { ...v, ways: [chosen, ...v.ways.slice(1)] } : v)) } });
}

/** `DB@HZ..HZ`, one end or the other empty, as limits of a brief. Fails with `bad-option`. */
export function limitsOf(option: string, kind: BriefLimit['kind'], given: string, number: (text: string) => number | null): Result<BriefLimit[]> {
  const bad = () => failure('bad-option', { option, value: given, allowed: 'DB@HZ..HZ with one end or the other empty, such as 40@2k.. or 1@..900' });
  const parts = /^([^@]+)@([^.]*(?:\.[^.]+)?)\.\.(.*)$/.exec(given);
  if (!parts) return bad();
  const [db, from, to] = parts.slice(1).map((text) => (text.trim() === '' ? undefined : number(text.trim())));
  if (db === undefined || db === null || db < 0 || from === null || to === null || (from === undefined && to === undefined)) return bad();
  if ([from, to].some((f) => f !== undefined && !(f > 0))) return bad();
  // Lost between two frequencies is a band-stop, which is not searched for.
  if (kind === 'at-least' && from !== undefined && to !== undefined) return failure('bad-option', { option, value: given, allowed: 'a stop band that is open at one end' });
  return success([...(from === undefined ? [] : [{ kind, side: 'above' as const, freqHz: from, db }]), ...(to === undefined ? [] : [{ kind, side: 'below' as const, freqHz: to, db }])]);
}

/** What would meet some limits: smallest order first, only what meets all. Fails as the search does. */
export async function matchVerb(limits: readonly BriefLimit[], runner: JobRunner): Promise<Result<object>> {
  const tried = matchBrief(limits);
  if (!tried.ok) return tried;
  const base = singlePath({ plan: createPlan('p', tried.value[0]?.response ?? 'lowpass', 'butterworth', tried.value[0]?.response === 'bandpass' ? 2 : 1, limits[0].freqHz) }, (() => { let n = 0; return () => `m${n++}`; })());
  if (!base.ok) return base;
  const design = { ...base.value, brief: { ...base.value.brief, mask: limits.map((l, i) => ({ id: `l${i}`, ...l })) } };
  const found = await runner.run<'match'>({ kind: 'match', design, variantId: design.currentVariant, grid: GRID });
  if (!found.ok) return found;
  return success(found.value.matches.map(({ plan, marginDb, figures }) => ({
    alignment: plan.alignment, response: plan.response, order: plan.order, cutoffHz: plan.cutoffHz, ...(plan.response === 'bandpass' ? { centerHz: plan.cutoffHz, bandwidthHz: plan.bandwidthHz } : {}), rippleDb: plan.rippleDb, attenuationDb: plan.attenuationDb,
    marginDb, parts: 'ok' in figures ? null : figures.partCount, opAmps: 'ok' in figures ? null : figures.opAmps,
  })));
}

/** A recording through a variant: same rate, same length. Fails as reading, the design and time do, or with `no-such-control`. */
export async function renderVerb(text: string, variantName: string | undefined, wav: Uint8Array, voltsPerFullScale: number, controls: Readonly<Record<string, number>>): Promise<Result<Uint8Array>> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const read = readWav(wav);
  if (!read.ok) return read;
  const { design, variant } = opened.value;
  for (const name of Object.keys(controls)) if (!variant.controls.some((c) => c.name === name || c.id === name)) return failure('no-such-control', { control: name, controls: variant.controls.map((c) => c.name).join(', ') });
  const turned = { ...variant, controls: variant.controls.map((c) => ({ ...c, position: controls[c.name] ?? controls[c.id] ?? c.position })) };
  const { samples, rateHz } = read.value;
  const input = upsampled(samples, RENDER_OVERSAMPLED).map((v) => v * voltsPerFullScale);
  const sounded = await sounding({ ...design, variants: design.variants.map((v) => (v.id === variant.id ? turned : v)) }, variant.id, input, rateHz * RENDER_OVERSAMPLED, RUN_THROUGH);
  if (!sounded.ok) return sounded;
  return success(writeFloatWav(Float32Array.from(downsampled(sounded.value.volts, RENDER_OVERSAMPLED).subarray(0, samples.length), (v) => v / voltsPerFullScale), rateHz));
}

/** Everything to buy for so many boards, as CSV. Fails as reading and compiling do. */
export function partsVerb(text: string, variantName: string | undefined, boards: number): Result<string> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const { design, variant } = opened.value;
  const sheet = buildSheet({ ...design, preferences: { ...design.preferences, boards } }, variant);
  if (!sheet.ok) return sheet;
  const built = compile(design, variant, { ...AS_BUILT, rest: 'left' });
  if (!built.ok) return built;
  // The sheet calls a part by its name in its stage and the stage's number; the list by its one designator.
  const names = designatorsOf(built.value.ways, built.value.netlist.elements);
  const stages = built.value.ways.flatMap((w) => w.stages);
  const called = (reference: string) => {
    const [, part, number, rest] = /^([^.]+)\.(\d+)(.*)$/.exec(reference) ?? [];
    return part === undefined ? reference : `${names.get(`${stages[Number(number) - 1]?.stage.id}.${part}`) ?? `${part}.${number}`}${rest}`;
  };
  const rows = sheet.value.parts.map((line) => [line.kind, line.value === null ? '' : figure(line.value), line.name, line.tolerancePct === null ? '' : figure(line.tolerancePct), line.references.map(called).join(' '), line.perBoard, line.total]);
  return success(writeCsv(['kind', 'value', 'name', 'tolerance_pct', 'references', 'per_board', 'total'], rows));
}

/** A board's plan as files would have it: rows and columns from 1. Fails as reading and planning do, or with `bad-option`. */
export function boardVerb(text: string, variantName: string | undefined, kind: string): Result<object> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  if (kind !== 'strip') return failure('bad-option', { option: '--kind', value: kind, allowed: 'strip' });
  const { design, variant } = opened.value;
  const listed = stripParts(design, variant);
  if (!listed.ok) return listed;
  const { parts, leaving } = listed.value;
  const planned = stripPlan(parts, leaving);
  if (!planned.ok) return planned;
  const plan = planned.value;
  const check = checkStrips(plan, parts);
  const netOf = new Map(parts.flatMap((p) => p.pins.flatMap((pin) => (pin ? [[`${p.reference} ${pin.name}`, pin.net] as const] : []))));
  return success({
    size: { rows: plan.rows.length, columns: plan.columns }, holes: plan.rows.length * plan.columns, parts: plan.parts.length, wires: plan.links.length, cuts: plan.cuts.length,
    violations: check.faults.map((f) => `${f.kind}: ${f.a}${f.b ? `, ${f.b}` : ''}`),
    plan: {
      rows: plan.rows.length, columns: plan.columns,
      cuts: plan.cuts.map(({ row, column }) => [row + 1, column + 1]),
      links: plan.links.map(({ column, fromRow, toRow }) => [fromRow + 1, column + 1, toRow + 1, column + 1]),
      pins: plan.parts.flatMap((p) => p.pins.map((pin) => ({ part: p.reference, pin: pin.name, net: netOf.get(`${p.reference} ${pin.name}`), row: pin.row + 1, column: pin.column + 1 }))),
      bodies: plan.parts.map((p) => ({ part: p.reference, row1: p.body.row1 + 1, column1: p.body.column1 + 1, row2: p.body.row2 + 1, column2: p.body.column2 + 1 })),
      leaving: plan.leaving.map(({ label, row }) => ({ label, row: row + 1, column: 1 })),
    },
  });
}
