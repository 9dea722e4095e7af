import { success } from '../../result';
import { TOPOLOGIES } from '../../topology/index';
import { defineJob, requestOf } from '../define-job';

/** What circuits there are, for the shell. */
const topologiesRequest = requestOf('topologies', {});

interface TopologyEntry {
  readonly id: string;
  readonly name: string;
  readonly family: string;
  readonly responses: readonly string[];
  readonly orders: readonly number[];
  readonly modes?: readonly string[];
}

export const topologiesJob = defineJob(topologiesRequest, () =>
  success<TopologyEntry[]>(
    TOPOLOGIES.map((t) => ({
      id: t.id,
      name: t.name,
      family: t.family,
      ...(t.role === 'section'
        ? { responses: t.responses, orders: [t.order] }
        : { responses: [], orders: [], modes: t.modes }),
    })),
  ),
);
