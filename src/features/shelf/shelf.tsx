'use client';

import { App, Button, Dropdown, Empty, Input } from 'antd';
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
import { Glyph } from '@/ui/glyph';
import { ThemeButton } from '@/ui/room-top';
import { failureWords, PLAN_WORDS } from '@/ui/words';
import { startJob } from '@/workers/job-client';
import { database, getSetting, putSetting, type ShelfRow } from '@/store/database';
import { currentVariantOf, newId } from '@/store/edits';
import { backupShelf, designsInFile } from '@/store/exports';
import { deleteDesign, shelveDesign } from '@/store/saving';

const DEMO_SHELVED = 'demo-shelved';

/** Home: the designs with their curves, what changed last first. */
export function Shelf({ demo }: { demo: boolean }) {
  const rows = useLiveQuery(() => database.designs.orderBy('updatedAt').reverse().toArray(), []);
  const [wanted, setWanted] = useState('');
  const router = useRouter();
  const { notification, message } = App.useApp();
  useEffect(() => {
    if (demo) void shelveDemoOnce();
  }, [demo]);

  async function startNew(): Promise<void> {
    const design = createDesign('New filter', (id) => [createPlan(id(), 'lowpass', 'butterworth', 2, 1000)], newId);
    router.push(`/desk/${await shelveDesign(design)}`);
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
    router.push(`/desk/${await shelveDesign(design)}`);
  }
  async function importFile(): Promise<void> {
    const file = await pickTextFile('.json,.zip');
    if (!file) return;
    const designs = designsInFile(file.bytes);
    if (!designs.ok) {
      notification.error({ title: `${file.name} was not taken`, description: failureWords(designs), duration: 0 });
      return;
    }
    for (const design of designs.value) await shelveDesign(design);
    void message.success(
      designs.value.length === 1
        ? `“${designs.value[0].title}” is on the shelf.`
        : `${designs.value.length} designs are on the shelf.`,
    );
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
            <Button icon={<DownloadOutlined />} onClick={backup} disabled={!rows || rows.length === 0}>
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
            <ShelfCard key={row.id} row={row} />
          ))}
        </ul>
      </main>
    </div>
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

function ShelfCard({ row }: { row: ShelfRow }) {
  const [curve, setCurve] = useState<{ freqHz: Float64Array; levelDb: Float64Array } | null>(null);
  const { modal } = App.useApp();
  const variant = currentVariantOf(row.design);
  useEffect(() => {
    let gone = false;
    void startJob<'thumbnail'>({ kind: 'thumbnail', design: withoutRecord(row.design) }).answer.then(
      (answer) => !gone && answer.ok && setCurve(answer.value),
    );
    return () => {
      gone = true;
    };
  }, [row.design]);
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
        <span className="quiet shelf-note">{row.design.brief.note || 'No brief in words yet.'}</span>
        <span className="quiet">
          {row.design.variants.length === 1 ? '1 variant' : `${row.design.variants.length} variants`}, changed{' '}
          {dayjs(row.updatedAt).format('D MMM YYYY, HH:mm')}
        </span>
      </Link>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            { key: 'copy', label: 'Duplicate', onClick: () => void shelveDesign(row.design) },
            {
              key: 'export',
              label: 'Export (JSON)',
              onClick: () => download(fileName(row.title, 'json'), writeDesign(row.design), 'application/json'),
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
