'use client';

import { PrinterOutlined } from '@ant-design/icons';
import { Button } from 'antd';
import { partText, type PartsLine } from '@/core/parts/parts-list';
import { coverList, type Covered } from '@/core/parts/stock';
import { formatFixed } from '@/core/units/quantity';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { changePreferences } from '@/store/edits/record-edits';
import { exportParts, printReport } from '@/store/exports/exports';
import { useStock } from '@/store/shelf/stock';
import { LongList } from '@/ui/fold';
import { QuantityInput } from '@/ui/quantity-input';
import styles from './build.module.css';

function shoppingWords(covered: readonly Covered[]): string {
  const toBuy = covered.filter((c) => c.buy > 0);
  if (toBuy.length === 0) return 'All of it is in stock.';
  const priced = toBuy.filter((c) => c.price !== null);
  const cost = priced.reduce((sum, c) => sum + c.buy * (c.price ?? 0), 0);
  return (
    `${toBuy.reduce((sum, c) => sum + c.buy, 0)} parts of ${toBuy.length} kinds to ` +
    `buy${
      priced.length > 0
        ? `, ${formatFixed(cost, 2)} for those with a ` +
          `price${priced.length < toBuy.length ? ` (${toBuy.length - priced.length} have none)` : ''}`
        : ''
    }.`
  );
}

/** What to buy for so many boards, beside what is in stock. */
export function PartsPanel({ parts, boards }: { parts: readonly PartsLine[]; boards: number }) {
  const stock = useStock();
  const covered = coverList(parts, stock ?? []);
  const stocked = stock !== undefined && stock.length > 0;
  return (
    <section className="panel" aria-label="Parts list">
      <PartsHeader boards={boards} />
      <LongList label="Parts">
        <table className="sheet" data-testid="parts-list">
          <thead>
            <tr>
              <th>part</th>
              <th>where</th>
              <th className="number">a board</th>
              <th className="number">in all</th>
              {stocked && (
                <>
                  <th className="number">have</th>
                  <th className="number">buy</th>
                </>
              )}
            </tr>
          </thead>
          <tbody>
            {parts.map((line, i) => (
              <tr key={`${line.kind}${line.value}${line.name}${line.tolerancePct}`}>
                <td
                  className={
                    line.kind === 'op-amp' || line.kind === 'device' ? undefined : `figures ${styles.partValue}`
                  }
                >
                  {partText(line)}
                </td>
                <td>{line.references.join(', ')}</td>
                <td className="number">{line.perBoard}</td>
                <td className="number">
                  <b>{line.total}</b>
                </td>
                {stocked && (
                  <>
                    <td className="number">{covered[i].have || '–'}</td>
                    <td className={`number${covered[i].buy > 0 ? ' warn' : ''}`}>{covered[i].buy || '–'}</td>
                  </>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </LongList>
      {stocked && (
        <p className="reason" data-testid="shopping">
          {shoppingWords(covered)}
        </p>
      )}
      <p className="reason quiet">
        Every stage has its own hundred: R1 to R99 stand in the first, R101 to R199 in the second. Op-amps are counted
        in units here.
      </p>
    </section>
  );
}

function PartsHeader({ boards }: { boards: number }) {
  const title = useDesign((d) => d.title);
  const { name } = useDesign(currentVariantOf);
  return (
    <header>
      <h2 className="print-title">
        {title}, variant {name}
      </h2>
      <span className={`no-print ${styles.buildActions}`}>
        <QuantityInput
          label="boards"
          hideLabel
          small
          kind="ratio"
          integer
          min={1}
          max={1000}
          value={boards}
          onChange={(v) => v !== null && edit(changePreferences({ boards: v }))}
          testId="boards"
        />
        <span className="quiet">board{boards === 1 ? '' : 's'}</span>
        <Button size="small" onClick={exportParts}>
          CSV
        </Button>
        <Button size="small" icon={<PrinterOutlined />} onClick={() => void printReport()}>
          Print
        </Button>
      </span>
    </header>
  );
}
