'use client';

import { useEffect, type KeyboardEvent } from 'react';
import { Guide } from '@/features/guide/guide';
import { ACOUSTICS, DESK } from '@/store/questions/live';
import { useAnswer } from '@/store/questions/question';
import { setView, TASKS, useView } from '@/store/view';
import { Guard } from '@/ui/guard';
import { whenIdle } from '@/ui/when-idle';
import { fetchPanes, TASK_PANES } from './task-panes';
import styles from './desk.module.css';

/** The right of the desk: one task at a time. */
export function Tasks() {
  const task = useView((s) => s.task);
  const heard = useAnswer(ACOUSTICS, (a) => a.checks);
  const own = useAnswer(DESK, (d) => d.checks);
  const trouble = [...(heard ?? []), ...(own ?? [])].filter((c) => c.level !== 'ok').length;
  const { Pane } = TASK_PANES[task];
  useEffect(() => whenIdle(fetchPanes), []);
  const onKey = (event: KeyboardEvent<HTMLButtonElement>, at: number) => {
    const move = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (move === 0) return;
    const next = TASKS[(at + move + TASKS.length) % TASKS.length];
    setView({ task: next });
    document.getElementById(`task-${next}`)?.focus();
  };
  return (
    <section className="tasks" id="tasks" aria-label="Tasks">
      <div role="tablist" aria-label="Task" className={`tabs ${styles.taskTabs}`}>
        {TASKS.map((name, i) => (
          <button
            key={name}
            id={`task-${name}`}
            type="button"
            role="tab"
            aria-selected={task === name}
            aria-controls="task-pane"
            tabIndex={task === name ? 0 : -1}
            onClick={() => setView({ task: name })}
            onKeyDown={(event) => onKey(event, i)}
          >
            {TASK_PANES[name].name}
            {name === 'values' && trouble > 0 && (
              <span className={styles.troubleCount} title={`${trouble} checks want a look`}>
                {trouble}
              </span>
            )}
          </button>
        ))}
      </div>
      <Guide />
      <div className={styles.taskPane} id="task-pane" role="tabpanel" aria-labelledby={`task-${task}`} tabIndex={0}>
        <Guard key={task} what={`The task ${TASK_PANES[task].name}`}>
          <Pane />
        </Guard>
      </div>
    </section>
  );
}
