'use client';

import { Input, type InputRef } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { CATALOGUE_GROUPS, type CatalogueEntry } from '@/core/catalogue/catalogue';
import { searchOf } from '@/core/catalogue/search';
import type { FilterResponse } from '@/core/filter/section';
import { RESPONSE_NAMES } from '@/core/filter/response-names';
import { Face } from './face';
import styles from './gallery.module.css';

/** Everything that a design can begin with or a path take in, by group, found by any name of the field. */
export function Gallery({
  entries,
  onChoose,
}: {
  entries: readonly CatalogueEntry[];
  onChoose: (entry: CatalogueEntry, response?: FilterResponse) => void;
}) {
  const [text, setText] = useState('');
  const input = useRef<InputRef>(null);
  useEffect(() => input.current?.focus(), []);
  const search = useMemo(() => searchOf(entries), [entries]);
  const found = search(text);
  const searching = text.trim() !== '';
  return (
    <div className="gallery">
      <Input
        ref={input}
        allowClear
        className={styles.galleryFind}
        value={text}
        placeholder="Find a circuit: hum notch, wah, 24 dB/oct, shelf …"
        aria-label="Find a circuit"
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && searching && found[0]) onChoose(found[0]);
        }}
      />
      <p className="only-read-aloud" role="status">
        {searching ? `${found.length} found` : ''}
      </p>
      {searching && found.length > 0 && <Cards label="What was found" entries={found} onChoose={onChoose} />}
      {found.length === 0 && (
        <p className="quiet" data-testid="gallery-none">
          Nothing here answers to “{text}”. Try what it does (notch, shelf, delay) or what it is made of (OTA, twin-T,
          coil).
        </p>
      )}
      {!searching &&
        CATALOGUE_GROUPS.map((group) => {
          const own = entries.filter((entry) => entry.group === group);
          return own.length > 0 && <Cards key={group} label={group} entries={own} onChoose={onChoose} heading />;
        })}
    </div>
  );
}

function Cards({
  label,
  entries,
  onChoose,
  heading = false,
}: {
  label: string;
  entries: readonly CatalogueEntry[];
  onChoose: (entry: CatalogueEntry, response?: FilterResponse) => void;
  heading?: boolean;
}) {
  return (
    <section aria-label={label}>
      {heading && <h2>{label}</h2>}
      <ul className={styles.galleryGrid}>
        {entries.map((entry) => (
          <li key={entry.id} className={styles.galleryCard} data-testid="gallery-card">
            <button
              type="button"
              className={`plain ${styles.galleryChoose}`}
              aria-label={entry.name}
              aria-describedby={`says-${entry.id}`}
              onClick={() => onChoose(entry)}
            >
              <Face entry={entry} />
              <span className={styles.galleryWords}>
                <b>{entry.name}</b>
                <span className="quiet" id={`says-${entry.id}`}>
                  {entry.says}
                </span>
              </span>
            </button>
            {entry.responses.length > 0 && (
              <span className={styles.galleryResponses}>
                {entry.responses.map((response) => (
                  <button
                    key={response}
                    type="button"
                    className="plain"
                    aria-label={`${entry.name}: ${RESPONSE_NAMES[response].toLowerCase()}`}
                    onClick={() => onChoose(entry, response)}
                  >
                    {RESPONSE_NAMES[response].toLowerCase()}
                  </button>
                ))}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
