import { OVER_NOISE_DB, strongestHarmonic, WITHIN_DB } from './harmonics';

const measured = {
  freqHz: [100, 200, 400],
  levelDb: [0, -10, -WITHIN_DB],
  noiseDb: [-100, -100, -100],
};

test('the strongest counts against its own tone, whichever harmonic it is', () => {
  // 60 dB down of a tone at 0 dB, 55 dB down of one at −10 dB.
  const harmonicsDb = [
    [-60, null, null],
    [null, -65, null],
  ];
  expect(strongestHarmonic({ ...measured, harmonicsDb })).toEqual({ order: 3, freqHz: 200, db: -55 });
});

test.each([
  [0.01, { order: 2, freqHz: 100, db: -100 + OVER_NOISE_DB + 0.01 }],
  [-0.01, null],
])('it stands out of the noise from %d dB about the threshold on', (beyond, found) => {
  const harmonicsDb = [[-100 + OVER_NOISE_DB + beyond, null, null]];
  expect(strongestHarmonic({ ...measured, harmonicsDb })).toEqual(found);
});

test.each([
  [0, 400],
  [-0.01, null],
])('tones are looked at down to so far under the loudest: %d dB', (beyond, freqHz) => {
  const levelDb = [0, -10, -WITHIN_DB + beyond];
  const found = strongestHarmonic({ ...measured, levelDb, harmonicsDb: [[null, null, -50]] });
  expect(found?.freqHz ?? null).toBe(freqHz);
});

test('without noise or harmonics there is nothing to stand out of, or to', () => {
  expect(strongestHarmonic(measured)).toBeNull();
  const { noiseDb: _, ...silent } = measured;
  expect(strongestHarmonic({ ...silent, harmonicsDb: [[-200, null, null]] })).toMatchObject({ order: 2 });
});

test('what stands at the noise of its own frequency is hum, whatever is quiet at the tone’s', () => {
  const noiseDb = [-100, -60, -100];
  const harmonicsDb = [[-65, null, null]];
  expect(strongestHarmonic({ ...measured, noiseDb, harmonicsDb })).toBeNull();
  expect(strongestHarmonic({ ...measured, noiseDb: [-100, -80, -100], harmonicsDb })).toMatchObject({ freqHz: 100 });
});
