import { driverOf } from '../../design/compiled/netlist-writer';
import type { Design, Variant } from '../../design/document/schema';
import { levelsDb } from '../../analysis/curves/response';
import { programmeShares } from '../../loudspeaker/listening';
import type { Acoustics } from './acoustics-types';
import type { Check, SpeakerCheckCode } from '../desk/desk-types';
import { type SpeakerSystem } from './speaker-system';
import { USUAL_LISTENING } from '../../design/document/usual-listening';

/** Share of a driver's drive that may lie below its safe band. */
const UNSAFE_SHARE = { warn: 0.05, bad: 0.15 };
const OUT_OF_STEP_DEG = 60;
/** Share of its way that a cone is near the end at. */
const CLOSE_TO_END = 0.8;
/** Share of what fills a core from which it distorts. */
const NEARLY_FULL = 0.6;
const FLAT_DB = { ok: 1, warn: 2.5 };

/** Everything that is looked at. @param wide all of it over the audio band. */
interface Seen {
  readonly design: Design;
  readonly variant: Variant;
  readonly wide: SpeakerSystem;
  readonly facts: Omit<Acoustics, 'checks'>;
}

const check = (
  id: string,
  level: Check['level'],
  code: SpeakerCheckCode,
  data: Check['data'],
  more: Partial<Pick<Check, 'stageId' | 'cure'>> = {},
): Check => ({ id, level, code, stageId: null, data, cure: null, ...more });

const levelOf = (bad: boolean, warn: boolean): Check['level'] => (bad ? 'bad' : warn ? 'warn' : 'ok');

function loadCheck({ variant, facts: { load } }: Seen): Check[] {
  if (!load) return [];
  const { lowestOhm: wanted } = variant.listening ?? USUAL_LISTENING;
  const low = load.lowestOhm < wanted;
  return [
    check('load', levelOf(low, load.hottestOhm < wanted / 2), low ? 'load-low' : 'load-fine', {
      ohm: load.lowestOhm,
      atHz: load.lowestHz,
      phaseDeg: load.phaseThereDeg,
      wanted,
      hotOhm: load.hottestOhm,
      hotHz: load.hottestHz,
    }),
  ];
}

const levelChecks = ({ facts: { flat, aligned } }: Seen): Check[] =>
  (
    [
      ['flat', 'sum-flat', flat],
      ['aligned', 'sum-aligned', aligned],
    ] as const
  ).map(([id, code, strays]) => {
    const off = Math.max(strays.overDb, -strays.underDb);
    return check(id, levelOf(off > FLAT_DB.warn, off > FLAT_DB.ok), code, { ...strays, off });
  });

const phaseChecks = ({ variant, facts }: Seen): Check[] =>
  facts.crossings.map(({ upper, lowerName, upperName, freqHz, phaseDeg, nullDb }) => {
    const there = variant.ways.some((w) => w.id === upper);
    // Fed in step the two add; half a turn apart one of them wants its terminals changed over.
    const apart = Math.abs(phaseDeg);
    const out = apart > 180 - OUT_OF_STEP_DEG;
    return check(
      `phase-${upper}`,
      levelOf(out, apart > OUT_OF_STEP_DEG),
      out ? 'ways-oppose' : 'ways-in-step',
      { lower: lowerName, upper: upperName, freqHz, phaseDeg, nullDb },
      { cure: out && there ? { kind: 'turn-over', wayId: upper } : null },
    );
  });

function mixedPhases({ design, variant }: Seen): Check[] {
  const [measured, made] = [true, false].map((wanted) =>
    variant.ways.flatMap((way) => {
      const response = driverOf(design, way)?.response;
      return (response?.kind === 'curve' && response.curve.phaseDeg !== null) === wanted ? [way.name] : [];
    }),
  );
  return measured.length > 0 && made.length > 0
    ? [check('phases', 'warn', 'phases-mixed', { measured: measured.join(', '), made: made.join(', ') })]
    : [];
}

const coreChecks = ({ design, facts }: Seen): Check[] =>
  facts.power.flatMap(({ part, wayId, stageId, core }) =>
    core && core.peakAmps > NEARLY_FULL * core.fullAmps
      ? [
          check(
            `core-${stageId ?? wayId}-${part}`,
            levelOf(core.peakAmps > core.fullAmps, true),
            'core-full',
            { part, amps: core.peakAmps, fullAmps: core.fullAmps, volts: design.brief.signalVolts },
            { stageId },
          ),
        ]
      : [],
  );

const heatChecks = ({ design, facts }: Seen): Check[] =>
  facts.power.flatMap(({ part, wayId, stageId, watts, ratingWatts }) =>
    ratingWatts === null || watts < ratingWatts / 2
      ? []
      : [
          check(
            `watts-${stageId ?? wayId}-${part}`,
            levelOf(watts > ratingWatts, true),
            'too-hot',
            { part, watts, ratingWatts, volts: design.brief.signalVolts },
            { stageId },
          ),
        ],
  );

const coneChecks = ({ design, facts }: Seen): Check[] =>
  facts.excursions.flatMap(({ wayId, driver, metres, atHz, ratingM }) =>
    ratingM !== null && metres > CLOSE_TO_END * ratingM
      ? [
          check(`cone-${wayId}`, levelOf(metres > ratingM, true), 'cone-far', {
            driver,
            mm: 1000 * metres,
            ratingMm: 1000 * ratingM,
            atHz,
            volts: design.brief.signalVolts,
          }),
        ]
      : [],
  );

const safeBandChecks = ({ design, wide }: Seen): Check[] =>
  wide.ways.flatMap(({ way, volts }) => {
    const driver = driverOf(design, way);
    if (!driver || driver.kind === 'woofer' || driver.kind === 'full-range') return [];
    const shares = programmeShares(wide.freqHz, 'programme');
    const power = levelsDb(volts).map((db, i) => shares[i] * 10 ** (db / 10));
    const whole = power.reduce((sum, p) => sum + p, 0);
    const below = power.reduce((sum, p, i) => sum + (wide.freqHz[i] < driver.safeFromHz ? p : 0), 0) / whole;
    const level = levelOf(below > UNSAFE_SHARE.bad, below > UNSAFE_SHARE.warn);
    const data = { driver: driver.name, safeHz: driver.safeFromHz, sharePct: 100 * below };
    return [check(`safe-${way.id}`, level, 'safe-band', data)];
  });

/** Goes over a crossover as a colleague would: load, level, phase, cores, heat, cones, drivers in danger. */
const CHECKS = [
  loadCheck,
  levelChecks,
  phaseChecks,
  mixedPhases,
  coreChecks,
  heatChecks,
  coneChecks,
  safeBandChecks,
] as const;

/** @param wide all of it over the audio band. */
export const checkSpeakers = (
  design: Design,
  variant: Variant,
  wide: SpeakerSystem,
  facts: Omit<Acoustics, 'checks'>,
): Check[] => CHECKS.flatMap((look) => look({ design, variant, wide, facts }));
