'use client';

import { CompressOutlined, MinusOutlined, PlusOutlined, PrinterOutlined } from '@ant-design/icons';
import { useCallback, useMemo, useRef, useState, type KeyboardEvent, type RefObject } from 'react';
import { TransformComponent, TransformWrapper, type ReactZoomPanPinchRef } from 'react-zoom-pan-pinch';
import type { VariantSheet } from '@/core/format/variant-sheet';
import { TEXT } from '@/core/topology/kit/drawing';
import { documentStore, edit } from '@/store/document';
import { currentWayOf, selectWay } from '@/store/edits/edits';
import { printSheet } from '@/store/exports/exports';
import { SHEET } from '@/store/questions/live';
import { LateNote } from '@/ui/late-note';
import { useAnswer, useIsLate } from '@/store/questions/question';
import { setView, useView } from '@/store/view';
import { useSize } from '@/ui/use-size';
import { PartEditor } from './part-editor';
import { SheetDrawing } from './sheet-drawing';
import { partSelector, shapesOfSheet, stepTo, type SheetPart, type Step } from './sheet-parts';
import styles from './sheet.module.css';

/** px: lettering is not made smaller than this to fit, but panned. */
const LEAST_LETTER_PX = 11;
const MARGIN_PX = 8;
const ZOOM = 0.4;
const WHOLE = { width: '100%', height: '100%' };

/** The whole variant as one drawing: zoomed and panned, walked by arrow keys, its values changed where they stand. */
export function SheetView() {
  const sheet = useAnswer(SHEET);
  const late = useIsLate(SHEET);
  const [ref, { width, height }] = useSize<HTMLDivElement>();
  return (
    <div className={`${styles.view} ${late ? styles.late : ''}`} ref={ref} data-testid="sheet-view">
      {late && <LateNote />}
      {sheet && width > 0 && <Sheet sheet={sheet} width={width} height={height} />}
    </div>
  );
}

function Sheet({ sheet, width, height }: { sheet: VariantSheet; width: number; height: number }) {
  const stages = useMemo(() => shapesOfSheet(sheet), [sheet]);
  const parts = useMemo(() => stages.flatMap((s) => s.parts), [stages]);
  const inHand = useView((s) => `${s.selectedStage} ${s.selectedPart}`);
  const [at, setAt] = useState<string | null>(null);
  const [editing, setEditing] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  const pan = useRef<ReactZoomPanPinchRef>(null);
  const here = parts.find((p) => p.id === at) ?? parts.find((p) => p.id === inHand) ?? parts[0];
  const fit = Math.min((width - 2 * MARGIN_PX) / sheet.width, (height - 2 * MARGIN_PX) / sheet.height);
  const unitPx = Math.max(fit, LEAST_LETTER_PX / TEXT);

  const elementOf = (part: SheetPart) => box.current?.querySelector<SVGGElement>(partSelector(part));
  // One function as long as the sheet stands, so that what it is given to is not drawn anew.
  const take = useCallback((part: SheetPart) => {
    setAt(part.id);
    const { design } = documentStore.getState();
    if (design && part.wayId !== currentWayOf(design).id) edit(selectWay(part.wayId));
    setView({ selectedStage: part.stageId, selectedPart: part.name });
    setEditing(true);
  }, []);
  const close = () => {
    setEditing(false);
    if (here) elementOf(here)?.focus();
  };
  const walk = (part: SheetPart) => {
    setAt(part.id);
    setEditing(false);
    const drawn = elementOf(part);
    drawn?.focus({ preventScroll: true });
    if (drawn && box.current && !isWithin(drawn, box.current))
      pan.current?.zoomToElement(drawn as unknown as HTMLElement, pan.current.state.scale, 0);
  };
  const fitAll = () => pan.current?.setTransform(0, 0, fit / unitPx, 0);
  const onKeyDown = (event: KeyboardEvent) => {
    if (!here || editing) return;
    const acts: Record<string, (() => void) | undefined> = {
      Enter: () => take(here),
      ' ': () => take(here),
      '+': () => pan.current?.zoomIn(ZOOM, 0),
      '-': () => pan.current?.zoomOut(ZOOM, 0),
      '0': fitAll,
    };
    const act = event.key.startsWith('Arrow') ? () => walk(stepTo(parts, here, event.key as Step)) : acts[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
  return (
    <div ref={box} data-sheet data-view-in-front className={styles.box} onKeyDown={onKeyDown}>
      <TransformWrapper
        ref={pan}
        minScale={Math.min(1, fit / unitPx)}
        maxScale={6}
        limitToBounds={false}
        doubleClick={{ disabled: true }}
        wheel={{ step: 0.12 }}
        onTransform={() => setEditing(false)}
      >
        <SheetButtons pan={pan} onFit={fitAll} />
        <TransformComponent wrapperClass={styles.pan} wrapperStyle={WHOLE}>
          <SheetDrawing sheet={sheet} stages={stages} unitPx={unitPx} inHand={inHand} here={here?.id} onTake={take} />
        </TransformComponent>
      </TransformWrapper>
      {editing && here && <PartEditor part={here} onClose={close} />}
    </div>
  );
}

const isWithin = (inner: Element, outer: Element): boolean => {
  const [a, b] = [inner.getBoundingClientRect(), outer.getBoundingClientRect()];
  return a.left >= b.left && a.right <= b.right && a.top >= b.top && a.bottom <= b.bottom;
};

function SheetButtons({ pan, onFit }: { pan: RefObject<ReactZoomPanPinchRef | null>; onFit: () => void }) {
  const buttons = [
    { name: 'Zoom in', keys: '+', icon: <PlusOutlined />, run: () => pan.current?.zoomIn(ZOOM, 0) },
    { name: 'Zoom out', keys: '−', icon: <MinusOutlined />, run: () => pan.current?.zoomOut(ZOOM, 0) },
    { name: 'Show all of it', keys: '0', icon: <CompressOutlined />, run: onFit },
    { name: 'Print the drawing', keys: '', icon: <PrinterOutlined />, run: () => void printSheet() },
  ];
  return (
    <div className={styles.buttons} role="group" aria-label="Drawing">
      {buttons.map(({ name, keys, icon, run }) => (
        <button
          key={name}
          type="button"
          className="plain icon"
          aria-label={name}
          title={keys ? `${name} (${keys})` : name}
          onClick={run}
        >
          {icon}
        </button>
      ))}
    </div>
  );
}
