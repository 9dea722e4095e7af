import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import { designatorsOf } from '../../design/stages/designators';
import { AUDIO_BAND } from '../../math/grid';
import { success, type Result } from '../../result';
import type { PartKind } from '../../topology/kit/part';
import { decibels } from '../../units/quantity';
import type { Crossing } from '../loudspeaker/acoustics-types';
import type { Check, DeskMark, DeskStage } from '../desk/desk-types';
import { pathNoise, stagePeaksDb } from '../desk/path-noise';
import { naturalOf } from '../reading/read-way';
import type { JobRunner } from '../run-job';
import { openDesign } from './opened-design';

/** What the desk is asked for: the audio band, though no figure hangs on how finely. */
export const SHELL_GRID = { ...AUDIO_BAND, points: 241 };

/** What the desk says of a variant, as facts. Fails as reading and the design do. @param words how a check is said. */
export async function deskVerb(
  text: string,
  variantName: string | undefined,
  runner: JobRunner,
  words: (check: Check) => string,
): Promise<Result<object>> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const { design, variant } = opened.value;
  const asked = { design, variantId: variant.id, ghostVariantId: null, grid: SHELL_GRID };
  const desk = await runner.run<'desk'>({ kind: 'desk', ...asked });
  if (!desk.ok) return desk;
  const acoustic = variant.join === 'acoustic' ? await runner.run<'acoustics'>({ kind: 'acoustics', ...asked }) : null;
  if (acoustic && !acoustic.ok) return acoustic;
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const natural = naturalOf(built.value);
  const { stability, marks, passLevelDb, worstErrorDb, stages, checks } = desk.value;
  // Of what sings there is no figure to give.
  const of = <T>(figure: () => T): T | null => (stability.stable ? figure() : null);
  const noise = of(() => pathNoise(built.value, natural));
  return success({
    ...stability,
    marks: [...marks.map(markOut), ...(acoustic?.value.crossings ?? []).map(crossingOut)],
    passLevelDb: of(() => passLevelDb),
    worstMissDb: of(() => worstErrorDb),
    stages: stages.map(stageOut),
    checks: [...checks, ...(acoustic?.value.checks ?? [])].map((check) => ({
      id: check.id,
      level: LEVELS[check.level],
      text: words(check),
    })),
    noise: noise?.ok ? { totalV: noise.value.totalV, aWeightedV: noise.value.aWeightedV, ...AUDIO_BAND } : null,
    stagePeaksDb: of(() => stagePeaksDb(built.value, natural, runner.solver)),
    parts: partsOut(built.value),
  });
}

const LEVELS = { ok: 'ok', warn: 'look', bad: 'trouble' } as const;

const markOut = ({ freqHz, ...mark }: DeskMark) => ({ ...mark, frequencyHz: freqHz });

const crossingOut = ({ freqHz, levelDb, belowSumDb, phaseDeg }: Crossing) => ({
  kind: 'crossing',
  frequencyHz: freqHz,
  levelDb,
  referenceDb: levelDb + belowSumDb,
  belowSumDb,
  phaseDeg,
});

function stageOut({ name, topology, form, bypassed, target, network, got }: DeskStage) {
  const common = { name, topology, form, bypassed };
  if (!target) {
    const of = (which: 'wanted' | 'got') =>
      Object.fromEntries((network?.parameters ?? []).map((p) => [p.name, p[which]]));
    return { ...common, wanted: of('wanted'), got: of('got') };
  }
  const q = (value: number | null) => (target.order === 2 ? value : null);
  return {
    ...common,
    wanted: { frequencyHz: target.freqHz, q: q(target.q), gainDb: decibels(target.gain) },
    got: { frequencyHz: got.freqHz, q: q(got.q), gainDb: got.gainDb },
  };
}

/** What a part's value is called, by its kind; a control current is no part. */
const UNITS: Readonly<Record<PartKind, 'ohm' | 'farad' | 'henry' | null>> = {
  resistor: 'ohm',
  potentiometer: 'ohm',
  capacitor: 'farad',
  inductor: 'henry',
  current: null,
  voltage: null,
};

function partsOut({ ways }: Compilation) {
  const names = designatorsOf(ways);
  return ways
    .flatMap((w) => w.stages)
    .flatMap(({ stage, parts }) =>
      parts.flatMap(({ spec, exact, chosen, choice }) => {
        const unit = UNITS[spec.kind];
        if (unit === null) return [];
        const designator = names.get(`${stage.id}.${spec.name}`);
        const left = choice.leftOut ? { leftOut: true } : {};
        return [
          { designator, stage: stage.id, part: spec.name, kind: spec.kind, [unit]: chosen, exact, chosen, ...left },
        ];
      }),
    );
}
