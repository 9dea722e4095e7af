'use client';

import { DownloadOutlined, PlusOutlined, UploadOutlined } from '@ant-design/icons';
import { Button, Empty, Input, Segmented } from 'antd';
import { useLiveQuery } from 'dexie-react-hooks';
import { useRouter } from 'next/navigation';
import { useEffect, useMemo, useState } from 'react';
import { searchOf } from '@/core/catalogue/search';
import type { ShelfCard } from '@/core/jobs/desk/shelf-card';
import type { Result } from '@/core/result';
import { database, type ShelfRow } from '@/store/shelf/database';
import { keptCard } from '@/store/shelf/shelf-cards';
import { useFocusOnArrival } from '@/ui/use-focus-back';
import { useGuided } from '@/ui/gallery/use-guided';
import { shelveDemo, shelveDemoOnce } from './demo-shelf';
import { Removed } from './removed';
import { ShelfItem } from './shelf-item';
import { StorageWords, UnsavedNote } from './storage-words';
import { useShelfFiles } from './use-shelf-files';

type Order = 'changed' | 'title';
interface Shelved {
  readonly row: ShelfRow;
  readonly card: Result<ShelfCard> | null;
}

/** Home: the designs with their curves, what changed last first. */
export function Shelf({ demo }: { demo: boolean }) {
  const shelved = useShelved();
  const [wanted, setWanted] = useState('');
  const [order, setOrder] = useState<Order>('changed');
  const { importFile, backUp, question } = useShelfFiles();
  useFocusOnArrival('shelf-heading');
  useEffect(() => {
    if (demo) void shelveDemoOnce();
  }, [demo]);
  const search = useMemo(() => (shelved ? searchOf(shelved.map(findable)) : null), [shelved]);
  const found = search?.(wanted).map(({ one }) => one);
  const shown =
    found && (order === 'title' ? [...found].sort((a, b) => a.row.title.localeCompare(b.row.title)) : found);
  return (
    <>
      <div className="shelf-bar">
        <h1 id="shelf-heading" tabIndex={-1}>
          Shelf
        </h1>
        <Find wanted={wanted} onWanted={setWanted} order={order} onOrder={setOrder} />
        <span className="shelf-actions">
          <Button icon={<UploadOutlined />} onClick={importFile}>
            Import
          </Button>
          <Button icon={<DownloadOutlined />} onClick={backUp} disabled={!shelved}>
            Back up
          </Button>
          <NewButton icon />
        </span>
      </div>
      <UnsavedNote />
      {shelved?.length === 0 && <EmptyShelf />}
      {shown?.length === 0 && shelved && shelved.length > 0 && (
        <p className="quiet">
          No design here answers to that. Its title, circuits, alignments and brief are looked through.
        </p>
      )}
      <ul className="shelf-grid">
        {shown?.map(({ row, card }) => (
          <ShelfItem key={row.id} row={row} kept={card} />
        ))}
      </ul>
      <Removed />
      <StorageWords />
      {question}
    </>
  );
}

/** Every design on the shelf with its card, as both lie in the browser; what changed last first. */
function useShelved(): readonly Shelved[] | undefined {
  const rows = useLiveQuery(() => database.designs.orderBy('updatedAt').reverse().toArray(), []);
  const cards = useLiveQuery(() => database.cards.toArray(), []);
  return useMemo(() => {
    if (!rows || !cards) return undefined;
    const kept = new Map(cards.map((card) => [card.id, card]));
    return rows.map((row) => ({ row, card: keptCard(row, kept.get(row.id)) }));
  }, [rows, cards]);
}

/** What a design is found by: its title, its circuits with their other names, alignments, and its brief. */
const findable = (one: Shelved) => ({
  one,
  name: one.row.title,
  words: one.card?.ok ? one.card.value.words : [],
  says: one.card?.ok ? one.card.value.note : '',
});

function Find({
  wanted,
  onWanted,
  order,
  onOrder,
}: {
  wanted: string;
  onWanted: (text: string) => void;
  order: Order;
  onOrder: (order: Order) => void;
}) {
  return (
    <>
      <Input
        allowClear
        className="shelf-find"
        placeholder="Title, circuit, alignment, brief"
        aria-label="Find a design"
        value={wanted}
        onChange={(e) => onWanted(e.target.value)}
      />
      <Segmented
        aria-label="Order of the shelf"
        value={order}
        onChange={onOrder}
        options={[
          { value: 'changed', label: 'last changed first' },
          { value: 'title', label: 'by title' },
        ]}
      />
    </>
  );
}

function NewButton({ icon = false }: { icon?: boolean }) {
  const router = useRouter();
  return (
    <Button type="primary" icon={icon ? <PlusOutlined /> : undefined} onClick={() => router.push('/new')}>
      New design
    </Button>
  );
}

function EmptyShelf() {
  const guided = useGuided();
  return (
    <Empty
      className="shelf-empty"
      image={Empty.PRESENTED_IMAGE_SIMPLE}
      description="The shelf is empty. Start a design, or look at those from our reed-organ workshop."
    >
      <NewButton /> <Button onClick={guided}>A guided first design, three minutes</Button>{' '}
      <Button onClick={() => void shelveDemo()}>Put the workshop’s designs here</Button>
    </Empty>
  );
}
