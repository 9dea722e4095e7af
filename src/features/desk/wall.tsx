'use client';

import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { useView } from '@/store/view';
import { LEAST_PX, moveWall, wallStore, widestPx } from '@/store/wall';

const STEP_PX = 24;
/** Half of the wall's own width, px. */
const HALF_PX = 6;

/** The wall between curves and task: dragged, moved by arrow keys, put back by a double click or Home. */
export function Wall() {
  const wall = useRef<HTMLDivElement>(null);
  const task = useView((s) => s.task);
  const taskPx = wallStore((s) => s.taskPx[task]);
  const [{ widthPx, mostPx }, setRoom] = useState({ widthPx: LEAST_PX, mostPx: LEAST_PX });
  useEffect(() => {
    const task = wall.current?.nextElementSibling;
    if (!task) return;
    const seen = new ResizeObserver(() =>
      setRoom({ widthPx: Math.round(task.getBoundingClientRect().width), mostPx: widestPx() }),
    );
    seen.observe(task);
    return () => seen.disconnect();
  }, []);
  const edge = () => wall.current?.nextElementSibling?.getBoundingClientRect().right ?? window.innerWidth;
  const drag = (event: PointerEvent) => {
    if (event.currentTarget.hasPointerCapture(event.pointerId)) moveWall(edge() - event.clientX - HALF_PX);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 4 * STEP_PX : STEP_PX;
    const act: Record<string, (() => void) | undefined> = {
      ArrowLeft: () => moveWall(widthPx + step),
      ArrowRight: () => moveWall(widthPx - step),
      Home: () => moveWall(null),
    };
    if (!act[event.key]) return;
    event.preventDefault();
    act[event.key]?.();
  };
  return (
    <div
      ref={wall}
      className="wall"
      role="separator"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label="Wall between curves and task"
      aria-valuemin={LEAST_PX}
      aria-valuemax={mostPx}
      aria-valuenow={widthPx}
      aria-valuetext={`task ${widthPx} pixels wide${taskPx === undefined ? ', its natural share' : ''}`}
      title="Drag; double click for the natural share; F gives the task the whole desk"
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={drag}
      onDoubleClick={() => moveWall(null)}
      onKeyDown={onKeyDown}
    />
  );
}
