import { deflateSync } from 'fflate';
import { demoDesigns } from '@/core/design/demo';
import { LONGEST_LINK, readShared, shareLink } from './share-link';

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
  const freqHz = Array.from({ length: 20_000 }, (_, i) => 10 + i + Math.sin(i) / 3);
  const measured = {
    id: 'long',
    name: 'long',
    at: '2030-01-01T00:00:00.000Z',
    freqHz,
    levelDb: freqHz.map((f) => Math.sin(f * f)),
    phaseDeg: null,
    aligned: false,
  };
  const link = shareLink({ ...design, measurements: [measured] }, 'http://here');
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
