import { OP_AMPS, opAmpSchema } from '../device/op-amps';
import { must } from '../result';
import { readOpAmpCsv, writeOpAmpCsv } from './op-amp-csv';

let made = 0;
const makeId = () => `o${made++}`;

test('the library itself passes what is asked of an op-amp', () => {
  for (const opAmp of OP_AMPS) expect(opAmpSchema.safeParse(opAmp).success).toBe(true);
});

test('written and read back, every figure is the same', () => {
  const back = must(readOpAmpCsv(writeOpAmpCsv(OP_AMPS), OP_AMPS[2], makeId));
  expect(back.map((o) => ({ ...o, id: '' }))).toEqual(OP_AMPS.map((o) => ({ ...o, id: '' })));
});

test('what a table does not say is taken from a typical part', () => {
  const [one] = must(readOpAmpCsv('Gain Bandwidth Hz,name\n8e6,Bench amp', OP_AMPS[0], makeId));
  expect(one).toMatchObject({
    name: 'Bench amp',
    gainBandwidthHz: 8e6,
    slewVoltsPerSec: OP_AMPS[0].slewVoltsPerSec,
    unityGainStable: true,
  });
});

test('a missing column and figures that cannot be meant are named', () => {
  expect(readOpAmpCsv('name\nx', OP_AMPS[0], makeId)).toMatchObject({
    ok: false,
    code: 'op-amp-columns',
    data: { missing: ['gain_bandwidth_hz'] },
  });
  const bad = readOpAmpCsv(
    'name,gain_bandwidth_hz,units_per_package\nfine,1e6,1 2\nslow,12,2\nodd,1e6,seven',
    OP_AMPS[0],
    makeId,
  );
  expect(bad).toMatchObject({ ok: false, code: 'op-amp-lines' });
  if (!bad.ok)
    expect(bad.data.faults).toEqual([
      expect.stringMatching(/^line 3, gain_bandwidth_hz/),
      expect.stringMatching(/^line 4, units_per_package/),
    ]);
});
