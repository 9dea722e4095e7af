import { compile, AS_BUILT } from '../../design/compiled/compile';
import { countingIds, createCrossover, createDriverWay, createPlan } from '../../design/making/create';
import { writeDesign } from '../../design/document/migrate';
import type { MaskLimit } from '../../design/document/schema';
import { readDriverFile, type DriverFile } from '../../format/driver-file';
import { gathered, withCurves } from '../../format/driver-intake';
import { ALIGNMENTS, alignmentById, type AlignmentId } from '../../filter/alignments/index';
import type { Driver } from '../../loudspeaker/driver';
import { fitImpedance } from '../../loudspeaker/fit-impedance';
import { success, type Result } from '../../result';
import { badOption, withSeries } from './opened-design';

export interface CrossoverGiven {
  readonly ways: number;
  readonly cutoffsHz: readonly number[];
  readonly order: number;
  readonly alignment: string;
  readonly rippleDb: number;
  /** One for all, or one a way, ohm. */
  readonly impedancesOhm: readonly number[];
  readonly sourceOhm: number;
  readonly resistors: string;
  readonly capacitors: string;
  readonly files: readonly { readonly way: number; readonly name: string; readonly text: string }[];
  readonly mask: readonly MaskLimit[];
}

const NAMES: Readonly<Record<number, readonly string[]>> = {
  1: ['Full range'],
  2: ['Woofer', 'Tweeter'],
  3: ['Woofer', 'Midrange', 'Tweeter'],
  4: ['Bass', 'Woofer', 'Midrange', 'Tweeter'],
};
const KINDS = ['woofer', 'midrange', 'tweeter', 'full-range'] as const;
/** Order of an edge, at most. */
const MOST_ORDER = 8;

/** A driver that is a resistor of its nominal impedance, and sounds level. */
function resistiveDriver(way: number, name: string, nominalOhm: number): Driver {
  return {
    id: `driver-${way + 1}`,
    name,
    kind: KINDS.find((k) => k === name.toLowerCase()) ?? (name === 'Bass' ? 'woofer' : 'full-range'),
    nominalOhm,
    impedance: { reOhm: nominalOhm, leHenry: 0, lossy: [], resonances: [] },
    measuredImpedance: null,
    response: {
      kind: 'curve',
      curve: { freqHz: [1, 100e3], values: [90, 90], phaseDeg: [0, 0] },
    },
    radiusM: 0.05,
    safeFromHz: 1,
    maxWatts: 100,
    price: null,
  };
}

/**
 * A passive crossover, ways side by side, every edge of one order and alignment; neighbours of second (or sixth) order,
 * which are half a turn apart, are connected the other way round. Fails with `bad-option`, as a driver's
 * file does, or as the ladders' design does.
 */
export function crossoverDesign(given: CrossoverGiven): Result<string> {
  const { ways, cutoffsHz, order, alignment, impedancesOhm } = given;
  const names = NAMES[ways];
  if (!names) return badOption('--ways', ways, '1 to 4');
  if (cutoffsHz.length !== ways - 1 || !cutoffsHz.every((f, i) => f > 0 && (i === 0 || f > cutoffsHz[i - 1])))
    return badOption('--cutoff', cutoffsHz.join(','), `${ways - 1} frequencies that rise`);
  const onOffer = ALIGNMENTS.filter((a) => !a.hasAttenuation && a.id !== 'custom').map((a): string => a.id);
  if (!onOffer.includes(alignment)) return badOption('--alignment', alignment, onOffer.join(', '));
  const orders = alignmentById(alignment).orders.filter((n) => n <= MOST_ORDER);
  if (!orders.includes(order)) return badOption('--order', order, orders.join(', '));
  if (![1, ways].includes(impedancesOhm.length) || !impedancesOhm.every((r) => r >= 0.5 && r <= 1000))
    return badOption('--impedance', impedancesOhm.join(','), 'one, or one a way, 0.5 to 1000 ohm');
  const drivers: Driver[] = [];
  for (const [w, name] of names.entries()) {
    const driver = measuredDriver(
      resistiveDriver(w, name, impedancesOhm[impedancesOhm.length === 1 ? 0 : w]),
      given.files.filter((f) => f.way === w),
    );
    if (!driver.ok) return driver;
    drivers.push(driver.value);
  }
  const planOf = (id: string, response: 'lowpass' | 'highpass', freqHz: number) => ({
    ...createPlan(id, response, alignment as AlignmentId, order, freqHz),
    rippleDb: given.rippleDb,
  });
  const base = createCrossover(
    `${ways}-way ${alignment} crossover`,
    (id) =>
      drivers.map((driver, w) =>
        createDriverWay(
          id,
          names[w],
          driver,
          [
            ...(w > 0 ? [planOf(id(), 'highpass', cutoffsHz[w - 1])] : []),
            ...(w < ways - 1 ? [planOf(id(), 'lowpass', cutoffsHz[w])] : []),
          ],
          { polarity: w % 2 === 1 && order % 4 === 2 ? -1 : 1 },
        ),
      ),
    drivers,
    countingIds('path'),
  );
  const preferences = withSeries({ resistors: given.resistors, capacitors: given.capacitors }, base.preferences);
  if (!preferences.ok) return preferences;
  const design = {
    ...base,
    brief: { ...base.brief, source: { name: 'Amplifier', ohm: given.sourceOhm }, mask: [...given.mask] },
    preferences: preferences.value,
  };
  const built = compile(design, design.variants[0], AS_BUILT);
  return built.ok ? success(writeDesign(design)) : built;
}

/** A driver with its measured files put in. */
function measuredDriver(driver: Driver, files: CrossoverGiven['files']): Result<Driver> {
  if (files.length === 0) return success(driver);
  const read: DriverFile[] = [];
  for (const { name, text } of files) {
    const file = readDriverFile(name, text);
    if (!file.ok) return file;
    read.push(file.value);
  }
  const curves = gathered(read);
  const fit = curves.impedance ? fitImpedance(curves.impedance) : null;
  if (fit && !fit.ok) return fit;
  return success({ ...driver, ...withCurves(driver, curves, fit?.value.model ?? null), nominalOhm: driver.nominalOhm });
}
