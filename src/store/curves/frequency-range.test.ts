import { AUDIO_BAND } from '@/core/math/grid';
import { demoDesigns } from '@/core/design/demo/demo';
import { openDesign } from '../document';
import { HIGHEST_HZ, LEAST_RATIO, LOWEST_HZ, panned, rangeNow, showRange, zoomed, zoomRange } from './frequency-range';
import { gridNow, gridShown } from '../questions/axis';
import { resetView, setView, viewStore } from '../view';

const octaves = ({ fromHz, toHz }: { fromHz: number; toHz: number }) => Math.log2(toHz / fromHz);
const [rumble, , band] = demoDesigns();

beforeEach(() => {
  resetView();
  openDesign(band);
});
afterEach(() => openDesign(null));

test('zooming halves the octaves shown and leaves the frequency under the pointer where it was', () => {
  const near = zoomed(AUDIO_BAND, 0.5, 1000);
  expect(octaves(near)).toBeCloseTo(octaves(AUDIO_BAND) / 2, 3);
  const share = ({ fromHz, toHz }: typeof AUDIO_BAND) => Math.log(1000 / fromHz) / Math.log(toHz / fromHz);
  expect(share(near)).toBeCloseTo(share(AUDIO_BAND), 4);
  expect(zoomed(near, 2, 1000).fromHz).toBeCloseTo(20, 1);
});

test('a range stays within what can be shown, and is no narrower than can be read', () => {
  let range = AUDIO_BAND;
  for (let i = 0; i < 60; i++) range = zoomed(range, 0.5, 440);
  expect(range.toHz / range.fromHz).toBeCloseTo(LEAST_RATIO, 3);
  expect(range.fromHz).toBeLessThan(440);
  expect(range.toHz).toBeGreaterThan(440);
  for (let i = 0; i < 60; i++) range = zoomed(range, 2, 440);
  expect(range).toEqual({ fromHz: LOWEST_HZ, toHz: HIGHEST_HZ });
  expect(panned(range, 0.5)).toEqual(range);
  let high = AUDIO_BAND;
  for (let i = 0; i < 60; i++) high = panned(high, 0.5);
  expect(high.toHz).toBeCloseTo(HIGHEST_HZ, -5);
  expect(octaves(high)).toBeCloseTo(octaves(AUDIO_BAND), 3);
});

test('the range is what the design calls for until one is set, and again when it is put back', () => {
  const own = rangeNow();
  expect(own).toEqual({ fromHz: 5, toHz: 50e3 });
  showRange({ fromHz: 100, toHz: 400 });
  expect(rangeNow()).toEqual({ fromHz: 100, toHz: 400 });
  expect(gridShown(band, viewStore.getState(), 51)).toEqual({ fromHz: 100, toHz: 400, points: 51 });
  expect(gridNow(band, { dragging: false, range: viewStore.getState().range })).toMatchObject({
    fromHz: 100,
    toHz: 400,
  });
  // While something is dragged the range holds still.
  expect(gridNow(band, { dragging: true, range: AUDIO_BAND })).toMatchObject({ fromHz: 100, toHz: 400 });
  showRange(null);
  expect(rangeNow()).toEqual(own);
  expect(gridNow(rumble, { dragging: false, range: null })).toMatchObject({ toHz: 20e3 });
});

test('it zooms about the cursor where that is in sight, else about the middle', () => {
  showRange({ fromHz: 100, toHz: 10e3 });
  setView({ cursor: 100 });
  zoomRange(0.5);
  expect(rangeNow()).toEqual({ fromHz: 100, toHz: 1000 });
  setView({ cursor: 20 });
  zoomRange(2);
  expect(rangeNow().fromHz).toBeCloseTo(31.623, 2);
  expect(rangeNow().toHz).toBeCloseTo(3162.3, 0);
});
