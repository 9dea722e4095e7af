'use client';

import { App, Input, Modal, type InputRef } from 'antd';
import { useRef, useState, type KeyboardEvent } from 'react';
import type { Calculator as CalculatorSpec } from '@/core/parts/calculator';
import { CALCULATORS } from '@/core/parts/calculators';
import { DESK_ACTIONS, keyWords } from './actions';
import { Calculator } from './calculator';

interface Entry {
  readonly id: string;
  readonly group: string;
  readonly name: string;
  readonly words?: string;
  readonly keys?: string;
  readonly run?: () => void;
  readonly calculator?: CalculatorSpec;
}

const ENTRIES: readonly Entry[] = [
  ...DESK_ACTIONS,
  ...CALCULATORS.map((calculator) => ({
    id: `calculator-${calculator.id}`,
    group: 'Work out',
    name: calculator.name,
    words: calculator.words,
    calculator,
  })),
];

/** Reaches every action by name, and the quick calculators. */
export function Palette({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const [calculator, setCalculator] = useState<CalculatorSpec | null>(null);
  const input = useRef<InputRef>(null);
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = ENTRIES.filter((a) =>
    words.every((w) => `${a.group} ${a.name} ${a.words ?? ''}`.toLowerCase().includes(w)),
  );
  const { message } = App.useApp();
  const chosen = Math.min(at, found.length - 1);
  const close = () => {
    setText('');
    setAt(0);
    setCalculator(null);
    onClose();
  };
  const run = (index: number) => {
    const entry = found[index];
    if (entry?.calculator) return setCalculator(entry.calculator);
    close();
    entry?.run?.();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      setAt((chosen + (event.key === 'ArrowDown' ? 1 : -1) + found.length) % Math.max(1, found.length));
    } else if (event.key === 'Enter') run(chosen);
  };
  return (
    <Modal
      open={open}
      onCancel={close}
      footer={null}
      title={calculator ? calculator.name : 'Do, or work out'}
      destroyOnHidden
      width={520}
      afterOpenChange={(now) => now && input.current?.focus()}
    >
      {calculator ? (
        <Calculator
          key={calculator.id}
          calculator={calculator}
          onBack={() => setCalculator(null)}
          onDropped={(words) => {
            close();
            void message.success(words);
          }}
        />
      ) : (
        <>
          <Input
            ref={input}
            value={text}
            placeholder="What do you want to do?"
            aria-label="Find an action"
            role="combobox"
            aria-expanded
            aria-controls="palette-list"
            aria-activedescendant={found[chosen] ? `palette-${found[chosen].id}` : undefined}
            onChange={(e) => {
              setText(e.target.value);
              setAt(0);
            }}
            onKeyDown={onKeyDown}
          />
          <ul id="palette-list" role="listbox" aria-label="Actions" className="palette">
            {found.map((action, i) => (
              <li
                key={action.id}
                id={`palette-${action.id}`}
                role="option"
                aria-selected={i === chosen}
                onClick={() => run(i)}
                onKeyDown={() => {}}
              >
                <span className="quiet">{action.group}</span> {action.name}{' '}
                {action.keys && <kbd>{keyWords(action.keys)}</kbd>}
              </li>
            ))}
            {found.length === 0 && (
              <li className="quiet" role="option" aria-selected="false">
                Nothing is called that.
              </li>
            )}
          </ul>
        </>
      )}
    </Modal>
  );
}

/** The sheet of shortcuts. */
export function KeySheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const extra: [string, string][] = [
    ['Q, held', 'see the other variant in front'],
    ['Ctrl + K', 'do anything by name'],
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
