import type { FailureWords } from './failure-words';

const GONE = 'What this was asked of is no longer there; the figures follow in a moment.';
const OTHERWISE = 'This is asked in a way that cannot be answered; choose another value.';

/** Why what was asked of the core got no answer. */
export const REQUEST_FAILURES: FailureWords = {
  cancelled: () => 'Stopped before it was done; nothing was changed.',
  'job-failed': (data) =>
    `Working this out went wrong (${data.kind}: ${data.reason}). The design is as it was; undo the last ` +
    `change, or go on: everything else works.`,
  'worker-lost': (data) =>
    `The browser ended the work on this twice (${data.kind}); it may want more memory than there is. The ` +
    `design is as it was. Ask for less, or close other tabs.`,
  'too-large': (data) =>
    `${data.unknowns} unknowns are too many for this; the most is ${data.most}. Take less of the circuit.`,
  'quantity-unreadable': (data) =>
    `“${data.text}” does not read as a value: “${data.rest}” is left over. The old one stays.`,
  'quantity-empty': () => 'A value is wanted here; the old one stays.',
  'no-such-variant': () => GONE,
  'no-such-part': () => GONE,
  'no-such-stage': () => GONE,
  'no-such-control': () => GONE,
  'no-such-topology': () => GONE,
  'no-such-form': () => GONE,
  'no-such-parameter': () => GONE,
  'no-such-node': () => GONE,
  'no-such-source': () => GONE,
  'other-circuit': () => GONE,
  'bad-option': () => OTHERWISE,
  'bad-grid': () => OTHERWISE,
  'bad-request': (data) =>
    `This cannot be worked out as it was asked (${data.kind}, ${data.at}: ${data.reason}). The figures ` +
    `on show are older.`,
};
