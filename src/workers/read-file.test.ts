import { expose } from 'comlink';
import { writeWav } from '@/core/format/wav';
import { must } from '@/core/result';
import { readFile } from './read-file';
import { READERS, type ReaderName } from './readers';

/** Workers as far as a reading knows them, on a channel of their own; `silent`: they never come to an end. */
class FakeWorker extends EventTarget {
  static made: FakeWorker[] = [];
  static silent = false;
  ended = false;
  private readonly channel = new MessageChannel();
  constructor() {
    super();
    FakeWorker.made.push(this);
    const { port1, port2 } = this.channel;
    const read = (reader: ReaderName, bytes: Uint8Array, name: string, tell: (share: number) => void) =>
      FakeWorker.silent ? new Promise(() => {}) : READERS[reader](bytes, name, tell);
    expose({ read }, port2 as unknown as Parameters<typeof expose>[1]);
    port1.onmessage = ({ data }) => this.dispatchEvent(new MessageEvent('message', { data }));
  }
  postMessage(message: unknown, transfer: Transferable[]): void {
    this.channel.port1.postMessage(message, transfer);
  }
  terminate(): void {
    this.ended = true;
    this.channel.port1.close();
    this.channel.port2.close();
  }
}
Object.assign(globalThis, { Worker: FakeWorker });

const RATE = 48000;
const sound = (seconds: number) => ({
  name: 'board.wav',
  bytes: writeWav(
    Float32Array.from({ length: seconds * RATE }, (_, i) => Math.sin(i / 9)),
    RATE,
  ),
});
beforeEach(() => {
  FakeWorker.made = [];
  FakeWorker.silent = false;
});

test('a short file is read at once, without a worker', async () => {
  const wav = await readFile('wav', sound(1), () => {}).answer;
  expect([must(wav!).samples.length, FakeWorker.made.length]).toEqual([RATE, 0]);
});

test('a long one is read in a worker, which tells how far it is and ends with it', async () => {
  const shares: number[] = [];
  const wav = must((await readFile('wav', sound(60), (share) => shares.push(share)).answer)!);
  expect([wav.rateHz, wav.samples.length]).toEqual([RATE, 60 * RATE]);
  expect(wav.samples[1000]).toBeCloseTo(Math.sin(1000 / 9), 4);
  expect(shares.length).toBeGreaterThan(1);
  expect([...shares].sort((a, b) => a - b)).toEqual(shares);
  expect(FakeWorker.made.map((w) => w.ended)).toEqual([true]);
});

test('stopped, it says nothing more and its worker is gone', async () => {
  FakeWorker.silent = true;
  const reading = readFile('wav', sound(60), () => {});
  reading.stop();
  expect(await reading.answer).toBeNull();
  expect(FakeWorker.made.map((w) => w.ended)).toEqual([true]);
});

test('a worker that ends before it is done is said', async () => {
  FakeWorker.silent = true;
  const reading = readFile('wav', sound(60), () => {});
  FakeWorker.made[0].dispatchEvent(new Event('error'));
  expect(await reading.answer).toEqual({ ok: false, code: 'reading-lost', data: { file: 'board.wav' } });
  expect(FakeWorker.made[0].ended).toBe(true);
});
