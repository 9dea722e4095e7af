import { deflateSync, Inflate, strFromU8, strToU8 } from 'fflate';
import { readDesignText, type ReadFailure } from '@/core/design/document/migrate';
import { withoutRecord } from '@/core/design/document/without-record';
import type { Design } from '@/core/design/document/schema';
import { failure, type Result } from '@/core/result';

/** Letters that a link may have: longer ones are cut by programs that pass them on. */
export const LONGEST_LINK = 30_000;
/** What a link may unpack to, bytes: a design is a hundredth of it. */
const MOST_BYTES = 4_000_000;
/** What stands before the design in the fragment; a later form of it gets another letter. */
const MARK = 'd=';

/** Letters that stay as they are in an address (RFC 4648, 5: base64url, without padding). */
const toLetters = (bytes: Uint8Array): string => {
  let binary = '';
  for (const byte of bytes) binary += String.fromCharCode(byte);
  return btoa(binary).replaceAll('+', '-').replaceAll('/', '_').replace(/=+$/, '');
};
const fromLetters = (letters: string): Uint8Array =>
  Uint8Array.from(atob(letters.replaceAll('-', '+').replaceAll('_', '/')), (c) => c.charCodeAt(0));

export interface ShareLink {
  readonly url: string;
  /** Measurements and log stay behind where the link would be too long with them. */
  readonly leftOut: boolean;
  /** It is longer than some programs pass on, even so. */
  readonly tooLong: boolean;
}

/** A link that carries a whole design in its fragment, which no browser sends to a server. */
export function shareLink(design: Design, origin: string): ShareLink {
  const link = (whole: Design) =>
    `${origin}/shared#${MARK}${toLetters(deflateSync(strToU8(JSON.stringify(whole)), { level: 9 }))}`;
  const full = link(design);
  if (full.length <= LONGEST_LINK) return { url: full, leftOut: false, tooLong: false };
  const bare = link(withoutRecord(design));
  return { url: bare, leftOut: true, tooLong: bare.length > LONGEST_LINK };
}

/** The design in a link's fragment. Fails as reading does, or with `broken-link`. */
export function readShared(fragment: string): Result<Design, ReadFailure | 'broken-link'> {
  const letters = fragment.replace(/^#/, '');
  if (!letters.startsWith(MARK)) return failure('broken-link', { reason: 'nothing' });
  try {
    return readDesignText(strFromU8(inflated(fromLetters(letters.slice(MARK.length)))));
  } catch {
    return failure('broken-link', { reason: 'cut' });
  }
}

/** Unpacked piece by piece, so that what would fill the memory is turned down early. */
function inflated(bytes: Uint8Array): Uint8Array {
  const pieces: Uint8Array[] = [];
  let [size, ended] = [0, false];
  const stream = new Inflate((piece, last) => {
    size += piece.length;
    if (size > MOST_BYTES) throw new Error('too large');
    pieces.push(piece);
    ended = last;
  });
  const STEP = 4096;
  for (let at = 0; at < bytes.length; at += STEP) stream.push(bytes.subarray(at, at + STEP), at + STEP >= bytes.length);
  if (!ended) throw new Error('cut short');
  const whole = new Uint8Array(size);
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}
