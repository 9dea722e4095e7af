import { AUDIO_BAND } from '../math/grid';
import { demoDesigns } from '../design/demo/demo';
import { designSchema, type Design, type Variant } from '../design/document/schema';
import { orLong } from '../../testing/extent';
import { seeded } from '../testing/seeded';
import { JobRunner, type JobRequest } from './run-job';

const GRID = { ...AUDIO_BAND, points: 40 };
/** More stages than these (a bank's) are asked for their desk alone, or a test takes a minute. */
const MOST_STAGES = 8;
/** What takes seconds is asked of the designs as they stand, and of few stages. */
const SLOW: readonly JobRequest['kind'][] = ['range', 'yield', 'turn', 'op-amp-swap', 'four-views'];
const FEW_STAGES = 2;

type Asked<K extends JobRequest['kind']> = Extract<JobRequest, { kind: K }>;

/** What is asked of a whole variant while it stands on the desk. */
function ofPath(design: Design, variant: Variant): JobRequest[] {
  const of = { design, variantId: variant.id };
  const drawn = { ...of, runs: 10, seed: 1 };
  return [
    { kind: 'desk', ...of, ghostVariantId: null, grid: GRID },
    { kind: 'match', ...of, grid: GRID },
    { kind: 'compare', ...of },
    { kind: 'range', ...of },
    { kind: 'op-amp-swap', ...of, deviceId: 'micropower-1mhz', grid: GRID } as Asked<'op-amp-swap'>,
    { kind: 'time', ...of, ghostVariantId: null, wave: { kind: 'step' } },
    { kind: 'nulls', ...drawn },
    { kind: 'band', ...drawn, grid: GRID },
    { kind: 'yield', ...drawn, grid: GRID },
    { kind: 'held-by', ...of, freqHz: 1000 },
    { kind: 'terminals', ...of },
    { kind: 'trim', ...of },
    { kind: 'rest', ...of },
    { kind: 'bank', ...of, grid: GRID },
    ...(design.family === 'loudspeaker' ? ofCrossover(design, variant) : []),
    { kind: 'shelf-card', design },
    { kind: 'control-law', ...of },
    { kind: 'sag', ...of },
    { kind: 'volts-per-octave', ...of },
    { kind: 'gate-response', ...of, gateS: 0.01 },
    { kind: 'measure-plan', ...of, rateHz: 48_000 },
    { kind: 'sheet', ...of } as Asked<'sheet'>,
  ];
}

function ofCrossover(design: Design, variant: Variant): JobRequest[] {
  const of = { design, variantId: variant.id };
  return [
    { kind: 'acoustics', ...of, ghostVariantId: null, grid: GRID },
    { kind: 'level-trims', ...of },
    { kind: 'angles', ...of, grid: GRID, lobeHz: 2000 },
    { kind: 'decay', ...of, ghostVariantId: null } as Asked<'decay'>,
  ];
}

/** What is asked of each stage and each control. */
function ofPieces(design: Design, variant: Variant): JobRequest[] {
  const of = { design, variantId: variant.id };
  const stages = variant.ways.flatMap((way) => way.stages);
  return [
    ...variant.controls.slice(0, 1).map(({ id }): JobRequest => ({ kind: 'turn', ...of, controlId: id, grid: GRID })),
    ...stages.flatMap(({ id, parts }): JobRequest[] => [
      { kind: 'detail', ...of, stageId: id },
      { kind: 'walk', ...of, stageId: id },
      { kind: 'loop', ...of, stageId: id, grid: GRID },
      { kind: 'forms', ...of, stageId: id, grid: GRID },
      { kind: 'four-views', ...of, stageId: id, wave: 'square', freqHz: 500, peakVolts: 1, discharge: null },
      ...Object.keys(parts)
        .slice(0, 1)
        .map((part): JobRequest => ({ kind: 'part-moves', ...of, stageId: id, part, pct: 10, grid: GRID })),
    ]),
  ];
}

/** Single figures of an answer that are none: a curve may have gaps, and says so by its type. */
function figuresThatAreNone(value: unknown, at: string): string[] {
  if (typeof value === 'number') return Number.isFinite(value) ? [] : [`${at}: ${value}`];
  if (Array.isArray(value)) return value.flatMap((v, i) => figuresThatAreNone(v, `${at}[${i}]`));
  if (ArrayBuffer.isView(value) || value === null || typeof value !== 'object') return [];
  return Object.entries(value).flatMap(([name, v]) => figuresThatAreNone(v, `${at}.${name}`));
}

const runner = new JobRunner();
async function noneIn(requests: readonly JobRequest[]): Promise<string[]> {
  const found: string[] = [];
  for (const request of requests) {
    const answer = await runner.run(request as never);
    if (!answer.ok && answer.code === 'bad-request') found.push(`${request.kind}: ${JSON.stringify(answer.data)}`);
    if (answer.ok) found.push(...figuresThatAreNone(answer.value, request.kind));
  }
  return [...new Set(found)];
}

const withVariant = (design: Design, change: (variant: Variant) => Variant): Design => ({
  ...design,
  variants: design.variants.map(change),
});

/** What a maker may have done to a design by mistake, or to see what comes of it. */
const MISHAPS: Readonly<Record<string, (variant: Variant) => Variant>> = {
  'as it stands': (variant) => variant,
  'every control at its beginning': (variant) => ({
    ...variant,
    controls: variant.controls.map((c) => ({ ...c, position: 0 })),
  }),
  'a part of every stage left out': (variant) => ({
    ...variant,
    ways: variant.ways.map((way) => ({
      ...way,
      stages: way.stages.map((stage) => {
        const [first] = Object.keys(stage.parts);
        return first === undefined
          ? stage
          : { ...stage, parts: { ...stage.parts, [first]: { ...stage.parts[first], leftOut: true } } };
      }),
    })),
  }),
};

describe.each(Object.entries(MISHAPS))('%s', (name, mishap) => {
  test.each(demoDesigns().map((d) => [d.title, d] as const))(
    'no answer holds a figure that is none: %s',
    async (_t, demo) => {
      const design = withVariant(demo, mishap);
      const [first, ...others] = design.variants;
      for (const variant of name === 'as it stands' ? [first, ...others] : [first]) {
        const stages = variant.ways.flatMap((w) => w.stages).length;
        const slowToo = name === 'as it stands' && stages <= FEW_STAGES && variant === design.variants[0];
        const asked = [...ofPath(design, variant), ...ofPieces(design, variant)];
        const within = asked.filter(({ kind }) =>
          stages > MOST_STAGES ? kind === 'desk' : slowToo || !SLOW.includes(kind),
        );
        expect(await noneIn(within)).toEqual([]);
      }
    },
  );
});

/** Every number of a value, with the way to it. */
const numbersIn = (value: unknown, way: readonly (string | number)[] = []): (readonly (string | number)[])[] =>
  typeof value === 'number'
    ? [way]
    : typeof value === 'object' && value !== null
      ? Object.entries(value).flatMap(([name, v]) => numbersIn(v, [...way, name]))
      : [];

/** The design with a few numbers of its circuits and its brief written over, as far as it stays a design. */
function written(demo: Design, random: () => number): Design {
  let design = demo;
  const places = numbersIn({ variants: demo.variants, brief: demo.brief, preferences: demo.preferences });
  for (let k = 1 + Math.floor(3 * random()); k > 0; k--) {
    const changed = structuredClone(design) as unknown as Record<string, unknown>;
    const way = places[Math.floor(random() * places.length)];
    const last = way[way.length - 1];
    const holder = way.slice(0, -1).reduce((at, name) => at[name] as Record<string, unknown>, changed);
    const before = holder[last] as number;
    const factor = 10 ** (12 * random() - 6);
    holder[last] = [before * factor, before * factor, Math.round(before * factor), 0, -before, before + 1][
      Math.floor(6 * random())
    ];
    const read = designSchema.safeParse(changed);
    if (read.success) design = read.data;
  }
  return design;
}

test('whatever numbers are written into a design, no answer throws or holds a figure that is none', async () => {
  const random = seeded('numbers written over');
  const demos = demoDesigns().filter((d) => d.variants[0].ways.flatMap((w) => w.stages).length <= MOST_STAGES);
  for (let k = 0; k < orLong(40, 20_000); k++) {
    const design = written(demos[k % demos.length], random);
    const [variant] = design.variants;
    const asked = [...ofPath(design, variant), ...ofPieces(design, variant)].filter(({ kind }) => !SLOW.includes(kind));
    const few = asked.filter((_, i) => i === 0 || random() < 0.2);
    expect([k, ...(await noneIn(few))]).toEqual([k]);
  }
}, 7_200_000);
