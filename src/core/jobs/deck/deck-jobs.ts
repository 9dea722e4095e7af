import * as z from 'zod';
import { defineJob, requestOf } from '../define-job';
import { compile, SOURCE_NODE } from '../../design/compiled/compile';
import type { CompileOptions } from '../../design/compiled/writing';
import { countingIds, createDesign, createPlan, usualTopologies } from '../../design/making/create';
import type { Design, Plan, Variant } from '../../design/document/schema';
import { OP_AMP_IDS } from '../../device/op-amps';
import { ALIGNMENTS, alignmentById, type AlignmentId } from '../../filter/alignments/index';
import { isBand, ordersIn, planSections, type PlanResponse } from '../../filter/plan-sections';
import { cellNotes, litCells } from './lit-cells';
import { writeDeck } from '../../format/deck/write-deck';
import { SERIES_IDS, type SeriesId } from '../../parts/preferred';
import { failure, success, type Result } from '../../result';
import { SECTION_TOPOLOGIES } from '../../topology/index';
import { decibels } from '../../units/quantity';

export const synthRequest = requestOf('synth', {
  response: z.string(),
  alignment: z.string(),
  order: z.number(),
  /** Cutoff, or the centre of a band. */
  cutoffHz: z.number(),
  /** Of a band. */
  bandwidthHz: z.number().optional(),
  cutoffAt: z.enum(['own', '-3db']).optional(),
  rippleDb: z.number(),
  attenuationDb: z.number().optional(),
  topology: z.string().optional(),
  gainDb: z.number(),
  /** `exact` or a series. */
  series: z.string(),
  opAmp: z.string(),
});
export type SynthRequest = z.infer<typeof synthRequest>;

/** Responses by the names the command line knows them by. */
const RESPONSES: Readonly<Record<string, PlanResponse>> = {
  lowpass: 'lowpass',
  highpass: 'highpass',
  bandpass: 'bandpass',
  notch: 'bandstop',
  allpass: 'allpass',
};
const SYNTH_ALIGNMENTS = ALIGNMENTS.map((a) => a.id).filter((id) => id !== 'custom');
const USUAL_ATTENUATION_DB = 50;

/** The plan that is asked for. Fails with `bad-option` (option, value, allowed). */
export function synthPlanOf(request: SynthRequest): Result<Plan> {
  const bad = (option: string, value: string | number, allowed: string) =>
    failure('bad-option', { option, value, allowed });
  const response = RESPONSES[request.response];
  if (!response) return bad('--response', request.response, Object.keys(RESPONSES).join(', '));
  if (!SYNTH_ALIGNMENTS.includes(request.alignment))
    return bad('--alignment', request.alignment, SYNTH_ALIGNMENTS.join(', '));
  const alignment = alignmentById(request.alignment);
  const orders = ordersIn(response, alignment);
  if (!orders.includes(request.order)) return bad('--order', request.order, orders.join(', '));
  if (!(request.cutoffHz > 0 && request.cutoffHz < 1e9))
    return bad(isBand(response) ? '--center' : '--cutoff', request.cutoffHz, 'a positive frequency');
  if (isBand(response) && !(request.bandwidthHz !== undefined && request.bandwidthHz > 0 && request.bandwidthHz < 1e9))
    return bad('--bandwidth', request.bandwidthHz ?? '', 'a positive frequency');
  if (request.attenuationDb !== undefined && !(request.attenuationDb >= 10 && request.attenuationDb <= 140))
    return bad('--attenuation', request.attenuationDb, '10 to 140 dB');
  if (request.series !== 'exact' && !(SERIES_IDS as readonly string[]).includes(request.series))
    return bad('--series', request.series, `exact, ${SERIES_IDS.join(', ')}`);
  if (!OP_AMP_IDS.includes(request.opAmp)) return bad('--op-amp', request.opAmp, OP_AMP_IDS.join(', '));
  if (request.topology !== undefined && !sectionTopology(request.topology))
    return bad('--topology', request.topology, SECTION_TOPOLOGIES.map((t) => t.id).join(', '));
  if (!(request.rippleDb >= 0.01 && request.rippleDb <= 3)) return bad('--ripple', request.rippleDb, '0.01 to 3 dB');
  const plan = synthPlan(request, response, request.alignment as AlignmentId);
  const chosen = request.topology === undefined ? undefined : sectionTopology(request.topology);
  if (
    chosen &&
    !planSections({ ...plan, alignment }).some((s) => s.order === chosen.order && chosen.responses.includes(s.response))
  )
    return bad(
      '--topology',
      chosen.id,
      SECTION_TOPOLOGIES.filter((t) =>
        planSections({ ...plan, alignment }).some((s) => s.order === t.order && t.responses.includes(s.response)),
      )
        .map((t) => t.id)
        .join(', '),
    );
  return success(plan);
}

/**
 * Designs a filter and gives it as a deck: input node `in` driven by `Vin` (AC 1 V), output node `out`. Fails as its
 * plan or its design does.
 */
export function runSynth(request: SynthRequest): Result<{ deck: string }> {
  const plan = synthPlanOf(request);
  if (!plan.ok) return plan;
  const design = synthDesign(request, plan.value);
  return designDeck(design, design.variants[0], {
    values: request.series === 'exact' ? 'exact' : 'chosen',
    devices: request.opAmp === 'ideal' ? 'ideal' : 'real',
    joints: 'loaded',
  });
}

const sectionTopology = (id: string) => SECTION_TOPOLOGIES.find((t) => t.id === id);

function synthPlan(request: SynthRequest, response: PlanResponse, alignmentId: AlignmentId): Plan {
  const plan = createPlan('plan', response, alignmentId, request.order, request.cutoffHz);
  const chosen = request.topology === undefined ? undefined : sectionTopology(request.topology);
  const usual = usualTopologies(response);
  // A gain that Sallen-Key at unity cannot give needs a stage that can.
  const second =
    usual.second === 'sallen-key-unity-gain' && request.gainDb > 0 && request.order % 2 === 0
      ? 'multiple-feedback'
      : usual.second;
  const own: PlanResponse | 'notch' = response === 'bandstop' ? 'notch' : response;
  const topologies = {
    first: chosen?.order === 1 ? chosen.id : usual.first,
    second: chosen?.order === 2 && (chosen.responses as readonly string[]).includes(own) ? chosen.id : second,
    notch: chosen?.order === 2 && chosen.responses.includes('notch') ? chosen.id : usual.notch,
  };
  return {
    ...plan,
    gainDb: request.gainDb,
    rippleDb: request.rippleDb,
    attenuationDb: request.attenuationDb ?? USUAL_ATTENUATION_DB,
    bandwidthHz: request.bandwidthHz ?? plan.bandwidthHz,
    cutoffAt: request.cutoffAt ?? plan.cutoffAt,
    topologies,
  };
}

function synthDesign(request: SynthRequest, plan: Plan): Design {
  const makeId = countingIds('synth');
  const design = createDesign(
    `${request.alignment} ${request.response} of order ${request.order} at ${request.cutoffHz} Hz`,
    () => [plan],
    makeId,
  );
  const series = request.series === 'exact' ? undefined : (request.series as SeriesId);
  return {
    ...design,
    brief: { ...design.brief, source: { ...design.brief.source, ohm: 0 }, load: { ...design.brief.load, ohm: null } },
    preferences: { ...design.preferences, resistorSeries: series ?? 'E96', capacitorSeries: series ?? 'E6' },
    variants: design.variants.map((v) => ({
      ...v,
      ways: v.ways.map((way) => ({ ...way, stages: way.stages.map((stage) => ({ ...stage, device: request.opAmp })) })),
    })),
  };
}

/** A variant as a deck: `in` is the source's open-circuit node, `out` the load's. */
export function designDeck(design: Design, variant: Variant, options: CompileOptions): Result<{ deck: string }> {
  const compiled = compile(design, variant, options);
  if (!compiled.ok) return compiled;
  const way = compiled.value.ways[0];
  const shortfallDb = decibels(way.shortfall);
  if (Math.abs(shortfallDb) > 0.01) return failure('gain-not-reached', { db: shortfallDb });
  const cells = litCells(compiled.value);
  const written = writeDeck(compiled.value.netlist, {
    title: design.title,
    notes: cellNotes(cells, (element) => element),
    cellOhm: (element) => cells.get(element),
    rename: { [SOURCE_NODE]: 'in', [way.output]: 'out' },
  });
  return written.ok ? success({ deck: written.value }) : written;
}

export const synthJob = defineJob(synthRequest, (request) => runSynth(request));
