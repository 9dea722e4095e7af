import * as z from 'zod';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import { designatorsIn, designatorsOf, outputResistorName } from '../../design/stages/designators';
import type { Design, Variant, Way } from '../../design/document/schema';
import { stageName, turnedParts, type DesignedStage } from '../../design/stages/stage-design';
import { stageTopology } from '../../design/stages/stage-topology';
import { variantSheet, type SheetWay, type VariantSheet } from '../../format/variant-sheet';
import { failure, success, type Result } from '../../result';
import { formatQuantity, formatSigned } from '../../units/quantity';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { deskParts } from '../desk/desk';
import { drawnStage } from '../desk/stage-facts';
import { loadWords, supplyWords, variantWords } from './words';

/** Of a bank a sheet may be asked for one way alone. */
const sheetRequest = requestOf('sheet', { ...ofVariant, wayId: z.string().optional() });
export type SheetRequest = z.infer<typeof sheetRequest>;

/**
 * The whole variant as one drawing, with the values and designators that it is built with; bypassed stages are not
 * drawn. Fails as the design does, or with `no-such-variant`.
 */
export function runSheet({ design, variantId, wayId }: SheetRequest): Result<VariantSheet> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const compiled = compile(design, variant, AS_BUILT);
  return compiled.ok ? success(sheetOf(design, variant, compiled.value, wayId)) : compiled;
}

/** A variant that is compiled as one drawing, or one of its ways alone. */
export function sheetOf(design: Design, variant: Variant, compiled: Compilation, wayId?: string): VariantSheet {
  const names = designatorsOf(compiled.ways);
  const { source } = design.brief;
  return variantSheet({
    title: design.title,
    lines: headLines(design, variant),
    resistorSymbol: design.preferences.resistorSymbol,
    source: [source.name || 'Source', formatQuantity(source.ohm, 'resistance')],
    ways: variant.ways.flatMap((way, w) =>
      wayId === undefined || way.id === wayId ? [sheetWay(design, variant, way, compiled.ways[w].stages, names)] : [],
    ),
  });
}

function sheetWay(
  design: Design,
  variant: Variant,
  way: Way,
  stages: readonly DesignedStage[],
  names: ReadonlyMap<string, string>,
): SheetWay {
  const several = variant.ways.length > 1;
  return {
    name: several ? way.name : null,
    from: fromWords(variant, way),
    stages: stages.filter(({ stage }) => !stage.bypassed).map((designed) => sheetStage(design, way, designed, names)),
    outputResistor: way.outputResistor && { name: outputResistorName(variant, way), ohm: way.outputResistor.ohm },
    to: endWords(design, way),
  };
}

function sheetStage(
  design: Design,
  way: Way,
  designed: DesignedStage,
  names: ReadonlyMap<string, string>,
): SheetWay['stages'][number] {
  const { stage, form } = designed;
  const facts = {
    name: stageName(way, stage),
    form,
    parts: deskParts(designed),
    designators: designatorsIn(stage.id, names),
  };
  const drawn = drawnStage(stageTopology(stage, way), facts, design.preferences);
  return { ...drawn, options: { ...drawn.options, turned: turnedParts(stage) }, wayId: way.id, stageId: stage.id };
}

/** What stands under the title: which variant, and what it runs on. */
function headLines({ brief }: Design, variant: Variant): string[] {
  const level = `${formatQuantity(brief.signalVolts, 'voltage')} RMS`;
  const passive = variant.ways.every((w) => w.load.kind === 'driver' && w.load.amplifier === null);
  return [variantWords(variant), passive ? level : `${supplyWords(brief)}, signal ${level}`];
}

function fromWords({ ways }: Variant, { from }: Way): string | null {
  if (from.kind === 'source') return null;
  const parent = ways.find((w) => w.id === from.way);
  const stage = parent?.stages.find((s) => s.id === from.stage);
  return parent && stage ? `${parent.name}: ${stageName(parent, stage)}, ${from.output}` : from.output;
}

/** What a way ends in: a driver, with its amplifier where it has one, or the load of the brief. */
function endWords({ brief, drivers = [] }: Design, { load, polarity, levelTrimDb }: Way): string[] {
  if (load.kind === 'resistance') return ['Load', formatQuantity(load.ohm, 'resistance')];
  if (load.kind === 'brief') return [brief.load.name || 'Load', loadWords(brief)];
  const { amplifier } = load;
  return [
    drivers.find((d) => d.id === load.driver)?.name ?? 'Driver',
    ...(polarity === -1 ? ['terminals changed over'] : []),
    ...(amplifier ? [`amplifier ${formatSigned(amplifier.gainDb + levelTrimDb, 'decibel', 1)}`] : []),
  ];
}

export const sheetJob = defineJob(sheetRequest, (request) => runSheet(request));
