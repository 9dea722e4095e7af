import { act, fireEvent, screen, within } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import { must } from '@/core/result';
import { JobRunner, type JobRequest } from '@/core/jobs/run-job';
import { deskOf } from '@/core/testing/desk-of';
import { addMeasurement } from '@/store/edits/record-edits';
import { edit } from '@/store/document';
import { designNow, showPane } from '@/testing/pane';
import { Measure } from './measure';

const mockRunner = new JobRunner();
jest.mock('@/workers/job-client', () => ({
  startJob: (request: JobRequest) => ({ answer: mockRunner.run(request as never), cancel: () => {} }),
}));

let mockFile: { name: string; text: string } | null = null;
jest.mock('@/ui/download', () => ({ pickTextFile: () => Promise.resolve(mockFile), download: () => {} }));

const [rumble] = demoDesigns();
const bare = { ...rumble, measurements: [] };
/** The prediction itself, so much louder: what a meter with another reference reads. */
const louder = (db: number) => {
  const { freqHz, asBuilt } = deskOf(rumble);
  return { freqHz: [...freqHz], levelDb: Array.from(asBuilt.levelDb, (v) => v + db), phaseDeg: null, aligned: true };
};
const read = async () => {
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'upload Read a file' })));
};

test('a file of columns becomes a measurement, with what was passed over said', async () => {
  showPane(bare, <Measure />);
  mockFile = { name: 'bench 3.txt', text: '* a remark\n100 -20\n200, -14\n400; -8\n' };
  await read();
  expect(designNow().measurements).toMatchObject([
    { name: 'bench 3', freqHz: [100, 200, 400], levelDb: [-20, -14, -8] },
  ]);
  expect(await screen.findByText(/3 points read; 1 lines of comment passed over/)).toBeInTheDocument();
});

test('what is no measurement is refused with its reason, and nothing is taken', async () => {
  showPane(bare, <Measure />);
  mockFile = { name: 'holiday.txt', text: 'dear aunt, the weather' };
  await read();
  expect(await screen.findByText('holiday.txt was not read')).toBeInTheDocument();
  expect(designNow().measurements).toEqual([]);
});

test('laid over the prediction by its level, it differs by nothing; named, and removed', async () => {
  showPane(bare, <Measure />);
  act(() => edit(addMeasurement({ name: 'sweep', at: '2030-01-01T10:00:00.000Z', ...louder(7) })));
  const panel = screen.getByTestId('measurement');
  expect(await within(panel).findByTestId('worst-difference', {}, { timeout: 4000 })).toHaveTextContent(
    /^[+−]?0\.00\sdB$/,
  );
  const name = within(panel).getByRole('textbox', { name: 'Name of the measurement' });
  act(() => void fireEvent.change(name, { target: { value: 'board 2' } }));
  expect(designNow().measurements[0].name).toBe('board 2');
  act(() => void fireEvent.click(within(panel).getByRole('button', { name: 'Remove board 2' })));
  expect(designNow().measurements).toEqual([]);
});

test('a sum that was measured tells where a driver sounds from; it is set so, and then fits', async () => {
  const cabinet = demoDesigns().find((d) => d.title.includes('Tone cabinet, two-way')) as Design;
  const backOf = (d: Design) => d.variants[0].ways[1].position?.backM ?? 0;
  const there: Design = structuredClone({ ...cabinet, measurements: [], log: [] });
  const [, tweeter] = there.variants[0].ways;
  tweeter.position = { acrossM: 0, upM: 0, ...tweeter.position, backM: backOf(cabinet) + 0.02 };
  const ask = { place: 'sum', setting: null, fromHz: 300, toHz: 15e3 };
  const heard = must(
    await mockRunner.run<'predicted'>({ kind: 'predicted', design: there, variantId: there.variants[0].id, ...ask }),
  );
  showPane({ ...cabinet, currentVariant: cabinet.variants[0].id, measurements: [], log: [] }, <Measure />);
  const curve = { freqHz: [...heard.freqHz], levelDb: [...heard.levelDb], phaseDeg: null, aligned: true };
  act(() => edit(addMeasurement({ name: 'sum', at: '2030-01-01T10:00:00.000Z', place: 'sum', ...curve })));
  const distances = await screen.findByTestId('distances', {}, { timeout: 8000 });
  expect(distances).toHaveTextContent(/Tweeter sounds from 20\smm further back than it is set/);
  act(() => void fireEvent.click(within(distances).getByRole('button', { name: 'Set it so' })));
  expect(backOf(designNow())).toBeCloseTo(backOf(cabinet) + 0.02, 3);
  expect(await screen.findByText(/sound from where they are set/, {}, { timeout: 8000 })).toBeInTheDocument();
}, 30_000);
