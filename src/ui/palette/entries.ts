import { useLiveQuery } from 'dexie-react-hooks';
import { useRouter } from 'next/navigation';
import { useMemo } from 'react';
import { CATALOGUE } from '@/core/catalogue/catalogue';
import type { Calculator } from '@/core/parts/calculator';
import { CALCULATORS } from '@/core/parts/calculators';
import { useBegin } from '@/ui/gallery/use-begin';
import { useGuided } from '@/ui/gallery/use-guided';
import { database } from '@/store/shelf/database';

/** Something that the palette finds and does. */
export interface PaletteEntry {
  readonly id: string;
  readonly group: string;
  readonly name: string;
  /** Other words it is found by. */
  readonly words: readonly string[];
  readonly keys?: string;
  readonly run?: () => void;
  readonly calculator?: Calculator;
}

const PAGES = [
  { path: '/', name: 'Shelf', words: ['home', 'designs', 'open', 'import', 'backup', 'restore', 'removed', 'deleted'] },
  { path: '/new', name: 'New design', words: ['begin', 'start', 'create', 'gallery', 'circuits'] },
  {
    path: '/drivers',
    name: 'Drivers',
    words: ['loudspeaker', 'woofer', 'tweeter', 'measure', 'impedance', 'FRD', 'ZMA'],
  },
  { path: '/stock', name: 'Stock', words: ['parts in hand', 'drawer', 'inventory', 'op-amps of one’s own'] },
] as const;

/** What can be reached from every page: pages, designs on the shelf, calculators, and every circuit to begin with. */
export function useCommonEntries(): readonly PaletteEntry[] {
  const router = useRouter();
  const begin = useBegin();
  const guided = useGuided();
  const designs = useLiveQuery(() => database.designs.orderBy('updatedAt').reverse().toArray(), []);
  return useMemo(
    () => [
      ...PAGES.map(({ path, name, words }) => ({
        id: `page-${name}`,
        group: 'Go to',
        name,
        words,
        run: () => router.push(path),
      })),
      {
        id: 'guided-design',
        group: 'Begin',
        name: 'A guided first design, three minutes',
        words: ['tour', 'tutorial', 'help', 'learn', 'first steps', 'introduction'],
        run: guided,
      },
      ...(designs ?? []).map((row) => ({
        id: `design-${row.id}`,
        group: 'Open',
        name: row.title || 'untitled',
        words: ['design'],
        run: () => router.push(`/desk/${encodeURIComponent(row.id)}`),
      })),
      ...CALCULATORS.map((calculator) => ({
        id: `calculator-${calculator.id}`,
        group: 'Calculate',
        name: calculator.name,
        words: [calculator.words ?? '', 'calculator'],
        calculator,
      })),
      ...CATALOGUE.map((entry) => ({
        id: `begin-${entry.id}`,
        group: 'Begin',
        name: entry.name,
        words: [...entry.words, 'new design'],
        run: () => begin(entry),
      })),
    ],
    [designs, router, begin, guided],
  );
}
