import { deflateSync } from 'fflate';
import { demoDesigns } from '@/core/design/demo/demo';
import { LONGEST_LINK, readShared, shareLink } from './share-link';

/** A measurement that does not pack. */
const noisy = (points: number) => {
  const freqHz = Array.from({ length: points }, (_, i) => 10 + i + Math.sin(i) / 3);
  return {
    id: 'long',
    name: 'long',
    at: '2030-01-01T00:00:00.000Z',
    freqHz,
    levelDb: freqHz.map((f) => Math.sin(f * f)),
    phaseDeg: null,
    aligned: false,
  };
};
const fragmentOf = (url: string) => new URL(url).hash;

test.each(demoDesigns().map((design) => [design.title, design] as const))(
  '%s travels in a link, whole',
  (_, design) => {
    const { url, leftOut } = shareLink(design, 'http://here');
    expect(url.startsWith('http://here/shared#d=')).toBe(true);
    expect(url.slice('http://here/shared#d='.length)).toMatch(/^[A-Za-z0-9_-]+$/);
    expect(readShared(fragmentOf(url))).toEqual({
      ok: true,
      value: leftOut ? { ...design, measurements: [], log: [] } : design,
    });
  },
);

test('a long record stays behind, and that is said', () => {
  const [design] = demoDesigns();
  const link = shareLink({ ...design, measurements: [noisy(20_000)] }, 'http://here');
  expect(link).toMatchObject({ leftOut: true, tooLong: false });
  expect(link.url.length).toBeLessThanOrEqual(LONGEST_LINK);
  expect(readShared(fragmentOf(link.url))).toMatchObject({
    ok: true,
    value: { measurements: [], title: design.title },
  });
});

test('a link without a design, cut short, garbled or swollen is refused, each in one way', () => {
  const whole = fragmentOf(shareLink(demoDesigns()[0], 'http://here').url);
  expect(readShared('')).toMatchObject({ code: 'broken-link', data: { reason: 'nothing' } });
  expect(readShared('#elsewhere')).toMatchObject({ code: 'broken-link', data: { reason: 'nothing' } });
  for (const cut of [10, whole.length >> 1, whole.length - 5])
    expect(readShared(whole.slice(0, cut))).toMatchObject({ code: 'broken-link', data: { reason: 'cut' } });
  expect(readShared('#d=%%%')).toMatchObject({ code: 'broken-link' });
  // Sixty million noughts are sixty kilobytes of link: they are not unpacked.
  const swollen = deflateSync(new Uint8Array(60_000_000));
  const letters = Buffer.from(swollen).toString('base64url');
  expect(readShared(`#d=${letters}`)).toMatchObject({ code: 'broken-link', data: { reason: 'cut' } });
  const other = Buffer.from(deflateSync(new TextEncoder().encode('{"format":"other"}'))).toString('base64url');
  expect(readShared(`#d=${other}`)).toMatchObject({ code: 'not-a-design' });
});

describe('at the limits', () => {
  /** A design whose link has about so many letters: noise does not pack. */
  const withNoise = (letters: number) => {
    const [design] = demoDesigns();
    let state = 7;
    let note = '';
    while (note.length < letters) note += ((state = (state * 16807) % 2147483647) % 36).toString(36);
    return { ...design, brief: { ...design.brief, note }, log: [], measurements: [] };
  };

  test('a link of just so many letters stays whole; one letter more, and the record goes', () => {
    const origin = (length: number) => `http://${'a'.repeat(length)}`;
    const [design] = demoDesigns();
    const short = shareLink(design, origin(1)).url.length;
    expect(shareLink(design, origin(1 + LONGEST_LINK - short))).toMatchObject({ leftOut: false, tooLong: false });
    const longer = shareLink(design, origin(2 + LONGEST_LINK - short));
    expect(longer.leftOut).toBe(true);
    // The same of what is left: just so many letters are not too long, one more is.
    const bare = shareLink({ ...design, measurements: [], log: [] }, origin(1)).url.length;
    const room = 1 + LONGEST_LINK - bare;
    const heavy = { ...design, measurements: [noisy(2000)] };
    expect(shareLink(heavy, origin(room))).toMatchObject({ leftOut: true, tooLong: false });
    expect(shareLink(heavy, origin(room + 1))).toMatchObject({ leftOut: true, tooLong: true });
  });

  test('a design that is too long by itself is told to be, and still travels', () => {
    const large = withNoise(60_000);
    const { url, leftOut, tooLong } = shareLink(large, 'http://here');
    expect([leftOut, tooLong]).toEqual([true, true]);
    expect(url.length).toBeGreaterThan(LONGEST_LINK);
    const read = readShared(fragmentOf(url));
    // So long a note is no design's: what is refused is the note, by name, and not the link.
    expect(read).toMatchObject({ ok: false, code: 'broken-design' });
  });

  test('it is packed as small as can be', () => {
    const [design] = demoDesigns();
    const letters = fragmentOf(shareLink(design, 'http://here').url).length;
    const stored = deflateSync(new TextEncoder().encode(JSON.stringify(design)), { level: 1 });
    expect(letters).toBeLessThan((stored.length * 4) / 3);
  });

  test.each([4095, 4096, 4097, 8192])('what packs to about %d bytes is put together again whole', (bytes) => {
    const text = JSON.stringify({ format: 'other', pad: Buffer.from(withNoise(bytes).brief.note).toString('hex') });
    for (let cut = 0; cut < 40; cut++) {
      const packed = deflateSync(new TextEncoder().encode(text.slice(0, text.length - cut - 2) + '"}'));
      const letters = Buffer.from(packed).toString('base64url');
      expect(readShared(`#d=${letters}`)).toMatchObject({ ok: false, code: 'not-a-design' });
    }
  });
});
