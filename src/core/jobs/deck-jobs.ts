import { compile, SOURCE_NODE, type CompileOptions } from '../design/compile';
import { createDesign, createPlan } from '../design/create';
import type { Design, Variant } from '../design/schema';
import { OP_AMP_IDS } from '../device/op-amps';
import { ALIGNMENT_IDS, alignmentById, type AlignmentId } from '../filter/alignments/index';
import { writeDeck } from '../format/deck/write-deck';
import { SERIES_IDS, type SeriesId } from '../parts/preferred';
import { failure, success, type Result } from '../result';
import { SECTION_TOPOLOGIES } from '../topology/index';
import { decibels } from '../units/quantity';

export interface SynthRequest {
  readonly kind: 'synth';
  readonly response: string;
  readonly alignment: string;
  readonly order: number;
  readonly cutoffHz: number;
  readonly cutoffAt?: 'own' | '-3db';
  readonly rippleDb: number;
  readonly topology?: string;
  readonly gainDb: number;
  /** `exact` or a series. */
  readonly series: string;
  readonly opAmp: string;
}

/** Highest order that synthesis builds. */
const HIGHEST_ORDER = 8;

/** Designs a filter and gives it as a deck: input node `in` driven by `Vin` (AC 1 V), output node `out`. Fails with `bad-option` (option, value, allowed) or as design does. */
export function runSynth(request: SynthRequest): Result<{ deck: string }> {
  const bad = (option: string, value: string | number, allowed: string) => failure('bad-option', { option, value, allowed });
  if (request.response !== 'lowpass' && request.response !== 'highpass') return bad('--response', request.response, 'lowpass, highpass');
  if (!(ALIGNMENT_IDS as readonly string[]).includes(request.alignment)) return bad('--alignment', request.alignment, ALIGNMENT_IDS.join(', '));
  const alignment = alignmentById(request.alignment);
  const orders = alignment.orders.filter((n) => n <= HIGHEST_ORDER);
  if (!orders.includes(request.order)) return bad('--order', request.order, orders.join(', '));
  if (!(request.cutoffHz > 0 && request.cutoffHz < 1e9)) return bad('--cutoff', request.cutoffHz, 'a positive frequency');
  if (request.series !== 'exact' && !(SERIES_IDS as readonly string[]).includes(request.series)) return bad('--series', request.series, `exact, ${SERIES_IDS.join(', ')}`);
  if (!OP_AMP_IDS.includes(request.opAmp)) return bad('--op-amp', request.opAmp, OP_AMP_IDS.join(', '));
  if (request.topology !== undefined && !sectionTopology(request.topology)) return bad('--topology', request.topology, SECTION_TOPOLOGIES.map((t) => t.id).join(', '));
  if (!(request.rippleDb >= 0.01 && request.rippleDb <= 3)) return bad('--ripple', request.rippleDb, '0.01 to 3 dB');
  const design = synthDesign(request, request.alignment as AlignmentId);
  if (!design.ok) return design;
  return designDeck(design.value, design.value.variants[0], { values: request.series === 'exact' ? 'exact' : 'chosen', devices: request.opAmp === 'ideal' ? 'ideal' : 'real', joints: 'loaded' });
}

const sectionTopology = (id: string) => SECTION_TOPOLOGIES.find((t) => t.id === id);

function synthDesign(request: SynthRequest, alignment: AlignmentId): Result<Design> {
  let count = 0;
  const makeId = () => `s${count++}`;
  const chosen = request.topology === undefined ? undefined : sectionTopology(request.topology);
  const design = createDesign(
    `${request.alignment} ${request.response} of order ${request.order} at ${request.cutoffHz} Hz`,
    (id) => {
      const plan = createPlan(id(), request.response as 'lowpass' | 'highpass', alignment, request.order, request.cutoffHz);
      // A gain that Sallen-Key at unity cannot give needs a stage that can.
      const second = chosen?.order === 2 ? chosen.id : request.gainDb > 0 && request.order % 2 === 0 ? 'multiple-feedback' : 'sallen-key-unity-gain';
      const first = chosen?.order === 1 ? chosen.id : 'first-order-buffered';
      return [{ ...plan, gainDb: request.gainDb, rippleDb: request.rippleDb, cutoffAt: request.cutoffAt ?? plan.cutoffAt, topologies: { first, second } }];
    },
    makeId,
  );
  const series = request.series === 'exact' ? undefined : (request.series as SeriesId);
  return success({
    ...design,
    brief: { ...design.brief, source: { ...design.brief.source, ohm: 0 }, load: { ...design.brief.load, ohm: null } },
    preferences: { ...design.preferences, resistorSeries: series ?? 'E96', capacitorSeries: series ?? 'E6' },
    variants: design.variants.map((v) => ({ ...v, ways: v.ways.map((way) => ({ ...way, stages: way.stages.map((stage) => ({ ...stage, device: request.opAmp })) })) })),
  });
}

/** A variant as a deck: `in` is the source's open-circuit node, `out` the load's. */
export function designDeck(design: Design, variant: Variant, options: CompileOptions): Result<{ deck: string }> {
  const compiled = compile(design, variant, options);
  if (!compiled.ok) return compiled;
  const way = compiled.value.ways[0];
  const shortfallDb = decibels(way.shortfall);
  if (Math.abs(shortfallDb) > 0.01) return failure('gain-not-reached', { db: shortfallDb });
  const written = writeDeck(compiled.value.netlist, { title: design.title, rename: { [SOURCE_NODE]: 'in', [way.output]: 'out' } });
  return written.ok ? success({ deck: written.value }) : written;
}
