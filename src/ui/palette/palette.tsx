'use client';

import { App, Input, Modal, type InputRef } from 'antd';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type Ref } from 'react';
import type { Calculator as CalculatorSpec } from '@/core/parts/calculator';
import { searchOf } from '@/core/catalogue/search';
import { useFocusBack } from '@/ui/use-focus-back';
import { keyWords } from './key-words';
import { Calculator } from './calculator';
import { useCommonEntries, type PaletteEntry } from './entries';
import styles from './palette.module.css';

const NONE: readonly PaletteEntry[] = [];

interface PaletteProps {
  readonly open: boolean;
  /** What can be done on this page besides. */
  readonly own?: readonly PaletteEntry[];
  readonly onClose: () => void;
}

/** Reaches everything by name: what this page can do, pages, designs, circuits, and the quick calculators. */
export function Palette({ open, own = NONE, onClose }: PaletteProps) {
  const [calculator, setCalculator] = useState<CalculatorSpec | null>(null);
  const input = useRef<InputRef>(null);
  useFocusBack();
  const { message } = App.useApp();
  const run = (entry: PaletteEntry) => {
    if (entry.calculator) return setCalculator(entry.calculator);
    onClose();
    entry.run?.();
  };
  return (
    <Modal
      open={open}
      onCancel={onClose}
      footer={null}
      title={calculator ? calculator.name : 'Find, do, or work out'}
      destroyOnHidden
      width={520}
      afterClose={() => setCalculator(null)}
      afterOpenChange={(now) => now && input.current?.focus()}
    >
      {calculator ? (
        <Calculator
          key={calculator.id}
          calculator={calculator}
          onBack={() => setCalculator(null)}
          onDropped={(words) => {
            onClose();
            void message.success(words);
          }}
        />
      ) : (
        <Finder own={own} input={input} onRun={run} />
      )}
    </Modal>
  );
}

interface FinderProps {
  readonly own: readonly PaletteEntry[];
  readonly input: Ref<InputRef>;
  readonly onRun: (entry: PaletteEntry) => void;
}

/** What is typed, and what answers to it: walked by arrows, taken by Enter or a click. */
function Finder({ own, input, onRun }: FinderProps) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const common = useCommonEntries();
  const search = useMemo(() => searchOf([...own, ...common]), [own, common]);
  const found = search(text);
  useEffect(() => {
    document.getElementById(LIST)?.children[at]?.scrollIntoView({ block: 'nearest' });
  }, [at]);
  const chosen = Math.min(at, found.length - 1);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      setAt((chosen + (event.key === 'ArrowDown' ? 1 : -1) + found.length) % Math.max(1, found.length));
    } else if (event.key === 'Enter') {
      // What it does may move the focus: the key is not to press what has it then.
      event.preventDefault();
      if (found[chosen]) onRun(found[chosen]);
    }
  };
  return (
    <>
      <Input
        ref={input}
        value={text}
        placeholder="A circuit, a design, a view, a calculator …"
        aria-label="Find anything"
        role="combobox"
        aria-expanded
        aria-controls={LIST}
        aria-activedescendant={found[chosen] ? `palette-${found[chosen].id}` : undefined}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={onKeyDown}
      />
      <Found found={found} chosen={chosen} onRun={onRun} />
    </>
  );
}

const LIST = 'palette-list';

interface FoundProps extends Pick<FinderProps, 'onRun'> {
  readonly found: readonly PaletteEntry[];
  readonly chosen: number;
}

function Found({ found, chosen, onRun }: FoundProps) {
  return (
    <ul id={LIST} role="listbox" aria-label="What was found" className={styles.palette}>
      {found.map((entry, i) => (
        <li
          key={entry.id}
          id={`palette-${entry.id}`}
          role="option"
          aria-selected={i === chosen}
          onClick={() => onRun(entry)}
          onKeyDown={() => {}}
        >
          <span className="quiet">{entry.group}</span> {entry.name} {entry.keys && <kbd>{keyWords(entry.keys)}</kbd>}
        </li>
      ))}
      {found.length === 0 && (
        <li className="quiet" role="option" aria-selected="false">
          Nothing answers to that. Try what it does: notch, shelf, delay, price.
        </li>
      )}
    </ul>
  );
}
