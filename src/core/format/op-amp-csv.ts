import Papa from 'papaparse';
import { opAmpSchema, type OpAmp } from '../device/op-amps';
import { failure, success, type Result } from '../result';
import { figure, writeCsv } from './csv';

/** Columns by the figure each holds. A lowest noise gain of 1 says that the part is stable at unity gain. */
const COLUMNS = {
  name: 'name',
  dc_gain_db: 'dcGainDb',
  gain_bandwidth_hz: 'gainBandwidthHz',
  output_ohm: 'outputOhm',
  slew_v_per_s: 'slewVoltsPerSec',
  headroom_v: 'headroomVolts',
  lowest_noise_gain: 'lowestNoiseGain',
  supply_a: 'supplyAmps',
  bias_a: 'biasAmps',
  offset_v: 'offsetVolts',
  noise_v_per_rthz: 'noiseVoltsPerRtHz',
  units_per_package: 'unitsPerPackage',
} as const satisfies Record<string, keyof OpAmp>;
type Column = keyof typeof COLUMNS;
const NAMES = Object.keys(COLUMNS) as Column[];

export const writeOpAmpCsv = (opAmps: readonly OpAmp[]): string =>
  writeCsv(
    NAMES,
    opAmps.map((o) =>
      NAMES.map((column) => {
        const value = o[COLUMNS[column]];
        return Array.isArray(value) ? value.join(' ') : typeof value === 'number' ? figure(value) : String(value);
      }),
    ),
  );

/**
 * Reads op-amps from a table with a header line; columns in any order, `name` and `gain_bandwidth_hz` must be there,
 * what is absent is taken from a typical part. Fails with `op-amp-columns` (`missing`) or `op-amp-lines` (`faults`, at
 * most eight); nothing is taken then.
 */
export function readOpAmpCsv(
  text: string,
  typical: OpAmp,
  makeId: () => string,
): Result<OpAmp[], 'op-amp-columns' | 'op-amp-lines'> {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), { skipEmptyLines: true });
  const header = (data[0] ?? []).map((cell) => cell.trim().toLowerCase().replace(/\s+/g, '_'));
  const missing = ['name', 'gain_bandwidth_hz'].filter((name) => !header.includes(name));
  if (missing.length > 0) return failure('op-amp-columns', { missing });
  const faults: string[] = [];
  const opAmps = data.slice(1).map((row, i): OpAmp => {
    const read: Record<string, unknown> = { ...typical, id: makeId() };
    header.forEach((column, k) => {
      const cell = (row[k] ?? '').trim();
      if (!(column in COLUMNS) || cell === '') return;
      const key = COLUMNS[column as Column];
      read[key] = key === 'name' ? cell : key === 'unitsPerPackage' ? cell.split(/[\s/]+/).map(Number) : Number(cell);
    });
    read.unityGainStable = read.lowestNoiseGain === 1;
    const parsed = opAmpSchema.safeParse(read);
    if (!parsed.success)
      faults.push(
        ...parsed.error.issues.map(
          (issue) =>
            `line ${i + 2}, ${NAMES.find((n) => COLUMNS[n] === issue.path[0]) ?? String(issue.path[0])}: ` +
            `${issue.message}`,
        ),
      );
    return read as OpAmp;
  });
  return faults.length > 0 ? failure('op-amp-lines', { faults: faults.slice(0, 8) }) : success(opAmps);
}
