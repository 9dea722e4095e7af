'use client';

import { Button } from 'antd';
import { useState } from 'react';
import type { StripPlaced, StripPlan } from '@/core/parts/strip-board';
import { failureWords } from '@/ui/words/failures';
import { useDesign } from '@/store/document';
import { useDesignJob } from '@/store/use-design-job';
import styles from './build.module.css';

const placeWords = ({ reference, pins }: StripPlan['parts'][number]): string =>
  `${reference} in ${pins.map((pin) => `column ${pin.column}, strip ${pin.row + 1}`).join(' and ')}`;

/** A plan on strip board, on request, with what reading it back against the circuit found. */
export function StripBoardPanel() {
  const family = useDesign((d) => d.family);
  const [open, setOpen] = useState(false);
  const board = useDesignJob('strip-board', open ? {} : null);
  if (family === 'loudspeaker') return null;
  return (
    <section className="panel" aria-label="Strip board" data-testid="strip-board">
      <header>
        <h2>On strip board</h2>
        {!open && (
          <Button size="small" className="no-print" onClick={() => setOpen(true)}>
            Plan it
          </Button>
        )}
      </header>
      {!open && <p className="reason quiet">For small one-off boards: a strip for every net, parts across them.</p>}
      {board?.refused && <p className="reason">{failureWords(board.refused)}</p>}
      {board?.plan && board.check && (
        <>
          <StripDrawing plan={board.plan} />
          <p className="reason" data-testid="strip-check">
            {board.check.faults.length === 0 ? (
              <>
                Read back as copper and laid beside the circuit:{' '}
                <b>all {board.check.pins} leads are where they belong</b>, nothing else is joined, and no bare wire lies
                over another or over a part. {board.plan.rows.length} strips of {board.plan.columns} holes
                {board.plan.cuts.length > 0 ? `, ${board.plan.cuts.length} cuts (×) under the packages` : ', no cuts'}
                {board.plan.links.length > 0 ? `, ${board.plan.links.length} wires` : ''}.
              </>
            ) : (
              <b className="bad">
                {board.check.faults.length} leads are wrong:{' '}
                {board.check.faults
                  .slice(0, 3)
                  .map((f) => `${f.a}, ${f.b}`)
                  .join('; ')}
                . Do not build this.
              </b>
            )}
          </p>
          {board.longLegged.length > 0 && (
            <p className="reason">
              {board.longLegged.join(', ')}: leads reach over more than four strips; put sleeves on them.
            </p>
          )}
          <p className="reason quiet">
            Seen from the parts’ side; the copper runs from left to right underneath. Parts that reach over fewer than
            four strips stand on end. Leads of devices side by side as most types have them, by their letters: look up
            your type’s order. Packages of op-amps as they are bought, the dot at the first pin; spare units follow the
            middle of the supply.
          </p>
        </>
      )}
    </section>
  );
}

const HOLE = 14;
const LEFT = 92;
const TOP = 16;
const SHORT: Readonly<Record<string, string>> = {
  collector: 'c',
  base: 'b',
  emitter: 'e',
  drain: 'd',
  gate: 'g',
  source: 's',
  anode: 'a',
  cathode: 'k',
  low: 'lo',
  wiper: 'w',
  high: 'hi',
  'lamp +': 'L+',
  'lamp −': 'L−',
  'cell a': 'c1',
  'cell b': 'c2',
};

const at = (column: number, row: number): [number, number] => [LEFT + HOLE * column, TOP + HOLE * row];

function StripDrawing({ plan }: { plan: StripPlan }) {
  const [width, height] = [LEFT + HOLE * (plan.columns + 1) + 14, TOP + HOLE * plan.rows.length + 8];
  return (
    <div className="sheet-scroll" tabIndex={0} role="region" aria-label="Strip-board plan">
      <svg
        className={styles.stripPlan}
        viewBox={`0 0 ${width} ${height}`}
        style={{ maxWidth: 1.5 * width }}
        role="img"
        aria-label={`Strip board: ${plan.parts.map(placeWords).join('; ')}`}
      >
        {plan.rows.map((_, row) => (
          <g key={row}>
            <rect x={LEFT - 5} y={TOP + HOLE * row - 4} width={HOLE * plan.columns + 10} height={8} className="strip" />
            <text x={LEFT - 10} y={TOP + HOLE * row + 3.5} textAnchor="end" className={styles.stripNet}>
              {plan.leaving
                .filter((l) => l.row === row)
                .map((l) => l.label)
                .join(', ')}
            </text>
            {Array.from({ length: plan.columns + 1 }, (__, column) => (
              <circle
                key={column}
                cx={at(column, row)[0]}
                cy={at(column, row)[1]}
                r={1.3}
                className={styles.stripHole}
              />
            ))}
          </g>
        ))}
        {plan.links.map((link) => (
          <path
            key={link.column}
            d={`M${at(link.column, link.fromRow).join(' ')}L${at(link.column, link.toRow).join(' ')}`}
            className={styles.stripLink}
          />
        ))}
        {plan.parts.map((part) => (
          <StripPart key={part.reference} part={part} />
        ))}
        {plan.cuts.map(({ column, row }) => (
          <path
            key={`${column} ${row}`}
            d={`M${at(column, row)[0] - 3.5} ${at(column, row)[1] - 3.5}l7 7m0 -7l-7 7`}
            className={styles.stripCut}
          />
        ))}
      </svg>
    </div>
  );
}

const BODY = 24;

function StripPart({ part: { reference, kind, pins, body } }: { part: StripPlaced }) {
  const places = pins.map((p) => at(p.column, p.row));
  const [x0, x1] = [Math.min(...places.map(([x]) => x)), Math.max(...places.map(([x]) => x))];
  const [y0, y1] = [Math.min(...places.map(([, y]) => y)), Math.max(...places.map(([, y]) => y))];
  const leads = places.map(([x, y], i) => (
    <circle key={pins[i].name} cx={x} cy={y} r={2.4} className={styles.stripLead} />
  ));
  if (kind === 'package') {
    const [[left, top], [right, bottom]] = [at(body.column1, body.row1), at(body.column2, body.row2)];
    return (
      <g>
        <rect
          x={left - 3}
          y={top - 5}
          width={right - left + 6}
          height={bottom - top + 10}
          className={styles.stripBody}
        />
        <circle cx={left + 3} cy={top} r={1.6} className={styles.stripFirst} />
        <text x={(left + right) / 2} y={top - 8} textAnchor="middle" className={styles.stripName}>
          {reference}
        </text>
        {leads}
      </g>
    );
  }
  const middle = (y0 + y1) / 2;
  const half = Math.max(3.5, Math.min(BODY, y1 - y0 - 8) / 2);
  const labelled = kind === 'device' || pins.length > 2;
  return (
    <g>
      <path d={`M${places.map((p) => p.join(' ')).join('L')}`} className={styles.stripWire} />
      <rect
        x={x0 - 4}
        y={middle - half}
        width={x1 - x0 + 8}
        height={2 * half}
        className={`${styles.stripBody} ${kind}`}
      />
      {leads}
      {labelled &&
        places.map(([x, y], i) => (
          <text key={pins[i].name} x={x - 4} y={y - 3.4} textAnchor="end" className={styles.stripPin}>
            {SHORT[pins[i].name] ?? pins[i].name}
          </text>
        ))}
      <text x={x1 + 5.5} y={middle + 2.6} className={styles.stripName}>
        {reference}
      </text>
    </g>
  );
}
