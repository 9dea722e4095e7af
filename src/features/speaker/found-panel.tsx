'use client';

import { Button, Input } from 'antd';
import { useState } from 'react';
import type { Way } from '@/core/design/document/schema';
import { readPartList, TYPICAL_FORMS, type ListedNetwork } from '@/core/format/part-list';
import { must, type Result } from '@/core/result';
import { drawLadder } from '@/core/topology/kit/ladder';
import { edit, useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { keepFound } from '@/store/edits/found-network';
import { newId } from '@/store/new-id';
import { setView } from '@/store/view';
import { Fold } from '@/ui/fold';
import { Schematic } from '@/ui/schematic';
import { failureWords } from '@/ui/words/failures';
import styles from './found.module.css';

type Read = Result<ListedNetwork, 'part-list'> | null;
const readOf = (text: string): Read => (text.trim() === '' ? null : readPartList(text));

/** The network of a cabinet as it was found: listed part by part, kept as the variant to beat. */
export function FoundPanel() {
  const ways = useDesign((d) => currentVariantOf(d).ways);
  const [lists, setLists] = useState<Readonly<Record<string, string>>>({});
  const reads = ways.map((way) => readOf(lists[way.id] ?? ''));
  const some = reads.some((r) => r?.ok);
  const keep = () => {
    const id = newId();
    edit(keepFound(new Map(ways.map((way, w) => [way.id, reads[w]?.ok ? reads[w].value : null])), id));
    setView({ ghostVariant: id });
    setLists({});
  };
  return (
    <Fold
      name="What is in the cabinet"
      title="What is in the cabinet"
      outcome="its parts as a list, kept as the one to beat"
      testId="found-panel"
    >
      {ways.map((way, w) => (
        <FoundWay
          key={way.id}
          way={way}
          text={lists[way.id] ?? ''}
          read={reads[w]}
          change={(text) => setLists({ ...lists, [way.id]: text })}
        />
      ))}
      <Button size="small" type="primary" disabled={!some || reads.some((r) => r && !r.ok)} onClick={keep}>
        Keep it as the one to beat
      </Button>
      <p className="reason quiet">
        From the amplifier to the driver, as you read it off the board: what says nothing is in line, “across” goes to
        the other terminal; + one behind the other, || side by side. The drivers are those of the ways: give them their
        measured files, or take typical ones.
      </p>
    </Fold>
  );
}

function FoundWay({ way, text, read, change }: { way: Way; text: string; read: Read; change: (text: string) => void }) {
  const [forms, setForms] = useState(false);
  return (
    <div className={styles.way}>
      <label className="field">
        <span className="label">before {way.name}</span>
        <Input.TextArea
          autoSize={{ minRows: 1, maxRows: 4 }}
          value={text}
          placeholder="1 mH, across 10 uF"
          aria-label={`Parts found before ${way.name}`}
          status={read && !read.ok ? 'error' : undefined}
          onChange={(e) => change(e.target.value)}
        />
      </label>
      {read && !read.ok && (
        <p className="failure" role="alert">
          {failureWords(read)}
        </p>
      )}
      {read?.ok && <ListDrawing network={read.value} title={`What was found before ${way.name}`} />}
      <button type="button" className="link" aria-expanded={forms} onClick={() => setForms(!forms)}>
        typical forms
      </button>
      {forms && (
        <ul className={styles.forms}>
          {TYPICAL_FORMS.map(({ name, list }) => (
            <li key={name}>
              <button
                type="button"
                className="plain"
                onClick={() => {
                  change(list);
                  setForms(false);
                }}
              >
                <ListDrawing network={must(readPartList(list))} title={name} />
                {name}
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

const NOTHING = {};
function ListDrawing({ network, title }: { network: ListedNetwork; title: string }) {
  const symbol = useDesign((d) => d.preferences.resistorSymbol);
  return (
    <Schematic
      drawing={drawLadder(network.arms)}
      values={network.values}
      leftOut={NOTHING}
      resistorSymbol={symbol}
      title={title}
    />
  );
}
