'use client';

import { Button, Checkbox, Input } from 'antd';
import { DeleteOutlined } from '@ant-design/icons';
import dayjs from 'dayjs';
import { useState } from 'react';
import type { LogEntry } from '@/core/design/document/schema';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { documentStore, edit, useDesign } from '@/store/document';
import { addLogEntry, changeLogEntry, removeLogEntry } from '@/store/edits/record-edits';
import { DESK } from '@/store/questions/live';
import { snapshotOf } from '@/store/snapshot';
import styles from './log.module.css';

/** The record: dated notes, each with the numbers as they stood. */
export function Log() {
  const log = useDesign((d) => d.log);
  const [text, setText] = useState('');
  const [withNumbers, setWithNumbers] = useState(true);
  function add(): void {
    if (text.trim() === '') return;
    const desk = DESK.current().value;
    const { design } = documentStore.getState();
    edit(
      addLogEntry({
        at: new Date().toISOString(),
        text: text.trim(),
        snapshot: withNumbers && desk && design ? snapshotOf(design, desk) : null,
      }),
    );
    setText('');
  }
  return (
    <>
      <section className="panel" aria-label="New note">
        <Input.TextArea
          aria-label="Note"
          autoSize={{ minRows: 3, maxRows: 8 }}
          value={text}
          maxLength={8000}
          placeholder="What changed, why, what it measured, what you heard"
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => (e.ctrlKey || e.metaKey) && e.key === 'Enter' && add()}
        />
        <div className={styles.logActions}>
          <Checkbox checked={withNumbers} onChange={(e) => setWithNumbers(e.target.checked)}>
            keep the numbers with it
          </Checkbox>
          <Button type="primary" size="small" disabled={text.trim() === ''} onClick={add}>
            Write down
          </Button>
        </div>
      </section>
      {log.length === 0 && <p className="panel quiet">Nothing written yet. A line now saves an evening next year.</p>}
      {log.map((entry) => (
        <Entry key={entry.id} entry={entry} />
      ))}
    </>
  );
}

function Entry({ entry }: { entry: LogEntry }) {
  const { snapshot } = entry;
  return (
    <section
      className={`panel ${styles.logEntry}`}
      aria-label={`Note of ${dayjs(entry.at).format('D MMMM YYYY')}`}
      data-testid="log-entry"
    >
      <header>
        <time dateTime={entry.at} className="quiet">
          {dayjs(entry.at).format('D MMMM YYYY, HH:mm')}
        </time>
        <Button
          size="small"
          type="text"
          icon={<DeleteOutlined />}
          aria-label="Remove this note"
          onClick={() => edit(removeLogEntry(entry.id))}
        />
      </header>
      <Input.TextArea
        variant="borderless"
        aria-label="Text of the note"
        autoSize
        value={entry.text}
        maxLength={8000}
        onChange={(e) => edit(changeLogEntry(entry.id, e.target.value))}
      />
      {snapshot && (
        <details>
          <summary>
            <span className="figures">
              {snapshot.variant}:{' '}
              {snapshot.cutoffs.map((f) => formatQuantity(f, 'frequency')).join(' … ') || 'no corner'},{' '}
              {formatSigned(snapshot.gainDb, 'decibel')}
            </span>
          </summary>
          <p className="reason quiet">{snapshot.brief}</p>
          <table className="sheet">
            <tbody>
              {snapshot.stages.map((s, i) => (
                <tr key={i}>
                  <td>{s.name}</td>
                  <td className="number">{formatQuantity(s.freqHz, 'frequency')}</td>
                  <td className="number">{s.q === null ? '' : `Q ${formatFixed(s.q, 3)}`}</td>
                  <td className="number">{formatSigned(s.gainDb, 'decibel')}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="figures reason">
            {snapshot.parts
              .map(
                (p) =>
                  `${p.part} ` +
                  `${formatQuantity(p.value, p.part.startsWith('C') ? 'capacitance' : 'resistance', { bare: true })}`,
              )
              .join(' · ')}
          </p>
        </details>
      )}
    </section>
  );
}
