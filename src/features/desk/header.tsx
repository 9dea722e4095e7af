'use client';

import { ActionMenu } from '@/ui/action-menu';
import { Input, Tooltip } from 'antd';
import {
  DownOutlined,
  PlusOutlined,
  QuestionCircleOutlined,
  RedoOutlined,
  SearchOutlined,
  SoundOutlined,
  UndoOutlined,
} from '@ant-design/icons';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { ThemeButton } from '@/ui/palette/room-top';
import { edit, redo, undo, useDesign, useHistory } from '@/store/document';
import { labelVariant, removeVariant, setTitle } from '@/store/edits/record-edits';
import { saveStore } from '@/store/shelf/autosave';
import { storageStore } from '@/store/shelf/database';
import { stopLive, useLive } from '@/store/live-sound';
import { setView, useView } from '@/store/view';
import { addVariantAndGhost, DESK_ACTIONS, selectVariantAndGhost } from './actions';
import styles from './desk.module.css';

/** The strip at the top: which design, which variant, and what has been done to it. */
export function Header({ onPalette, onSheet }: { onPalette: () => void; onSheet: () => void }) {
  const title = useDesign((d) => d.title);
  const { canUndo, canRedo } = useHistory();
  const sounding = useLive((s) => s.state !== 'silent');
  useEffect(() => {
    document.title = `${title || 'untitled'} · Jaunty Reed`;
  }, [title]);
  return (
    <header className="top">
      <Link href="/" className="home">
        Jaunty Reed
      </Link>
      <span className="top-quiet" aria-hidden="true">
        /
      </span>
      <Input
        variant="borderless"
        aria-label="Title of the design"
        className="title"
        value={title}
        maxLength={120}
        onChange={(e) => edit(setTitle(e.target.value))}
      />
      <Variants />
      <SaveNote />
      <div className="top-actions">
        {sounding && (
          <Tip text="Silence it">
            <button type="button" className="plain icon" aria-label="Silence the circuit" onClick={stopLive}>
              <SoundOutlined />
            </button>
          </Tip>
        )}
        <Tip text="Undo (Ctrl + Z)">
          <button type="button" className="plain icon" aria-label="Undo" disabled={!canUndo} onClick={undo}>
            <UndoOutlined />
          </button>
        </Tip>
        <Tip text="Redo (Ctrl + Shift + Z)">
          <button type="button" className="plain icon" aria-label="Redo" disabled={!canRedo} onClick={redo}>
            <RedoOutlined />
          </button>
        </Tip>
        <ActionMenu
          items={DESK_ACTIONS.filter((a) => a.group === 'Export').map((a) => ({
            key: a.id,
            label: a.name.replace(/^Export /, '').replace(/^./, (c) => c.toUpperCase()),
            onClick: a.run,
          }))}
        >
          <button type="button" className="plain">
            Export <DownOutlined />
          </button>
        </ActionMenu>
        <Tip text="Do anything by name (Ctrl + K)">
          <button type="button" className="plain icon" aria-label="Find an action" onClick={onPalette}>
            <SearchOutlined />
          </button>
        </Tip>
        <ThemeButton />
        <Tip text="Keys (?)">
          <button type="button" className="plain icon" aria-label="Keys" onClick={onSheet}>
            <QuestionCircleOutlined />
          </button>
        </Tip>
      </div>
    </header>
  );
}

const Tip = ({ text, children }: { text: string; children: React.ReactElement }) => (
  <Tooltip title={text} mouseEnterDelay={0.5}>
    {children}
  </Tooltip>
);

interface VariantName {
  readonly id: string;
  readonly name: string;
  readonly label: string;
}

function Variants() {
  const flat = useDesign(useShallow((d) => d.variants.flatMap((v) => [v.id, v.name, v.label])));
  const variants = Array.from({ length: flat.length / 3 }, (_, i): VariantName => ({
    id: flat[3 * i],
    name: flat[3 * i + 1],
    label: flat[3 * i + 2],
  }));
  const current = useDesign((d) => d.currentVariant);
  const [naming, setNaming] = useState<string | null>(null);
  const named = variants.find((v) => v.id === naming);
  return (
    <div className="variants">
      <div role="radiogroup" aria-label="Variant" className={styles.variantRow}>
        {variants.map((v) => (
          <button
            key={v.id}
            type="button"
            role="radio"
            aria-checked={v.id === current}
            className={`plain variant${v.id === current ? ' on' : ''}`}
            onClick={() => selectVariantAndGhost(v.id)}
            onDoubleClick={() => setNaming(v.id)}
          >
            {v.name}
            {v.label && <span> · {v.label}</span>}
          </button>
        ))}
      </div>
      <VariantMenu variants={variants} current={current} onName={() => setNaming(current)} />
      {variants.length > 1 && <span className="top-quiet hold">hold Q to see the other</span>}
      {named && <Naming variant={named} onDone={() => setNaming(null)} />}
    </div>
  );
}

interface VariantMenuProps {
  readonly variants: readonly VariantName[];
  readonly current: string;
  readonly onName: () => void;
}

function VariantMenu({ variants, current, onName }: VariantMenuProps) {
  const ghost = useView((s) => s.ghostVariant);
  const remove = () => {
    setView({ ghostVariant: null, selectedStage: null });
    edit(removeVariant(current));
  };
  return (
    <ActionMenu
      items={[
        { key: 'new', label: 'New variant from this one', icon: <PlusOutlined />, onClick: addVariantAndGhost },
        { key: 'name', label: 'Name this variant', onClick: onName },
        ...variants
          .filter((v) => v.id !== current)
          .map((v) => ({
            key: `ghost-${v.id}`,
            label: ghost === v.id ? `Put ghost ${v.name} away` : `Lay ${v.name} under as a ghost`,
            onClick: () => setView({ ghostVariant: ghost === v.id ? null : v.id }),
          })),
        ...(variants.length > 1
          ? [{ key: 'remove', label: 'Remove this variant', danger: true, onClick: remove }]
          : []),
      ]}
    >
      <button type="button" className="plain variant more" aria-label="Variants: more">
        <PlusOutlined />
      </button>
    </ActionMenu>
  );
}

function Naming({ variant: { id, label }, onDone }: { variant: VariantName; onDone: () => void }) {
  return (
    <Input
      size="small"
      autoFocus
      className={styles.variantName}
      aria-label="Name of the variant"
      defaultValue={label}
      maxLength={40}
      onBlur={(e) => {
        edit(labelVariant(id, e.target.value.trim()));
        onDone();
      }}
      onPressEnter={(e) => e.currentTarget.blur()}
      onKeyDown={(e) => e.key === 'Escape' && onDone()}
    />
  );
}

function SaveNote() {
  const { state, at } = saveStore();
  const stays = storageStore((s) => s.kind === 'browser' && !s.deleted);
  return (
    <span className={`top-quiet ${styles.saveNote}`} role="status" data-testid="save-state">
      {state === 'failed' || state === 'removed'
        ? 'not saved'
        : state === 'pending'
          ? 'saving …'
          : !stays
            ? 'in this tab alone'
            : at
              ? `saved ${at.toTimeString().slice(0, 5)}`
              : 'saved'}
    </span>
  );
}
