'use client';

import { Modal, Select } from 'antd';
import { useState } from 'react';
import type { GivenStage } from '@/core/design/making/bank';
import {
  BANK_COLUMNS,
  COLUMN_UNITS,
  guessColumns,
  stagesOfTable,
  type BankTableText,
  type ColumnMap,
} from '@/core/format/bank-csv';
import { failureWords } from '@/ui/words/failures';

/** Says which column of a maker's table is what, and in which unit; what is read then is told while it is chosen. */
export function BankColumns({
  name,
  table,
  onTake,
  onClose,
}: {
  name: string;
  table: BankTableText;
  onTake: (stages: readonly GivenStage[]) => void;
  onClose: () => void;
}) {
  const [map, setMap] = useState<ColumnMap>(() => guessColumns(table));
  const read = stagesOfTable(table, map);
  const columns = table.header.map((heading, value) => ({ value, label: heading || `column ${value + 1}` }));
  return (
    <Modal
      open
      title={`Columns of ${name}`}
      okText={read.ok ? `Read ${read.value.length} stages` : 'Read'}
      okButtonProps={{ disabled: !read.ok }}
      onOk={() => read.ok && onTake(read.value)}
      onCancel={onClose}
      width={620}
    >
      <table className="sheet" data-testid="bank-columns">
        <thead>
          <tr>
            <th>what it is</th>
            <th>your column</th>
            <th>plain numbers are</th>
            <th>first line</th>
          </tr>
        </thead>
        <tbody>
          {BANK_COLUMNS.map(({ id, label, kind, needed }) => (
            <tr key={id}>
              <td>{label}</td>
              <td>
                <Select
                  size="small"
                  aria-label={`Column of the ${label}`}
                  style={{ width: 150 }}
                  status={needed && map[id].column === null ? 'error' : undefined}
                  value={map[id].column ?? -1}
                  options={[{ value: -1, label: needed ? 'choose …' : 'none' }, ...columns]}
                  onChange={(column) => setMap({ ...map, [id]: { ...map[id], column: column < 0 ? null : column } })}
                />
              </td>
              <td>
                {kind && (
                  <Select
                    size="small"
                    aria-label={`Unit of the ${label}`}
                    style={{ width: 76 }}
                    value={map[id].unit}
                    options={Object.keys(COLUMN_UNITS[kind]).map((value) => ({ value, label: value }))}
                    onChange={(unit) => setMap({ ...map, [id]: { ...map[id], unit } })}
                  />
                )}
              </td>
              <td className="quiet">{table.rows[0]?.[map[id].column ?? -1] ?? '–'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className={read.ok ? 'reason' : 'failure'} role={read.ok ? 'status' : 'alert'}>
        {read.ok ? `${table.rows.length} lines, a stage each; stages of one band stand in a row.` : failureWords(read)}
      </p>
    </Modal>
  );
}
