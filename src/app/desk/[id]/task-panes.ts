import dynamic from 'next/dynamic';
import type { ComponentType } from 'react';
import type { Task } from '@/store/view';

interface TaskPane {
  readonly name: string;
  /** Fetches what the task needs, which comes when it is first turned to. */
  readonly fetch: () => Promise<{ readonly default: ComponentType }>;
}

const named = <N extends string>(name: N, module: Promise<Record<N, ComponentType>>) =>
  module.then((m) => ({ default: m[name] }));

const FETCHED: Readonly<Record<Task, TaskPane>> = {
  brief: { name: 'Brief', fetch: () => import('./panes/brief-pane') },
  circuit: { name: 'Circuit', fetch: () => import('./panes/circuit-pane') },
  values: { name: 'Values', fetch: () => import('./panes/values-pane') },
  spread: { name: 'Spread', fetch: () => named('Spread', import('@/features/spread/spread')) },
  build: { name: 'Build', fetch: () => import('./panes/build-pane') },
  measure: { name: 'Measure', fetch: () => named('Measure', import('@/features/measure/measure')) },
  listen: { name: 'Listen', fetch: () => named('Listen', import('@/features/listen/listen')) },
  log: { name: 'Log', fetch: () => named('Log', import('@/features/log/log')) },
};

/** The tasks, each with its name and its pane. */
export const TASK_PANES = Object.fromEntries(
  Object.entries(FETCHED).map(([task, { name, fetch }]) => [task, { name, Pane: dynamic(fetch, { ssr: false }) }]),
) as Record<Task, { readonly name: string; readonly Pane: ComponentType }>;

/** Fetches the panes of all tasks. */
export const fetchPanes = (): Promise<unknown> => Promise.all(Object.values(FETCHED).map(({ fetch }) => fetch()));
