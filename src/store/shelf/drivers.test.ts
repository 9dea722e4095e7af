import 'fake-indexeddb/auto';
import { demoDrivers } from '@/core/loudspeaker/demo-drivers';
import { database } from './database';
import { changeDriver, putDriver, removeDriver } from './drivers';

const [woofer] = demoDrivers();

test('a name that is typed while a file is read is kept: each change is of what it changes', async () => {
  await putDriver({ ...woofer, id: 'own' });
  const curve = { freqHz: [100, 1000], values: [80, 90], phaseDeg: null };
  await Promise.all([
    changeDriver('own', { response: { kind: 'curve', curve } }),
    changeDriver('own', { name: 'Alder, mine' }),
  ]);
  expect(await database.drivers.get('own')).toEqual({
    ...woofer,
    id: 'own',
    name: 'Alder, mine',
    response: { kind: 'curve', curve },
  });
});

test('a driver that was removed meanwhile does not come back by a late change', async () => {
  await removeDriver('own');
  await changeDriver('own', { name: 'late' });
  expect(await database.drivers.get('own')).toBeUndefined();
});
