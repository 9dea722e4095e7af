import 'fake-indexeddb/auto';
import { newCrossover } from '@/core/catalogue/new-crossover';
import { countingIds } from '@/core/design/making/create';
import { designSchema, type Design } from '@/core/design/document/schema';
import { demoDriverFiles } from '@/core/loudspeaker/demo-drivers';
import { JobRunner, type JobRequest } from '@/core/jobs/run-job';
import { database } from './database';
import { documentStore, openDesign, undo } from '../document';
import { takeDriverFiles } from './driver-intake';
import { currentVariantOf } from '../edits/edits';

jest.mock('@/workers/job-client', () => ({
  startJob: (request: JobRequest) => ({ answer: new JobRunner().run(request as never), cancel: () => {} }),
}));

const now = (): Design => documentStore.getState().design as Design;
const way = (at: number) => currentVariantOf(now()).ways[at];
const driverOf = (at: number) => {
  const { load } = way(at);
  return now().drivers!.find((d) => load.kind === 'driver' && d.id === load.driver)!;
};
const fileOf = (name: string, text: string) => ({ name, size: text.length, text: async () => text });
const shipped = (id: string) =>
  demoDriverFiles()
    .filter((f) => f.name.startsWith(id))
    .map((f) => fileOf(f.name, f.text));

beforeEach(async () => {
  await database.drivers.clear();
  openDesign(newCrossover({ count: 2, subwoofer: false }, countingIds('i')));
});

test('response and impedance together make a driver of their name, in the way and among the maker’s own', async () => {
  const { driver, taken, refused } = await takeDriverFiles(way(1).id, shipped('rowan-110'));
  expect(refused).toEqual([]);
  expect(driver).toMatchObject({ name: 'rowan 110', kind: 'tweeter' });
  expect(driverOf(1)).toEqual(driver);
  expect(await database.drivers.toArray()).toEqual([driver]);
  // Impedance of 6.1 ohm of wire: its circuit says so, and the network is made for what is printed on it.
  expect(driver!.impedance.reOhm).toBeCloseTo(6.1, 1);
  expect(way(1).stages[0].target).toMatchObject({ kind: 'plan', ohm: driver!.nominalOhm });
  expect(taken.map((t) => [t.kind, t.points])).toEqual([
    ['response', 200],
    ['impedance', 200],
  ]);
  expect(designSchema.safeParse(now()).success).toBe(true);
  undo();
  expect(driverOf(1).name).toBe('Finch 25 tweeter');
});

test('what comes later changes the same driver, whose name stays as it was typed', async () => {
  const [first, second] = shipped('rowan-110');
  const { driver } = await takeDriverFiles(way(1).id, [first]);
  await database.drivers.update(driver!.id, { name: 'Under the shelf' });
  const later = await takeDriverFiles(way(1).id, [second, fileOf('x 30 deg.frd', '100 80\n1000 82\n')]);
  expect(later.driver).toMatchObject({ id: driver!.id, name: 'Under the shelf' });
  expect(later.driver!.angles!.map((a) => a.offDeg)).toEqual([30]);
  expect(later.driver!.measuredImpedance).not.toBeNull();
  expect(await database.drivers.count()).toBe(1);
});

test('what cannot be taken is said by file, and the rest goes on', async () => {
  const [response] = shipped('alder-165');
  const huge = { name: 'film.csv', size: 30e6, text: async () => '' };
  const flat = fileOf('flat.zma', '100 8\n200 8\n300 8\n');
  const { driver, refused } = await takeDriverFiles(way(0).id, [
    fileOf('odd.frd', '100 80\n200 oops'),
    huge,
    flat,
    response,
  ]);
  expect(driver?.response.kind).toBe('curve');
  expect(driver?.measuredImpedance).toBeNull();
  expect(refused.map((r) => [r.file, r.why.code])).toEqual([
    ['odd.frd', 'bad-line'],
    ['film.csv', 'file-too-large'],
    ['flat.zma', 'no-impedance'],
  ]);
  const before = now();
  expect(await takeDriverFiles(way(0).id, [flat])).toMatchObject({ driver: null, taken: [] });
  expect(now()).toBe(before);
});
