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

type Written = typeof import('./written');

/** What else leaves the desk: what writes it is fetched when the first of it is asked for. */
const fetched = (name: keyof Written) => async (): Promise<void> => {
  const written = await import('./written').catch(() => null);
  if (written) await written[name]();
  else tellFailure('Nothing was written', failure('not-fetched'));
};

export const exportView = fetched('exportView');
export const exportParts = fetched('exportParts');
export const exportDeck = fetched('exportDeck');
export const exportSheet = fetched('exportSheet');
export const printSheet = fetched('printSheet');
export const exportPicture = fetched('exportPicture');
export const exportCurves = fetched('exportCurves');
export const exportReport = fetched('exportReport');
export const printReport = fetched('printReport');
