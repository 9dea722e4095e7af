import Papa from 'papaparse';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import type { Design, Variant } from '../../design/document/schema';
import { failure, success, type Result } from '../../result';
import type { PartKind } from '../../topology/kit/part';
import { placeAt } from '../measure/probes';
import { builtVariant } from '../reading/built-variant';
import type { JobAnswers, JobRunner } from '../run-job';
import { openDesign } from './opened-design';

export type Tolerances = Partial<Record<'resistor' | 'capacitor' | 'inductor', number>>;

export interface MeasuredText {
  /** What it is called where it cannot be read. */
  readonly file: string;
  readonly text: string;
  readonly probe: string;
}

/** What a meter read at a node, V from signal ground. */
export interface MeterReading {
  readonly node: string;
  readonly volts: number;
}

/** What may be wrong with a board, from what was measured and read. Fails as reading and ranking do. */
export async function faultsVerb(
  text: string,
  variantName: string | undefined,
  { measured, read }: { readonly measured: readonly MeasuredText[]; readonly read: readonly MeterReading[] },
  tolerances: Tolerances,
  runner: JobRunner,
): Promise<Result<JobAnswers['rank-faults']>> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const { variant } = opened.value;
  const design = withTolerances(opened.value.design, variant, tolerances);
  if (!design.ok) return design;
  const curves = [];
  for (const given of measured) {
    const columns = readMeasured(given);
    if (!columns.ok) return columns;
    curves.push({ ...columns.value, probe: given.probe, uncalibrated: false });
  }
  const built = builtVariant(design.value, variant.id);
  if (!built.ok) return built;
  const readings = [];
  for (const { node, volts } of read) {
    const place = placeAt(design.value, variant, built.value, node);
    if (!place.ok) return place;
    readings.push({ node: place.value.terms[0].node, volts });
  }
  return runner.run<'rank-faults'>({
    kind: 'rank-faults',
    design: design.value,
    variantId: variant.id,
    measured: curves,
    readings,
  });
}

interface Columns {
  readonly freqHz: number[];
  readonly levelDb: number[];
  readonly phaseDeg: number[] | null;
  readonly noiseDb: number[] | null;
}

/**
 * Columns of a CSV file by their headers: `frequency_hz`, `magnitude_db` and, where they are, `phase_deg` and
 * `noise_db`. Fails with `measured-columns` (`file`) or `measured-row` (`file`, `line`).
 */
function readMeasured({ file, text }: Pick<MeasuredText, 'file' | 'text'>): Result<Columns> {
  const [fields = [], ...rows] = Papa.parse<string[]>(text, { skipEmptyLines: true }).data;
  if (!fields.includes('frequency_hz') || !fields.includes('magnitude_db'))
    return failure('measured-columns', { file });
  const column = (name: string) => {
    const at = fields.indexOf(name);
    return rows.map((row) => (row[at] === undefined || row[at] === '' ? NaN : Number(row[at])));
  };
  const [freqHz, levelDb] = [column('frequency_hz'), column('magnitude_db')];
  const bad = freqHz.findIndex((f, i) => !(f > 0) || !Number.isFinite(levelDb[i]) || (i > 0 && f <= freqHz[i - 1]));
  if (bad >= 0) return failure('measured-row', { file, line: bad + 2 });
  return success({
    freqHz,
    levelDb,
    phaseDeg: fields.includes('phase_deg') ? column('phase_deg') : null,
    noiseDb: fields.includes('noise_db') ? column('noise_db') : null,
  });
}

/** The design with every part of a kind made to a tolerance, per cent. */
function withTolerances(design: Design, variant: Variant, tolerances: Tolerances): Result<Design> {
  if (Object.keys(tolerances).length === 0) return success(design);
  const compiled = compile(design, variant, { ...AS_BUILT, rest: 'left' });
  if (!compiled.ok) return compiled;
  const kinds = new Map<string, PartKind>(
    compiled.value.ways
      .flatMap((way) => way.stages)
      .flatMap(({ stage, parts }) => parts.map(({ spec }) => [`${stage.id}.${spec.name}`, spec.kind] as const)),
  );
  const toleranceOf = (element: string): number | undefined => {
    const kind = kinds.get(element);
    return kind === 'resistor' || kind === 'capacitor' || kind === 'inductor' ? tolerances[kind] : undefined;
  };
  const ways = variant.ways.map((way) => ({
    ...way,
    stages: way.stages.map((stage) => ({
      ...stage,
      parts: Object.fromEntries(
        [...kinds.keys()].flatMap((element) => {
          const name = element.slice(stage.id.length + 1);
          if (!element.startsWith(`${stage.id}.`)) return [];
          const tolerancePct = toleranceOf(element);
          const choice = stage.parts[name] ?? {};
          return [[name, tolerancePct === undefined ? choice : { ...choice, tolerancePct }]];
        }),
      ),
    })),
  }));
  return success({
    ...design,
    variants: design.variants.map((v) => (v.id === variant.id ? { ...v, ways } : v)),
  });
}

/** The answer as the shell gives it: kinds, parts, probabilities, values, and where to measure next. */
export const faultsJson = ({ healthy, ranked, values, next }: JobAnswers['rank-faults']): object => ({
  healthy,
  ranked: ranked.map(({ kind, parts, probability, sentence, value, sameAs }) => ({
    what: sentence,
    part: parts[0],
    ...(parts.length > 1 ? { parts } : {}),
    kind,
    probability,
    ...(value === null ? {} : { value }),
    sameAs,
  })),
  values: values.map(({ designator, likely, lowRatio, highRatio, together }) => ({
    designator,
    likely,
    lowRatio,
    highRatio,
    together,
  })),
  next: next && { probe: next.probe, fromHz: next.fromHz, toHz: next.toHz },
});
