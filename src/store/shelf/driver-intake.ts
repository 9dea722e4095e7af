import { readDriverFile, type DriverFile } from '@/core/format/driver-file';
import type { Driver } from '@/core/loudspeaker/driver';
import { gathered, withCurves } from '@/core/format/driver-intake';
import { USUAL_FIGURES } from '@/core/loudspeaker/driver-kinds';
import { failure, type Failure } from '@/core/result';
import { startJob } from '@/workers/job-client';
import { database } from './database';
import { documentStore, edit } from '../document';
import { currentVariantOf } from '../edits/edits';
import { putDriver } from './drivers';
import { newId } from '../new-id';
import { takeDriver } from '../edits/speaker-edits';

export interface Intake {
  /** The driver as it is now; null where no file could be taken. */
  readonly driver: Driver | null;
  readonly taken: readonly (DriverFile & { readonly file: string })[];
  readonly refused: readonly { readonly file: string; readonly why: Failure }[];
}

/** What a file is as the intake reads it. */
interface NamedText {
  readonly name: string;
  text(): Promise<string>;
}

/** A file of more than this is no curve of a driver, bytes. */
const MOST_BYTES = 20e6;

/**
 * Takes measured files for the driver of a way: curves off and on its axis, impedance, at once or one after another. A
 * driver of the maker's own is changed; in place of the workshop's a new one comes, called as the files are. What
 * cannot be taken is said by file, and the rest goes on.
 */
export async function takeDriverFiles(
  wayId: string,
  files: readonly (NamedText & { size: number })[],
): Promise<Intake> {
  const taken: Intake['taken'][number][] = [];
  const refused: Intake['refused'][number][] = [];
  for (const file of files) {
    const read =
      file.size > MOST_BYTES
        ? failure('file-too-large', { most: MOST_BYTES / 1e6 })
        : readDriverFile(file.name, await file.text());
    if (read.ok) taken.push({ ...read.value, file: file.name });
    else refused.push({ file: file.name, why: read });
  }
  const curves = gathered(taken);
  const fit = curves.impedance
    ? await startJob<'fit-impedance'>({ kind: 'fit-impedance', curve: curves.impedance }).answer
    : null;
  if (fit && !fit.ok) {
    const file = taken.filter((t) => t.kind === 'impedance').at(-1)?.file ?? '';
    refused.push({ file, why: fit });
  }
  const model = fit?.ok ? fit.value.model : null;
  const usable = curves.response !== null || curves.angles.length > 0 || model !== null;
  const { design } = documentStore.getState();
  const way = design && currentVariantOf(design).ways.find((w) => w.id === wayId);
  if (!usable || !design || !way) return { driver: null, taken: [], refused };
  const driverId = way.load.kind === 'driver' ? way.load.driver : null;
  const own = driverId === null ? undefined : await database.drivers.get(driverId);
  const before = design.drivers?.find((d) => d.id === driverId);
  const base: Driver = own ?? freshDriver(before?.kind ?? 'woofer', curves.name);
  const driver: Driver = { ...base, ...withCurves(base, curves, model) };
  await putDriver(driver);
  edit(takeDriver(wayId, driver));
  return { driver, taken: taken.filter((t) => t.kind === 'response' || model !== null), refused };
}

const freshDriver = (kind: Driver['kind'], name: string | null): Driver => ({
  id: newId(),
  name: name ?? 'My driver',
  kind,
  measuredImpedance: null,
  price: null,
  ...USUAL_FIGURES[kind],
});
