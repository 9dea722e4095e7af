import { deserialize, serialize } from 'node:v8';
import { BroadcastChannel } from 'node:worker_threads';
import '@testing-library/jest-dom';

// jsdom has neither; antd asks for both.
Object.defineProperty(window, 'matchMedia', {
  writable: true,
  value: (query: string) => ({
    matches: false,
    media: query,
    addListener: () => {},
    removeListener: () => {},
    addEventListener: () => {},
    removeEventListener: () => {},
    dispatchEvent: () => false,
  }),
});
globalThis.ResizeObserver = class {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
};
Element.prototype.scrollIntoView = () => {};
// Components ask as they do on the desk; answers are placed by the tests that want some.
jest.mock('@/workers/job-client', () => ({
  startJob: () => ({ answer: new Promise(() => {}), cancel: () => {} }),
}));
// The browser's own, which jsdom has not; the tables in memory want it.
globalThis.structuredClone ??= ((value: unknown) => deserialize(serialize(value))) as typeof structuredClone;
/** What is told to other tabs goes nowhere, and keeps nothing open. */
globalThis.BroadcastChannel ??= class extends BroadcastChannel {
  constructor(name: string) {
    super(name);
    this.unref();
  }
} as never;
/** Nor this, by which select boxes wait for a moment. */
globalThis.MessageChannel ??= class {
  readonly port1: { onmessage: ((event: object) => void) | null } = { onmessage: null };
  readonly port2 = { postMessage: () => void setTimeout(() => this.port1.onmessage?.({})) };
} as never;
