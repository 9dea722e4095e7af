'use client';

import { App, Button, Dropdown, Empty, Input, Modal } from 'antd';
import { MoreOutlined, PlusOutlined, UploadOutlined, DownloadOutlined } from '@ant-design/icons';
import dayjs from 'dayjs';
import { useLiveQuery } from 'dexie-react-hooks';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { createCrossover, createDesign, createDriverWay, createPlan } from '@/core/design/create';
import { demoDrivers } from '@/core/loudspeaker/demo-drivers';
import { demoDesigns } from '@/core/design/demo';
import { writeDesign } from '@/core/design/migrate';
import { withoutRecord } from '@/core/design/without-record';
import { stageTopology } from '@/core/design/stage-topology';
import { formatQuantity } from '@/core/units/quantity';
import { alignmentById } from '@/core/filter/alignments/index';
import { download, fileName, pickTextFile } from '@/ui/download';
import type { Design } from '@/core/design/schema';
import { Glyph } from '@/ui/glyph';
import { Guard } from '@/ui/guard';
import { ThemeButton } from '@/ui/room-top';
import { failureWords, PLAN_WORDS } from '@/ui/words';
import { startJob } from '@/workers/job-client';
import { database, getSetting, putSetting, storageStore, type ShelfRow } from '@/store/database';
import { currentVariantOf, newId } from '@/store/edits';
import { backupShelf, clashes, readBackup, restoreBackup, type Backup, type OnClash } from '@/store/backup';
import { deleteDesign, readRow, shelveDesign } from '@/store/shelf-rows';

const DEMO_SHELVED = 'demo-shelved';

/** Home: the designs with their curves, what changed last first. */
export function Shelf({ demo }: { demo: boolean }) {
  const rows = useLiveQuery(() => database.designs.orderBy('updatedAt').reverse().toArray(), []);
  const [wanted, setWanted] = useState('');
  const [restoring, setRestoring] = useState<Restoring | null>(null);
  const router = useRouter();
  const { notification, message } = App.useApp();
  useEffect(() => {
    if (demo) void shelveDemoOnce();
  }, [demo]);

  async function startNew(): Promise<void> {
    await storing(async () => {
      const design = createDesign('New filter', (id) => [createPlan(id(), 'lowpass', 'butterworth', 2, 1000)], newId);
      router.push(`/desk/${await shelveDesign(design)}`);
    });
  }
  async function startCrossover(): Promise<void> {
    const [woofer, tweeter] = [demoDrivers()[0], demoDrivers()[1]];
    const plan = (id: () => string, response: 'lowpass' | 'highpass') =>
      createPlan(id(), response, 'linkwitz-riley', 2, 2500);
    const design = createCrossover(
      'New crossover',
      (id) => [
        createDriverWay(id, 'Woofer', woofer, [plan(id, 'lowpass')]),
        createDriverWay(id, 'Tweeter', tweeter, [plan(id, 'highpass')], { polarity: -1 }),
      ],
      [woofer, tweeter],
      newId,
    );
    await storing(async () => router.push(`/desk/${await shelveDesign(design)}`));
  }
  async function importFile(): Promise<void> {
    const file = await pickTextFile('.json,.zip');
    if (!file) return;
    notification.destroy();
    const read = readBackup(file.bytes, file.name);
    if (!read.ok) {
      notification.error({ title: `${file.name} was not taken`, description: failureWords(read), duration: 0 });
      return;
    }
    await storing(async () => {
      // One design by itself comes in beside what is there; a whole shelf asks.
      const alone = read.value.designs.length === 1 && read.value.faults.length === 0;
      const clashing = alone ? [] : await clashes(read.value);
      if (alone) {
        await shelveDesign(read.value.designs[0].design);
        return void message.success(`“${read.value.designs[0].design.title}” is on the shelf.`);
      }
      if (clashing.length > 0)
        setRestoring({ backup: read.value, clashing: clashing.map((c) => c.design.title), name: file.name });
      else await restore(read.value, 'skip', file.name);
    });
  }
  async function restore(backup: Backup, onClash: OnClash, name: string): Promise<void> {
    setRestoring(null);
    const taken = await restoreBackup(backup, onClash);
    const { stock, drivers, opAmps, faults } = backup;
    void message.success(
      `${taken} ${taken === 1 ? 'design is' : 'designs are'} on the shelf${stock.length + drivers.length + opAmps.length > 0 ? ', with stock, drivers and op-amps' : ''}.`,
    );
    if (faults.length > 0)
      notification.warning({
        title: `Of ${name}, ${faults.length === 1 ? 'one thing was' : `${faults.length} things were`} not taken`,
        description: (
          <ul>
            {faults.slice(0, 12).map((fault, i) => (
              <li key={i}>
                {fault.file}: {failureWords({ ok: false, ...fault })}
              </li>
            ))}
          </ul>
        ),
        duration: 0,
      });
  }
  /** Says what storage did not take. */
  async function storing(act: () => Promise<void>): Promise<void> {
    try {
      await act();
    } catch (error) {
      notification.error({
        title: 'The browser did not keep it',
        description: `${error instanceof Error ? error.message : String(error)} Its storage may be full: back up the shelf, remove what is not needed, and try again.`,
        duration: 0,
      });
    }
  }
  async function backup(): Promise<void> {
    download(`jaunty-reed-shelf-${dayjs().format('YYYY-MM-DD')}.zip`, await backupShelf(), 'application/zip');
  }
  const shown = rows?.filter((row) => row.title.toLowerCase().includes(wanted.toLowerCase()));
  return (
    <div className="shelf">
      <header className="top">
        <span className="home">Jaunty Reed</span>
        <span className="top-quiet shelf-says">a desk for audio filters: from brief to log</span>
        <div className="top-actions">
          <Link href="/drivers" className="top-link">
            Drivers
          </Link>
          <Link href="/stock" className="top-link">
            Stock
          </Link>
          <ThemeButton />
        </div>
      </header>
      <main className="shelf-room">
        <div className="shelf-bar">
          <h1>Shelf</h1>
          <Input
            allowClear
            className="shelf-find"
            placeholder="Find a design"
            aria-label="Find a design"
            value={wanted}
            onChange={(e) => setWanted(e.target.value)}
          />
          <span className="shelf-actions">
            <Button icon={<UploadOutlined />} onClick={importFile}>
              Import
            </Button>
            <Button icon={<DownloadOutlined />} onClick={backup} disabled={!rows}>
              Back up
            </Button>
            <Button icon={<PlusOutlined />} onClick={startCrossover}>
              New crossover
            </Button>
            <Button type="primary" icon={<PlusOutlined />} onClick={startNew}>
              New design
            </Button>
          </span>
        </div>
        {rows?.length === 0 && (
          <Empty
            className="shelf-empty"
            image={Empty.PRESENTED_IMAGE_SIMPLE}
            description="The shelf is empty. Start a design with a cutoff, or look at those from our reed-organ workshop."
          >
            <Button type="primary" onClick={startNew}>
              New design
            </Button>{' '}
            <Button onClick={() => void shelveDemo()}>Put the workshop’s designs here</Button>
          </Empty>
        )}
        {shown?.length === 0 && rows && rows.length > 0 && <p className="quiet">No design is called that.</p>}
        <ul className="shelf-grid">
          {shown?.map((row) => (
            <ShelfItem key={row.id} row={row} />
          ))}
        </ul>
        <StorageWords />
        {restoring && (
          <RestoreQuestion
            {...restoring}
            onChoose={(onClash) => void storing(() => restore(restoring.backup, onClash, restoring.name))}
            onClose={() => setRestoring(null)}
          />
        )}
      </main>
    </div>
  );
}

/** Where the shelf lies, how full that is, and whether it stays. */
function StorageWords() {
  const { kind, kept, share } = storageStore();
  if (kind !== 'browser' || kept === null) return null;
  const full = share === null ? '' : `, ${(100 * share).toFixed(share < 0.1 ? 1 : 0)} % of the room it has there`;
  return (
    <p className="quiet shelf-storage" data-testid="storage">
      The shelf lies in this browser{full}.{' '}
      {kept
        ? 'The browser has promised to keep it.'
        : 'The browser may clear it when it wants room: back up now and then.'}
    </p>
  );
}

interface Restoring {
  readonly backup: Backup;
  /** Titles of designs that lie on the shelf with something else in them. */
  readonly clashing: readonly string[];
  readonly name: string;
}

/** What is to become of designs that are on the shelf already, otherwise than in the backup. */
function RestoreQuestion({
  backup,
  clashing,
  name,
  onChoose,
  onClose,
}: Restoring & { onChoose: (onClash: OnClash) => void; onClose: () => void }) {
  return (
    <Modal
      open
      title={`Restore ${name}`}
      onCancel={onClose}
      footer={[
        <Button key="skip" onClick={() => onChoose('skip')}>
          Leave those on the shelf
        </Button>,
        <Button key="both" type="primary" onClick={() => onChoose('keep-both')}>
          Keep both
        </Button>,
        <Button key="replace" danger onClick={() => onChoose('replace')}>
          Replace them
        </Button>,
      ]}
    >
      <p>
        {backup.designs.length} designs are in it. {clashing.length === 1 ? 'One lies' : `${clashing.length} lie`} on
        the shelf with something else in {clashing.length === 1 ? 'it' : 'them'}:
      </p>
      <ul>
        {clashing.slice(0, 12).map((title, i) => (
          <li key={i}>{title || 'untitled'}</li>
        ))}
      </ul>
    </Modal>
  );
}

/** A design on the shelf; one that does not read is named, kept untouched, and can be exported as it lies. */
function ShelfItem({ row }: { row: ShelfRow }) {
  const read = readRow(row);
  return (
    <Guard what={`“${row.title}”`}>
      {read.ok ? <ShelfCard row={row} design={read.value} /> : <UnreadCard row={row} reason={failureWords(read)} />}
    </Guard>
  );
}

function UnreadCard({ row, reason }: { row: ShelfRow; reason: string }) {
  return (
    <li className="shelf-card unread" data-testid="unread-card">
      <div className="shelf-link">
        <b>{String(row.title || 'untitled')}</b>
        <span className="failure">{reason}</span>
        <span className="quiet">It lies here as it is.</span>
        <Button
          size="small"
          onClick={() =>
            download(
              fileName(String(row.title), 'json'),
              `${JSON.stringify(row.design, null, 2)}\n`,
              'application/json',
            )
          }
        >
          Export as it is
        </Button>
      </div>
    </li>
  );
}

async function shelveDemo(): Promise<void> {
  const now = Date.now();
  const designs = demoDesigns();
  for (let i = designs.length - 1; i >= 0; i--) await shelveDesign(designs[i], new Date(now - i * 1000));
}

/** The workshop's designs come once to a new browser; removed, they stay away. */
async function shelveDemoOnce(): Promise<void> {
  const first = await database.transaction('rw', database.settings, async () => {
    if (await getSetting(DEMO_SHELVED)) return false;
    await putSetting(DEMO_SHELVED, true);
    return true;
  });
  if (first) await shelveDemo();
}

function ShelfCard({ row, design }: { row: ShelfRow; design: Design }) {
  const [curve, setCurve] = useState<{ freqHz: Float64Array; levelDb: Float64Array } | null>(null);
  const { modal } = App.useApp();
  const variant = currentVariantOf(design);
  useEffect(() => {
    let gone = false;
    void startJob<'thumbnail'>({ kind: 'thumbnail', design: withoutRecord(design) }).answer.then(
      (answer) => !gone && answer.ok && setCurve(answer.value),
    );
    return () => {
      gone = true;
    };
  }, [design]);
  const remove = () =>
    modal.confirm({
      title: `Remove “${row.title}”?`,
      content: 'It goes from this browser’s shelf for good. Export it first if you may want it again.',
      okText: 'Remove',
      cancelText: 'Keep',
      onOk: () => deleteDesign(row.id),
    });
  return (
    <li className="shelf-card" data-testid="shelf-card">
      <Link href={`/desk/${encodeURIComponent(row.id)}`} className="shelf-link">
        <Glyph freqHz={curve?.freqHz ?? [1, 2]} levelDb={curve?.levelDb ?? null} width={280} height={104} />
        <b>{row.title || 'untitled'}</b>
        <span className="shelf-plan">
          {variant.ways[0].plans
            .map(
              (p) =>
                `${alignmentById(p.alignment).name} ${PLAN_WORDS[p.response].toLowerCase()} ${p.order}, ${formatQuantity(p.cutoffHz, 'frequency')}`,
            )
            .concat(
              variant.ways[0].stages
                .filter((s) => s.target.kind === 'network' || s.target.kind === 'deck')
                .map((s) => stageTopology(s, variant.ways[0]).name),
            )
            .join(' · ') || 'no plan yet'}
        </span>
        <span className="quiet shelf-note">{design.brief.note || 'No brief in words yet.'}</span>
        <span className="quiet">
          {design.variants.length === 1 ? '1 variant' : `${design.variants.length} variants`}, changed{' '}
          {dayjs(row.updatedAt).format('D MMM YYYY, HH:mm')}
        </span>
      </Link>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            { key: 'copy', label: 'Duplicate', onClick: () => void shelveDesign(design) },
            {
              key: 'export',
              label: 'Export (JSON)',
              onClick: () => download(fileName(row.title, 'json'), writeDesign(design), 'application/json'),
            },
            { key: 'remove', label: 'Remove', danger: true, onClick: remove },
          ],
        }}
      >
        <button type="button" className="plain icon shelf-more" aria-label={`${row.title}: more`}>
          <MoreOutlined />
        </button>
      </Dropdown>
    </li>
  );
}
