import { writeDesign } from '@/core/design/document/migrate';
import { failure } from '@/core/result';
import { download, fileName } from '@/ui/download';
import { openDesignNow } from '../document';
import { tellFailure } from '../failures';

/** The design as its file: at hand at all times, since it is also the way out when nothing can be saved. */
export function exportDesign(): void {
  const design = openDesignNow();
  download(fileName(design.title, 'json'), writeDesign(design), 'application/json');
}

/** What else leaves the desk: what writes it is fetched when the first of it is asked for. */
const fetched = (fetch: () => Promise<() => void | Promise<void>>) => async (): Promise<void> => {
  const write = await fetch().catch(() => null);
  if (write) await write();
  else tellFailure('Nothing was written', failure('not-fetched'));
};

export const exportView = fetched(() => import('./written').then((w) => w.exportView));
export const exportParts = fetched(() => import('./written').then((w) => w.exportParts));
export const exportDeck = fetched(() => import('./written').then((w) => w.exportDeck));
export const exportSheet = fetched(() => import('./written').then((w) => w.exportSheet));
export const printSheet = fetched(() => import('./written').then((w) => w.printSheet));
export const exportPicture = fetched(() => import('./written').then((w) => w.exportPicture));
export const exportCurves = fetched(() => import('./written').then((w) => w.exportCurves));
export const exportReport = fetched(() => import('./written').then((w) => w.exportReport));
export const printReport = fetched(() => import('./written').then((w) => w.printReport));
