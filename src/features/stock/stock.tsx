'use client';

import { useFocusOnArrival } from '@/ui/use-focus-back';
import { App, Button, Empty, Input, Select } from 'antd';
import { DeleteOutlined, DownloadOutlined, PlusOutlined, UploadOutlined } from '@ant-design/icons';
import { useState } from 'react';
import { OP_AMPS } from '@/core/device/op-amps';
import { readStockCsv, writeStockCsv } from '@/core/format/stock-csv';
import { STOCK_KINDS, type StockItem } from '@/core/parts/stock';
import { PART_UNITS } from '@/core/topology/kit/part-units';
import { download, pickTextFile } from '@/ui/download';
import { QuantityInput } from '@/ui/quantity-input';
import { useUndoMessage } from '@/ui/use-undo-message';
import { useVirtualRows } from '@/ui/use-virtual-rows';
import { failureWords } from '@/ui/words/failures';
import { newId } from '@/store/new-id';
import { useOwnOpAmps } from '@/store/shelf/op-amps';
import { changeStock, putStock, removeStock, replaceStock, stockWorkshop, useStock } from '@/store/shelf/stock';
import { OwnOpAmps } from './own-op-amps';
import styles from './stock.module.css';

const KINDS = STOCK_KINDS.map((value) => ({ value, label: value }));
const RANK = Object.fromEntries(STOCK_KINDS.map((kind, i) => [kind, i]));
const NEW: Omit<StockItem, 'id'> = {
  kind: 'resistor',
  value: 10e3,
  name: '',
  tolerancePct: 1,
  grade: '',
  count: 10,
  price: null,
};

/** px: what a row of the drawer is high. */
const ROW_PX = 33;

/** Parts in hand: what snapping takes capacitors from, and what the parts list counts off. */
export function Stock() {
  useFocusOnArrival('stock-heading');
  const stock = useStock();
  const [wanted, setWanted] = useState('');
  const { notification } = App.useApp();
  const undoable = useUndoMessage();
  async function read(): Promise<void> {
    const file = await pickTextFile('.csv,.txt,.tsv');
    if (!file) return;
    const items = readStockCsv(file.text, newId);
    if (!items.ok)
      return void notification.error({
        title: `${file.name} was not taken`,
        description: failureWords(items),
        duration: 0,
      });
    const before = await replaceStock(items.value);
    undoable(
      `${items.value.length} kinds of parts read in place of ${before.length}.`,
      () => void replaceStock(before),
    );
  }
  const remove = (item: StockItem) => {
    void removeStock(item.id);
    undoable('Removed.', () => void putStock([item]));
  };
  const shown = stock
    ?.filter((i) => `${i.kind} ${i.name} ${i.grade}`.toLowerCase().includes(wanted.toLowerCase()))
    .sort((a, b) => RANK[a.kind] - RANK[b.kind] || (a.value ?? 0) - (b.value ?? 0) || a.id.localeCompare(b.id));
  return (
    <>
      <div className="shelf-bar">
        <h1 id="stock-heading" tabIndex={-1}>
          Stock
        </h1>
        <Input
          allowClear
          className="shelf-find"
          placeholder="Find a part"
          aria-label="Find a part"
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
        <span className="shelf-actions">
          <Button icon={<UploadOutlined />} onClick={() => void read()}>
            Read CSV
          </Button>
          <Button
            icon={<DownloadOutlined />}
            disabled={!stock || stock.length === 0}
            onClick={() => stock && download('stock.csv', writeStockCsv(stock), 'text/csv')}
          >
            Write CSV
          </Button>
          <Button type="primary" icon={<PlusOutlined />} onClick={addPart}>
            Add
          </Button>
        </span>
      </div>
      {stock?.length === 0 && <EmptyDrawer />}
      {shown && shown.length > 0 && <StockTable items={shown} onRemove={remove} />}
      <OwnOpAmps />
    </>
  );
}

const addPart = () => void putStock([{ id: newId(), ...NEW }]);

function EmptyDrawer() {
  return (
    <Empty
      className="shelf-empty"
      image={Empty.PRESENTED_IMAGE_SIMPLE}
      description={
        'The drawer is empty. What you put in is counted off every parts list, and Choose together can keep ' +
        'to its capacitors.'
      }
    >
      <Button type="primary" onClick={addPart}>
        Add a part
      </Button>{' '}
      <Button onClick={() => void stockWorkshop()}>Put the workshop’s drawer here</Button>
    </Empty>
  );
}

/** The drawer as a table: of a long one only the rows in sight, and some about them, are on the page. */
function StockTable({ items, onRemove }: { items: readonly StockItem[]; onRemove: (item: StockItem) => void }) {
  const { table, rows, above, below } = useVirtualRows(items.length, ROW_PX);
  const own = useOwnOpAmps() ?? [];
  const opAmps = [...OP_AMPS, ...own].map((o) => ({ value: o.name, label: o.name }));
  return (
    <table className={`sheet ${styles.stockTable}`} ref={table} aria-rowcount={items.length + 1}>
      <thead>
        <tr>
          <th>kind</th>
          <th className="number">value or name</th>
          <th className="number">± %</th>
          <th>grade</th>
          <th className="number">count</th>
          <th className="number">price of one</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {above > 0 && <tr aria-hidden="true" style={{ height: above }} />}
        {rows.map((at) => (
          <StockRow
            key={items[at].id}
            item={items[at]}
            place={at + 2}
            opAmps={opAmps}
            onRemove={() => onRemove(items[at])}
          />
        ))}
        {below > 0 && <tr aria-hidden="true" style={{ height: below }} />}
      </tbody>
    </table>
  );
}

interface StockRowProps {
  readonly item: StockItem;
  /** Which row of the whole table it is, from 1. */
  readonly place: number;
  readonly opAmps: { value: string; label: string }[];
  readonly onRemove: () => void;
}

type Change = (patch: Partial<StockItem>) => void;

/** What goes with another kind of part: an op-amp has a name for a value. */
const asKind = (item: StockItem, kind: StockItem['kind']): Partial<StockItem> => ({
  kind,
  ...(kind === 'op-amp'
    ? { value: null, name: OP_AMPS[0].name, tolerancePct: null }
    : item.value === null
      ? { value: kind === 'capacitor' ? 10e-9 : 10e3, name: '' }
      : {}),
});

function StockRow({ item, place, opAmps, onRemove }: StockRowProps) {
  const change: Change = (patch) => void changeStock(item.id, patch);
  return (
    <tr data-testid="stock-row" aria-rowindex={place}>
      <td>
        <Select
          size="small"
          aria-label="Kind"
          value={item.kind}
          options={KINDS}
          onChange={(kind) => change(asKind(item, kind))}
          popupMatchSelectWidth={false}
        />
      </td>
      <td className={styles.stockValue}>
        <ValueOrName item={item} opAmps={opAmps} change={change} />
      </td>
      <td className={styles.stockSmall}>{item.kind !== 'op-amp' && <Tolerance item={item} change={change} />}</td>
      <td>
        <Input
          key={item.grade}
          size="small"
          aria-label="Grade"
          defaultValue={item.grade}
          maxLength={60}
          onBlur={(e) => change({ grade: e.target.value })}
        />
      </td>
      <CountAndPrice item={item} change={change} />
      <td>
        <Button size="small" type="text" icon={<DeleteOutlined />} aria-label="Remove from stock" onClick={onRemove} />
      </td>
    </tr>
  );
}

interface CellProps {
  readonly item: StockItem;
  readonly change: Change;
}

function ValueOrName({ item, opAmps, change }: CellProps & Pick<StockRowProps, 'opAmps'>) {
  return item.kind === 'op-amp' ? (
    <Select
      size="small"
      aria-label="Op-amp"
      value={item.name}
      options={opAmps}
      onChange={(name) => change({ name })}
      popupMatchSelectWidth={false}
    />
  ) : (
    <QuantityInput
      label="value"
      hideLabel
      small
      kind={PART_UNITS[item.kind]}
      series="E12"
      value={item.value ?? 0}
      min={Number.MIN_VALUE}
      max={1e12}
      onChange={(v) => v !== null && change({ value: v })}
    />
  );
}

function Tolerance({ item, change }: CellProps) {
  return (
    <QuantityInput
      label="tolerance"
      hideLabel
      small
      kind="percent"
      step={1}
      allowEmpty
      placeholder="any"
      min={0.001}
      max={50}
      value={item.tolerancePct}
      onChange={(v) => change({ tolerancePct: v })}
    />
  );
}

function CountAndPrice({ item, change }: CellProps) {
  return (
    <>
      <td className={styles.stockSmall}>
        <QuantityInput
          label="count"
          hideLabel
          small
          kind="ratio"
          integer
          min={0}
          max={1e6}
          value={item.count}
          onChange={(v) => v !== null && change({ count: v })}
        />
      </td>
      <td className={styles.stockSmall}>
        <QuantityInput
          label="price"
          hideLabel
          small
          kind="ratio"
          allowEmpty
          placeholder="–"
          min={0}
          max={1e6}
          value={item.price}
          onChange={(v) => change({ price: v })}
        />
      </td>
    </>
  );
}
