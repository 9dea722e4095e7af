'use client';

import { tenth } from '@/ui/chart/tenth';
import { Segmented } from 'antd';
import { useState } from 'react';
import type { Control } from '@/core/design/document/schema';
import { trackShare } from '@/core/device/potentiometer';
import { readTaper } from './read-taper';
import styles from './values.module.css';

type Law = 'linear' | 'log' | 'reverse-log' | 'measured';
const LAWS: { value: Law; label: string }[] = [
  { value: 'linear', label: 'linear' },
  { value: 'log', label: 'log' },
  { value: 'reverse-log', label: 'reverse log' },
  { value: 'measured', label: 'measured' },
];

/** How the track grows with rotation: a usual law, or what was measured. */
export function TaperField({
  taper,
  onChange,
}: {
  taper: Control['taper'];
  onChange: (taper: Control['taper']) => void;
}) {
  const [wrong, setWrong] = useState<string | null>(null);
  const law: Law = typeof taper === 'object' ? 'measured' : taper;
  const choose = (next: Law) => {
    setWrong(null);
    onChange(
      next === 'measured'
        ? { points: [0, 0.25, 0.5, 0.75, 1].map((x): [number, number] => [x, Number(trackShare(taper, x).toFixed(3))]) }
        : next,
    );
  };
  const text =
    typeof taper === 'object'
      ? taper.points
          .map(([x, y]) => `${Number((100 * x).toPrecision(4))} ${Number((100 * y).toPrecision(4))}`)
          .join('; ')
      : '';
  const read = (typed: string) => {
    const table = readTaper(typed);
    setWrong('wrong' in table ? table.wrong : null);
    if ('points' in table) onChange(table);
  };
  return (
    <div className="taper">
      <Segmented size="small" aria-label="Taper" value={law} options={LAWS} onChange={choose} />
      <TaperGlyph taper={taper} />
      {law === 'measured' && (
        <input
          key={text}
          className="plain-input figures"
          defaultValue={text}
          aria-label="Measured taper: rotation and share in per cent"
          data-testid="taper-table"
          onBlur={(e) => read(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && read(e.currentTarget.value)}
        />
      )}
      {wrong && (
        <p role="alert" className="reason bad">
          {wrong} The old table stays.
        </p>
      )}
    </div>
  );
}

function TaperGlyph({ taper }: { taper: Control['taper'] }) {
  const path = Array.from(
    { length: 21 },
    (_, i) => `${i === 0 ? 'M' : 'L'}${1 + 2.2 * i} ${tenth(25 - 24 * trackShare(taper, i / 20))}`,
  ).join('');
  return (
    <svg width="46" height="26" aria-hidden="true" className={styles.taperGlyph}>
      <path d={path} />
    </svg>
  );
}
