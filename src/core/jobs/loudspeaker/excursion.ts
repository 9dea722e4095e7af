import { samplingGrid } from '../../analysis/curves/curve-sampling';
import { isPassive } from '../../design/making/create';
import { driverOf } from '../../design/compiled/netlist-writer';
import type { Design, Variant } from '../../design/document/schema';
import { AIR_DENSITY, SPEED_OF_SOUND } from '../../loudspeaker/air';
import type { Driver } from '../../loudspeaker/driver';
import { driverResponse } from '../../loudspeaker/driver-response';
import { AUDIO_BAND } from '../../math/grid';
import { naturalOf } from '../reading/read-way';
import type { SpeakerSystem } from './speaker-system';

/** How far a driver's cone goes at most with a sine of the brief's volts, and where: m from its rest, Hz. */
export interface Excursion {
  readonly wayId: string;
  readonly driver: string;
  readonly metres: number;
  readonly atHz: number;
  /** What it may; null where nothing is said. */
  readonly ratingM: number | null;
}

/** Of the pressure of 0 dB, and what levels are given for. */
const [REFERENCE_PA, AT_VOLTS] = [20e-6, 2.83];

/**
 * Metres (peak) of a cone of so much radius for a pressure (Pa rms) at 1 m before a wall: p = ρ ω² S x/(2π r), a small
 * source (L. Beranek, Acoustics, 1954, 4.3).
 */
const metresFor = (pascals: number, freqHz: number, radiusM: number): number =>
  (Math.SQRT2 * pascals * 2 * Math.PI) / (AIR_DENSITY * (2 * Math.PI * freqHz) ** 2 * Math.PI * radiusM ** 2);

/** The lowest frequency that a driver's response is known at, Hz. */
const knownFrom = ({ response }: Driver): number => (response.kind === 'curve' ? response.curve.freqHz[0] : 0);

/** Up to where a cone is small against the wave, Hz: k a = 1. */
const smallTo = ({ radiusM }: Driver): number => SPEED_OF_SOUND / (2 * Math.PI * radiusM);

/**
 * Frequencies that tell what a crossover asks of its drivers over the audio band: about its natural ones, and the very
 * ends of what is known of each driver, where most of it may be.
 */
export function bandGrid(design: Design, variant: Variant, built: SpeakerSystem['built']): Float64Array {
  const ends = variant.ways.flatMap((way) => {
    const driver = driverOf(design, way);
    return driver ? [knownFrom(driver), smallTo(driver)] : [];
  });
  const inBand = ends.filter((f) => f >= AUDIO_BAND.fromHz && f <= AUDIO_BAND.toHz);
  return Float64Array.from([...samplingGrid(naturalOf(built), AUDIO_BAND), ...inBand]).sort();
}

/**
 * Of every driver that the network feeds: what its sound says of its cone, where that is small against the wave. @param
 * system over `bandGrid`.
 */
export function excursionsOf(design: Design, variant: Variant, { freqHz, ways }: SpeakerSystem): Excursion[] {
  return variant.ways.flatMap((way, w): Excursion[] => {
    const driver = driverOf(design, way);
    if (!driver || !isPassive(way)) return [];
    const highest = smallTo(driver);
    const sound = driverResponse(driver, freqHz);
    let worst = { metres: 0, atHz: freqHz[0] };
    freqHz.forEach((f, i) => {
      if (f < knownFrom(driver) || f > highest) return;
      const level = Math.hypot(sound[2 * i], sound[2 * i + 1]);
      const volts = design.brief.signalVolts * Math.hypot(ways[w].volts[2 * i], ways[w].volts[2 * i + 1]);
      const metres = metresFor((REFERENCE_PA * level * volts) / AT_VOLTS, f, driver.radiusM);
      if (metres > worst.metres) worst = { metres, atHz: f };
    });
    return [{ wayId: way.id, driver: driver.name, ...worst, ratingM: driver.excursionM ?? null }];
  });
}
