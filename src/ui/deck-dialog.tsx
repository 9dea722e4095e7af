'use client';

import { Button, Input, Modal, Select } from 'antd';
import { useState } from 'react';
import { deckNodes, deckTopology, type DeckStage } from '@/core/format/deck/deck-topology';
import { edit } from '@/store/document';
import { changeDeck } from '@/store/edits/deck-edits';
import { pickTextFile } from './download';
import styles from './deck-dialog.module.css';

const EXAMPLE = `Two sections with a bridge
R1 in a 10k
R2 a out 10k
C1 in out 10n
C2 a 0 22n
R3 out 0 100k`;

const has = (nodes: readonly string[], wanted: string, otherwise: number): string =>
  nodes.includes(wanted) ? wanted : (nodes.at(otherwise) ?? '');

/** A deck as it is typed: its nodes, where the signal enters and leaves, and what is made of it. */
function useDeck(start: DeckStage | null) {
  const [text, setText] = useState(start?.text ?? '');
  const [ends, setEnds] = useState<Readonly<Record<End, string | null>>>({
    input: start?.input ?? null,
    output: start?.output ?? null,
  });
  const nodes = text.trim() === '' ? null : deckNodes(text);
  const names = nodes?.ok ? nodes.value : [];
  const input = ends.input !== null && names.includes(ends.input) ? ends.input : has(names, 'in', 0);
  const output = ends.output !== null && names.includes(ends.output) ? ends.output : has(names, 'out', -1);
  const deck: DeckStage = { text, input, output };
  const setEnd = (end: End) => (node: string) => setEnds({ input, output, [end]: node });
  return { deck, names, made: nodes?.ok ? deckTopology(deck) : nodes, setText, setEnd };
}
type End = 'input' | 'output';

interface DeckDialogProps {
  readonly open: boolean;
  readonly start: DeckStage | null;
  readonly onTake: (deck: DeckStage) => void;
  readonly onClose: () => void;
}

/**
 * Brings a circuit in as a deck, or changes one that stands on the path: its text, and where the signal enters and
 * leaves. What is wrong is said with its line while it is typed.
 */
export function DeckDialog({ open, start, onTake, onClose }: DeckDialogProps) {
  const { deck, names, made, setText, setEnd } = useDeck(start);
  async function read(): Promise<void> {
    const file = await pickTextFile('.cir,.txt,.net,.ckt');
    if (file) setText(file.text);
  }
  return (
    <Modal
      open={open}
      title="A circuit of your own, as a deck"
      okText={start ? 'Change it' : 'Put it on the path'}
      okButtonProps={{ disabled: !made?.ok }}
      onOk={() => onTake(deck)}
      onCancel={onClose}
      destroyOnHidden
      width={640}
    >
      <p className="reason">
        A title line, then a card for each part: <code>R C L</code> with two nodes and a value, controlled sources,
        diodes, transistors, subcircuits; node 0 is ground.{' '}
        <button type="button" className="link" onClick={() => setText(EXAMPLE)}>
          show me one
        </button>
      </p>
      <Input.TextArea
        className={styles.deckText}
        aria-label="Deck"
        spellCheck={false}
        rows={12}
        value={deck.text}
        maxLength={200_000}
        placeholder={EXAMPLE}
        onChange={(e) => setText(e.target.value)}
        data-testid="deck-text"
      />
      <div className={`field-row ${styles.deckEnds}`}>
        <Button onClick={() => void read()}>From a file</Button>
        <EndField label="signal in at" name="Input node" names={names} node={deck.input} onChange={setEnd('input')} />
        <EndField label="out at" name="Output node" names={names} node={deck.output} onChange={setEnd('output')} />
      </div>
      {made && !made.ok && (
        <p className="failure" role="alert">
          {Number(made.data.line) > 0 ? `Line ${String(made.data.line)}: ` : ''}
          {String(made.data.message)}.
        </p>
      )}
    </Modal>
  );
}

interface EndFieldProps {
  readonly label: string;
  readonly name: string;
  readonly names: readonly string[];
  readonly node: string;
  readonly onChange: (node: string) => void;
}

function EndField({ label, name, names, node, onChange }: EndFieldProps) {
  return (
    <div className="field">
      <span className="label">{label}</span>
      <Select
        aria-label={name}
        value={node || undefined}
        disabled={names.length === 0}
        options={names.map((value) => ({ value, label: value }))}
        onChange={onChange}
      />
    </div>
  );
}

/** The deck of a stage, to be read and changed. */
export function DeckButton({ stageId, deck }: { stageId: string; deck: DeckStage }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="link" onClick={() => setOpen(true)}>
        read or change its deck
      </button>
      {open && (
        <DeckDialog
          open
          start={deck}
          onClose={() => setOpen(false)}
          onTake={(next) => {
            edit(changeDeck(stageId, next));
            setOpen(false);
          }}
        />
      )}
    </>
  );
}
