import CRC32 from 'crc-32';
import { Inflate, strFromU8 } from 'fflate';
import { failure, success, type Failure, type Result } from '../result';

/** What a zip may hold, so that a small file cannot fill the memory: bytes of an entry and of all, and entries. */
export interface ZipLimits {
  readonly entryBytes: number;
  readonly allBytes: number;
  readonly entries: number;
}

export interface ZipEntry {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** An entry that is there and cannot be read: cut short, changed on its way, or too large. */
export interface BrokenEntry {
  readonly name: string;
  readonly why: 'checksum' | 'damaged' | 'too-large' | 'not-supported' | 'twice';
}

export interface ZipContent {
  readonly entries: readonly ZipEntry[];
  readonly broken: readonly BrokenEntry[];
}

/** Where an entry lies, by its own header or by the directory. */
interface Listed {
  readonly name: string;
  /** Bytes of it. */
  readonly nameLength: number;
  readonly method: number;
  readonly crc: number;
  readonly packed: number;
  readonly size: number;
  /** Of its own header, from the file's beginning. */
  readonly at: number;
}

const LOCAL = 0x04034b50;
const DIRECTORY = 0x02014b50;
const END = 0x06054b50;
const LOCAL_LENGTH = 30;
const DIRECTORY_LENGTH = 46;
const END_LENGTH = 22;
const [STORED, DEFLATED] = [0, 8];
/** Sizes follow the data and are not in the entry's own header. */
const SIZES_AFTER = 8;
const ENCRYPTED = 1;
/** Bytes that are unpacked at a time: between them it is looked at how many came out. */
const STRIDE = 1 << 14;

/**
 * Reads a zip entry by entry, each held against its own checksum (PKWARE, APPNOTE 6.3.10, 4.3 and 4.4). What the
 * directory does not tell any more is found by its own header; what does not read is named, and all else is taken.
 * Fails with `not-a-zip` where there is no entry at all, or `zip-too-large` (`most`) for more than there may be.
 * @param tell the share that is read, entry by entry.
 */
export function readZip(
  bytes: Uint8Array,
  limits: ZipLimits,
  tell: (share: number) => void = () => {},
): Result<ZipContent, 'not-a-zip' | 'zip-too-large'> {
  const places = placesIn(bytes);
  if (places.length === 0) return endOf(bytes) < 0 ? failure('not-a-zip') : success({ entries: [], broken: [] });
  if (places.length > limits.entries) return failure('zip-too-large', { most: limits.entries });
  const entries = new Map<string, Uint8Array>();
  const broken: BrokenEntry[] = [];
  let room = limits.allBytes;
  for (const told of places) {
    const { name, at } = told[0];
    tell(at / bytes.length);
    if (told.every((entry) => entry.name.endsWith('/'))) continue;
    const most = Math.min(limits.entryBytes, room);
    const tries = told.map((entry) => ({ name: entry.name, read: unpacked(bytes, entry, most) }));
    const good = tries.flatMap(({ read, ...of }) => (typeof read === 'string' ? [] : [{ ...of, bytes: read }]))[0];
    if (!good) {
      const [{ read }] = tries;
      broken.push({ name, why: typeof read === 'string' ? read : 'damaged' });
      continue;
    }
    if (entries.has(good.name)) {
      broken.push({ name: good.name, why: 'twice' });
      continue;
    }
    room -= good.bytes.length;
    entries.set(good.name, good.bytes);
  }
  return success({
    entries: [...entries].map(([name, read]) => ({ name, bytes: read })),
    // What one of the two tells wrongly of an entry that the other leads to is no loss.
    broken: broken.filter(({ name, why }) => why === 'twice' || !entries.has(name)),
  });
}

/** What is told of every place where an entry begins, by its own header and by the directory; as they lie. */
function placesIn(bytes: Uint8Array): Listed[][] {
  const places = new Map<number, Listed[]>();
  const tell = (entry: Listed) => places.set(entry.at, [...(places.get(entry.at) ?? []), entry]);
  ownHeaders(bytes).forEach(tell);
  directoryOf(bytes).forEach(tell);
  return [...places].sort(([a], [b]) => a - b).map(([, told]) => told);
}

/** Whether an entry's header leads to another header, or to the end, and is of a method that is known. */
function reads(bytes: Uint8Array, { at, packed, method }: Listed): boolean {
  const view = viewOf(bytes);
  const from = dataFrom(view, at);
  if (from === null || (method !== STORED && method !== DEFLATED)) return false;
  const next = from + packed;
  return next + 4 <= bytes.length && [LOCAL, DIRECTORY, END].includes(view.getUint32(next, true));
}

const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** Where an entry's data begins, its name so long; null where its header does not fit. */
function dataFrom(view: DataView, at: number, nameLength?: number): number | null {
  if (at < 0 || at + LOCAL_LENGTH > view.byteLength) return null;
  const from = at + LOCAL_LENGTH + (nameLength ?? view.getUint16(at + 26, true)) + view.getUint16(at + 28, true);
  return from <= view.byteLength ? from : null;
}

/** Headers that stand before entries, wherever one is found. */
function ownHeaders(bytes: Uint8Array): Listed[] {
  const view = viewOf(bytes);
  const found: Listed[] = [];
  for (let at = 0; at + LOCAL_LENGTH <= bytes.length;) {
    if (bytes[at] !== 0x50 || view.getUint32(at, true) !== LOCAL) {
      at++;
      continue;
    }
    const length = view.getUint16(at + 26, true);
    const from = dataFrom(view, at);
    const sizesAfter = (view.getUint16(at + 6, true) & SIZES_AFTER) !== 0;
    const entry: Listed = {
      name: nameIn(bytes, at + LOCAL_LENGTH, length),
      nameLength: length,
      method: methodIn(view, at + 6),
      crc: view.getInt32(at + 14, true),
      packed: sizesAfter ? 0 : view.getUint32(at + 18, true),
      size: view.getUint32(at + 22, true),
      at,
    };
    found.push(entry);
    // Past its data where that ends at a header: what lies within is no header, though it may look like one.
    at = from !== null && !sizesAfter && reads(bytes, entry) ? from + entry.packed : at + 4;
  }
  return found;
}

/** @param at where the flags stand, the method after them; of what is encrypted no method is known. */
const methodIn = (view: DataView, at: number): number =>
  (view.getUint16(at, true) & ENCRYPTED) !== 0 ? -1 : view.getUint16(at + 2, true);

const nameIn = (bytes: Uint8Array, at: number, length: number): string =>
  strFromU8(bytes.subarray(at, Math.min(bytes.length, at + length)));

function endOf(bytes: Uint8Array): number {
  const view = viewOf(bytes);
  for (let at = bytes.length - END_LENGTH; at >= Math.max(0, bytes.length - END_LENGTH - 0xffff); at--)
    if (view.getUint32(at, true) === END) return at;
  return -1;
}

function directoryOf(bytes: Uint8Array): Listed[] {
  const end = endOf(bytes);
  if (end < 0) return [];
  const view = viewOf(bytes);
  const found: Listed[] = [];
  let at = view.getUint32(end + 16, true);
  while (at + DIRECTORY_LENGTH <= end && view.getUint32(at, true) === DIRECTORY) {
    const length = view.getUint16(at + 28, true);
    found.push({
      name: nameIn(bytes, at + DIRECTORY_LENGTH, length),
      nameLength: length,
      method: methodIn(view, at + 8),
      crc: view.getInt32(at + 16, true),
      packed: view.getUint32(at + 20, true),
      size: view.getUint32(at + 24, true),
      at: view.getUint32(at + 42, true),
    });
    at += DIRECTORY_LENGTH + length + view.getUint16(at + 30, true) + view.getUint16(at + 32, true);
  }
  return found;
}

/** An entry's bytes, or why there are none. @param most bytes that may come out, whatever the header says. */
function unpacked(
  bytes: Uint8Array,
  { at, nameLength, method, packed, size, crc }: Listed,
  most: number,
): Uint8Array | BrokenEntry['why'] {
  const from = dataFrom(viewOf(bytes), at, nameLength);
  if (method !== STORED && method !== DEFLATED) return 'not-supported';
  if (from === null || from + packed > bytes.length) return 'damaged';
  if (size > most) return 'too-large';
  const data = bytes.subarray(from, from + packed);
  const out = method === STORED ? data : inflated(data, most);
  if (typeof out === 'string') return out;
  if (out.length > most) return 'too-large';
  return CRC32.buf(out) === crc ? out : 'checksum';
}

function inflated(data: Uint8Array, most: number): Uint8Array | 'damaged' | 'too-large' {
  const pieces: Uint8Array[] = [];
  let length = 0;
  const inflate = new Inflate((piece) => {
    pieces.push(piece);
    length += piece.length;
  });
  try {
    for (let k = 0; k < data.length || k === 0; k += STRIDE) {
      inflate.push(data.subarray(k, k + STRIDE), k + STRIDE >= data.length);
      if (length > most) return 'too-large';
    }
  } catch {
    return 'damaged';
  }
  const out = new Uint8Array(length);
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}

/** Why an entry was not read, as a failure with its name. */
export const brokenEntry = ({ name, why }: BrokenEntry): Failure<'broken-entry'> =>
  failure('broken-entry', { file: name, why });
