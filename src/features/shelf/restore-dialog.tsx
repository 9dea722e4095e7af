import { Modal, Select } from 'antd';
import { Fragment, useState } from 'react';
import { proposed, type BackupRow, type RowChoice, type RowState } from '@/store/shelf/restore';
import { TABLE_NAMES } from '@/store/shelf/shelf-tables';
import { Fold, LongList } from '@/ui/fold';
import { countWords } from './table-words';

type Table = BackupRow['table'];
const TABLES: readonly Table[] = ['designs', ...TABLE_NAMES];
const STATES: Readonly<Record<RowState, string>> = {
  new: 'not on the shelf',
  newer: 'newer than on the shelf',
  older: 'older than on the shelf',
  differs: 'otherwise on the shelf',
  twice: 'a second of the same name in the file',
  same: 'as on the shelf',
};
const CHOICES: Readonly<Record<RowChoice, string>> = {
  take: 'take it',
  beside: 'take it beside',
  leave: 'leave it',
};
/** What can be done with a row: only designs stand beside one another, and a second of one name does not replace it. */
export const choicesFor = ({ table, state }: BackupRow): RowChoice[] =>
  state === 'twice'
    ? ['beside', 'leave']
    : table !== 'designs' || state === 'new'
      ? ['take', 'leave']
      : ['take', 'beside', 'leave'];

/** How many rows of a table stand how to the shelf. */
export function stateWords(rows: readonly BackupRow[]): string {
  const counts = (Object.keys(STATES) as RowState[]).flatMap((state) => {
    const count = rows.filter((row) => row.state === state).length;
    return count > 0 ? [`${count} ${STATES[state]}`] : [];
  });
  return counts.join(', ');
}

type Chosen = readonly { readonly row: BackupRow; readonly choice: RowChoice }[];
/** Decides of some rows. */
type Choose = (which: (row: BackupRow) => boolean, choose: (row: BackupRow) => RowChoice) => void;

/** A backup table by table, and row by row where it is opened: what comes in, and what stays as it lies. */
export function RestoreDialog({
  rows,
  name,
  onRestore,
  onClose,
}: {
  rows: readonly BackupRow[];
  name: string;
  onRestore: (chosen: Chosen) => void;
  onClose: () => void;
}) {
  const [choices, setChoices] = useState<readonly RowChoice[]>(() => rows.map(proposed));
  const choose: Choose = (which, decide) =>
    setChoices((before) => before.map((choice, i) => (which(rows[i]) ? decide(rows[i]) : choice)));
  const chosen = rows.map((row, i) => ({ row, choice: choices[i] }));
  const coming = chosen.filter(({ choice }) => choice !== 'leave').length;
  const replaced = chosen.filter(({ row, choice }) => choice === 'take' && row.state !== 'new').length;
  return (
    <Modal
      open
      title={`Restore ${name}`}
      width={640}
      onCancel={onClose}
      onOk={() => onRestore(chosen)}
      okText={coming === 0 ? 'Nothing to restore' : `Restore ${coming}`}
      okButtonProps={{ disabled: coming === 0 }}
    >
      <p className="reason">
        What is not on the shelf and what is newer is proposed; nothing else is touched.
        {replaced > 0 && ` ${replaced === 1 ? 'One row takes' : `${replaced} rows take`} the place of what is there.`}
      </p>
      {TABLES.map((table) => {
        const own = chosen.filter(({ row }) => row.table === table);
        return own.length > 0 && <TableRows key={table} table={table} chosen={own} choose={choose} />;
      })}
    </Modal>
  );
}

function TableRows({ table, chosen, choose }: { table: Table; chosen: Chosen; choose: Choose }) {
  const all = (decide: (row: BackupRow) => RowChoice) => choose((row) => row.table === table, decide);
  const ways: [string, (row: BackupRow) => RowChoice][] = [
    ['as proposed', proposed],
    ['take all', takenOf],
    ['leave all', () => 'leave'],
  ];
  return (
    <Fold
      name={`Restore ${table}`}
      title={countWords(table, chosen.length)}
      outcome={stateWords(chosen.map(({ row }) => row))}
      testId={`restore-${table}`}
    >
      <p className="reason">
        {ways.map(([name, decide]) => (
          <Fragment key={name}>
            <button type="button" className="link" onClick={() => all(decide)}>
              {name}
            </button>{' '}
          </Fragment>
        ))}
      </p>
      <LongList label={`Rows of ${countWords(table, chosen.length)}`}>
        <table className="sheet">
          <tbody>
            {chosen
              .filter(({ row }) => row.state !== 'same')
              .map(({ row, choice }, i) => (
                <tr key={i}>
                  <td>{row.title}</td>
                  <td>{STATES[row.state]}</td>
                  <td>
                    <Select
                      size="small"
                      aria-label={`What becomes of ${row.title}`}
                      value={choice}
                      popupMatchSelectWidth={false}
                      options={choicesFor(row).map((value) => ({ value, label: CHOICES[value] }))}
                      onChange={(value: RowChoice) =>
                        choose(
                          (other) => other === row,
                          () => value,
                        )
                      }
                    />
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      </LongList>
    </Fold>
  );
}

/** All of a table: what is there alike has nothing to take. */
const takenOf = ({ state }: BackupRow): RowChoice =>
  state === 'same' ? 'leave' : state === 'twice' ? 'beside' : 'take';
