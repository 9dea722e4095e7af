'use client';

import { Modal } from 'antd';
import { keyWords } from '@/ui/palette/key-words';
import { DESK_ACTIONS } from './actions';

/** The sheet of shortcuts. */
export function KeySheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const extra: [string, string][] = [
    ['Q, held', 'see the other variant in front'],
    ['Ctrl + K', 'find and do anything by name'],
    ['arrow keys', 'in a number: one preferred value or one per cent; with Shift, ten'],
    ['arrow keys on the curves', 'move the cursor; Page Up and Page Down jump to marks'],
    ['?', 'this sheet'],
  ];
  return (
    <Modal open={open} onCancel={onClose} footer={null} title="Keys" width={560} destroyOnHidden>
      <table className="sheet">
        <tbody>
          {[
            ...DESK_ACTIONS.filter((a) => a.keys).map((a): [string, string] => [keyWords(a.keys ?? ''), a.name]),
            ...extra,
          ].map(([keys, name]) => (
            <tr key={keys + name}>
              <td>
                <kbd>{keys}</kbd>
              </td>
              <td>{name}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Modal>
  );
}
