'use client';

import { LongList } from '@/ui/fold';
import { App, Button } from 'antd';
import { useState } from 'react';
import { reaches, type BankRow } from '@/core/design/making/bank';
import { readBankTable, writeBankCsv, type BankTableText } from '@/core/format/bank-csv';
import type { Bank } from '@/core/jobs/bank/bank';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { download, fileName, pickTextFile } from '@/ui/download';
import { failureWords } from '@/ui/words/failures';
import { documentStore, edit, useDesign } from '@/store/document';
import { currentVariantOf, currentWayOf, selectWay } from '@/store/edits/edits';
import { setTrimmers, takeBank, takeWays } from '@/store/edits/bank-edits';
import { BANK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { BANK_PARTS } from '@/store/questions/by-hand';
import { BankColumns } from './bank-columns';
import styles from './bank.module.css';

const ohm = (v: number) => formatQuantity(v, 'resistance', { digits: 3, bare: true });
const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 4, bare: true });

/** What is done to all of a bank at once. */
function useBankActs(bank: Bank | null) {
  const [busy, setBusy] = useState(false);
  const { notification, message } = App.useApp();
  const act = async (what: 'snap' | 'level') => {
    setBusy(true);
    const done = await BANK_PARTS.run({ act: what });
    setBusy(false);
    if (!done) return;
    if (!done.ok)
      return void notification.error({
        title: 'The bank stays as it is',
        description: failureWords(done),
        duration: 0,
      });
    edit(takeWays(done.value.ways));
  };
  const trimAll = () => {
    const trims = bank?.table.flatMap((row) => (row.trim ? [{ row, trim: row.trim }] : [])) ?? [];
    const out = trims.filter(({ trim }) => !reaches(trim)).map(({ row }) => `${row.band}, stage ${row.stage}`);
    if (bank) edit(setTrimmers(bank.table));
    void message.success(
      `${trims.length - out.length} trimmers set.${out.length > 0 ? ` Out of reach: ${out.join('; ')}.` : ''}`,
      6,
    );
  };
  const write = () => {
    const { design } = documentStore.getState();
    if (bank) download(fileName(`${design?.title ?? 'bank'} bank`, 'csv'), writeBankCsv(bank.table), 'text/csv');
  };
  return { busy, act, trimAll, write };
}

/**
 * Every stage of every band: what it does, and what trims it; all parts chosen together, levelled, written and read.
 */
export function BankTable() {
  const several = useDesign((d) => currentVariantOf(d).ways.length > 1);
  const bank = useAnswer(BANK);
  const { busy, act, trimAll, write } = useBankActs(bank);
  const [reading, setReading] = useState<{ readonly name: string; readonly table: BankTableText } | null>(null);
  const { message } = App.useApp();
  if (!several || !bank) return null;
  const read = async () => {
    const file = await pickTextFile('.csv,.txt,.tsv');
    if (file) setReading({ name: file.name, table: readBankTable(file.text) });
  };
  return (
    <section className="panel" aria-label="Bank table" data-testid="bank-table">
      <header>
        <h2 className={styles.allBands}>All bands</h2>
        <span className={styles.bankActions}>
          <Button size="small" type="primary" loading={busy} onClick={() => void act('snap')}>
            Choose all
          </Button>
          <Button size="small" disabled={busy} onClick={() => void act('level')}>
            Level
          </Button>
          <Button size="small" disabled={busy || !bank.table.some((r) => r.trim)} onClick={trimAll}>
            Set all trimmers
          </Button>
          <Button size="small" onClick={() => void read()}>
            Read CSV
          </Button>
          <Button size="small" onClick={write}>
            Write CSV
          </Button>
        </span>
      </header>
      <p className="reason">{driftWords(bank)}</p>
      <Rows table={bank.table} />
      {reading && (
        <BankColumns
          {...reading}
          onClose={() => setReading(null)}
          onTake={(stages) => {
            edit(takeBank(stages));
            setReading(null);
            void message.success(`${stages.length} stages read.`);
          }}
        />
      )}
    </section>
  );
}

function Rows({ table }: Pick<Bank, 'table'>) {
  const current = useDesign((d) => currentWayOf(d).name);
  const go = (band: string) => {
    const { design } = documentStore.getState();
    const way = design && currentVariantOf(design).ways.find((w) => w.name === band);
    if (way) edit(selectWay(way.id));
  };
  return (
    <div className="sheet-scroll" tabIndex={0} role="region" aria-label="Stages of all bands">
      <LongList label="Bands">
        <table className={`sheet ${styles.bankRows}`}>
          <thead>
            <tr>
              <th>band</th>
              <th className="number">centre, Hz</th>
              <th className="number">off</th>
              <th className="number">Q</th>
              <th className="number">gain</th>
              <th className="number" title="the resistor that tunes it, exact for its centre">
                trim, Ω
              </th>
              <th className="number" title="fixed resistor and trimmer that reach it with any parts of their tolerance">
                by
              </th>
            </tr>
          </thead>
          <tbody>
            {table.map((row, i) => {
              const off = row.centreHz === null ? null : 100 * (row.centreHz / row.wantedHz - 1);
              return (
                <tr key={i} className={row.band === current ? 'current' : undefined}>
                  <td>
                    {row.stage === 1 ? (
                      <button type="button" className="link" onClick={() => go(row.band)}>
                        {row.band}
                      </button>
                    ) : (
                      <span className="quiet">{row.stage}</span>
                    )}
                  </td>
                  <td className="number">{row.centreHz === null ? '–' : hz(row.centreHz)}</td>
                  <td className={`number${off !== null && Math.abs(off) > 1 ? ' warn' : ''}`}>
                    {off === null ? '–' : formatSigned(off, 'percent', 1)}
                  </td>
                  <td className="number">{formatFixed(row.q, 1)}</td>
                  <td className="number">{formatSigned(row.gainDb, 'ratio', 1)}</td>
                  <td className="number">{row.trim ? ohm(row.trim.ohm) : '–'}</td>
                  <td className={`number ${styles.trimReach}`}>
                    <TrimCell trim={row.trim} />
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </LongList>
    </div>
  );
}

/** Resistor and trimmer, and where on its track the trimmer is to stand. */
function TrimCell({ trim }: Pick<BankRow, 'trim'>) {
  if (!trim) return <>–</>;
  if (!Number.isFinite(trim.trimmerOhm)) return <span className="warn">out of reach</span>;
  const parts = `${ohm(trim.fixedOhm)} + ${ohm(trim.trimmerOhm)}`;
  if (reaches(trim))
    return (
      <>
        {parts} <span className="quiet">at {formatFixed((100 * trim.settingOhm) / trim.trimmerOhm, 0)}&#8239;%</span>
      </>
    );
  const short = trim.settingOhm < 0 ? -trim.settingOhm : trim.settingOhm - trim.trimmerOhm;
  return (
    <span className="warn" title={trim.settingOhm < 0 ? 'the fixed resistor is too large' : 'the trimmer is too small'}>
      {parts}: {ohm(short)} too {trim.settingOhm < 0 ? 'much' : 'little'}
    </span>
  );
}

/**
 * Which band is off, whether levels drift from low to high, and how much of that goes when each cause is made ideal.
 */
function driftWords({ bands, drift }: Pick<Bank, 'bands' | 'drift'>): string {
  const peaks = bands.map((b) => b.peakDb);
  const middle = [...peaks].sort((a, b) => a - b)[peaks.length >> 1];
  const worst = bands.reduce((a, b) => (Math.abs(b.peakDb - middle) > Math.abs(a.peakDb - middle) ? b : a));
  const off =
    Math.abs(worst.peakDb - middle) > 0.25
      ? `${worst.name} is off by ${formatSigned(worst.peakDb - middle, 'decibel', 2)}, the most. `
      : 'No band is off by more than a quarter of a decibel. ';
  if (!drift || Math.abs(drift.db) <= DRIFTS_DB) return `${off}They do not drift from low to high.`;
  const share = (db: number, what: string) => `${formatSigned(db, 'decibel', 1)} with ${what}`;
  return (
    `${off}Levels drift by ${formatSigned(drift.db, 'decibel', 1)} from low to high; of that goes ` +
    `${share(drift.partsDb, 'exact parts (values and tuning)')}, ` +
    `${share(drift.opAmpsDb, 'ideal op-amps')}, ${share(drift.levelsDb, 'the levels fed in alike')}. ` +
    `Level them, or mend what makes the most.`
  );
}
const DRIFTS_DB = 0.5;
