'use client';

import { App, Input, Modal, type InputRef } from 'antd';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import type { Calculator as CalculatorSpec } from '@/core/parts/calculator';
import { searchOf } from '@/core/catalogue/search';
import { useFocusBack } from '@/ui/use-focus-back';
import { keyWords } from './key-words';
import { Calculator } from './calculator';
import { useCommonEntries, type PaletteEntry } from './entries';

const NONE: readonly PaletteEntry[] = [];

interface PaletteProps {
  readonly open: boolean;
  /** What can be done on this page besides. */
  readonly own?: readonly PaletteEntry[];
  readonly onClose: () => void;
}

/** Reaches everything by name: what this page can do, pages, designs, circuits, and the quick calculators. */
export function Palette({ open, own = NONE, onClose }: PaletteProps) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const [calculator, setCalculator] = useState<CalculatorSpec | null>(null);
  const input = useRef<InputRef>(null);
  useFocusBack();
  const common = useCommonEntries();
  const search = useMemo(() => searchOf([...own, ...common]), [own, common]);
  const found = search(text);
  useEffect(() => {
    document.getElementById('palette-list')?.children[at]?.scrollIntoView({ block: 'nearest' });
  }, [at]);
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
    if (!entry) return;
    if (entry.calculator) return setCalculator(entry.calculator);
    close();
    entry.run?.();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      setAt((chosen + (event.key === 'ArrowDown' ? 1 : -1) + found.length) % Math.max(1, found.length));
    } else if (event.key === 'Enter') {
      // What it does may move the focus: the key is not to press what has it then.
      event.preventDefault();
      run(chosen);
    }
  };
  return (
    <Modal
      open={open}
      onCancel={close}
      footer={null}
      title={calculator ? calculator.name : 'Find, do, or work out'}
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
            placeholder="A circuit, a design, a view, a calculator …"
            aria-label="Find anything"
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
          <ul id="palette-list" role="listbox" aria-label="What was found" className="palette">
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
                Nothing answers to that. Try what it does: notch, shelf, delay, price.
              </li>
            )}
          </ul>
        </>
      )}
    </Modal>
  );
}
