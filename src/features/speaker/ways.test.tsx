import 'fake-indexeddb/auto';
import { act, fireEvent, render, screen, waitFor, within } from '@testing-library/react';
import { App } from 'antd';
import { AcSolver } from '@/core/analysis/ac/solver';
import { newCrossover } from '@/core/catalogue/new-crossover';
import { countingIds } from '@/core/design/making/create';
import type { Design } from '@/core/design/document/schema';
import { runAcoustics } from '@/core/jobs/loudspeaker/acoustics';
import { JobRunner, type JobRequest } from '@/core/jobs/run-job';
import { demoDriverFiles } from '@/core/loudspeaker/demo-drivers';
import { must } from '@/core/result';
import { database } from '@/store/shelf/database';
import { documentStore, edit, openDesign, undo } from '@/store/document';
import { currentVariantOf, selectWay } from '@/store/edits/edits';
import { foldStore } from '@/store/folds';
import { ACOUSTICS } from '@/store/questions/live';
import { changeWay } from '@/store/edits/speaker-edits';
import { resetView, viewStore } from '@/store/view';
import { Crossings } from './crossings';
import { DriverDrop } from './driver-drop';
import { FoundPanel } from './found-panel';
import { Listening } from './listening';
import { Place } from './place';
import { WaysPanel } from './ways-panel';

jest.mock('@/workers/job-client', () => ({
  startJob: (request: JobRequest) => ({ answer: new JobRunner().run(request as never), cancel: () => {} }),
}));

/** Panels with many fields take their time on a busy machine. */
jest.setTimeout(60_000);

const now = (): Design => documentStore.getState().design!;
const variant = () => currentVariantOf(now());
const names = () => variant().ways.map((w) => w.name);
const settle = () =>
  act(() =>
    ACOUSTICS.place(
      must(
        runAcoustics(
          {
            kind: 'acoustics',
            design: now(),
            variantId: now().currentVariant,
            grid: { fromHz: 20, toHz: 20e3, points: 121 },
            ghostVariantId: null,
          },
          new AcSolver(),
        ),
      ),
    ),
  );
const press = (name: string | RegExp) => act(() => void fireEvent.click(screen.getByRole('button', { name })));
const choose = (name: string) => act(() => void fireEvent.click(screen.getByRole('radio', { name })));

beforeEach(() => {
  openDesign(newCrossover({ count: 2, subwoofer: false }, countingIds('w')));
  resetView();
  localStorage.clear();
  foldStore.setState({ open: {} });
  settle();
});

describe('Ways', () => {
  test('how many, with a subwoofer and without, each a step to undo', () => {
    render(<WaysPanel />);
    choose('3');
    expect(names()).toEqual(['Bass', 'Midrange', 'Tweeter']);
    act(() => void fireEvent.click(screen.getByRole('checkbox', { name: 'and a subwoofer' })));
    expect(names()).toEqual(['Subwoofer', 'Bass', 'Midrange', 'Tweeter']);
    // With a subwoofer there are four in all: four more have no place.
    expect(screen.getByRole('radio', { name: '4' })).toBeDisabled();
    act(() => undo());
    act(() => undo());
    expect(names()).toEqual(['Woofer', 'Tweeter']);
    choose('4');
    expect(screen.getByRole('checkbox', { name: 'and a subwoofer' })).toBeDisabled();
  });

  test('fed and wired together; in a row only while one amplifier feeds all', () => {
    render(<WaysPanel />);
    choose('series, 1st order');
    expect(variant().ways[1].from.kind).toBe('stage');
    choose('one each');
    expect(variant().ways.map((w) => w.from.kind)).toEqual(['source', 'source']);
    expect(screen.queryByRole('radio', { name: 'parallel' })).toBeNull();
    choose('one amplifier');
    expect(screen.getByRole('radio', { name: 'parallel' })).toBeChecked();
  });

  test('levelled with a button: what is louder is padded', () => {
    render(<WaysPanel />);
    press('Level them');
    const pads = variant().ways.map((w) => w.stages.filter((s) => s.topology === 'driver-pad').length);
    expect(pads).toEqual([0, 1]);
  });
});

describe('What is in the cabinet', () => {
  const parts = (way: string) => screen.getByRole('textbox', { name: `Parts found before ${way}` });
  const type = (way: string, text: string) => act(() => void fireEvent.change(parts(way), { target: { value: text } }));

  test('typed, drawn, refused by name where it does not read, and kept as the one to beat', () => {
    render(<FoundPanel />);
    press(/^What is in the cabinet/);
    const keep = () => screen.getByRole('button', { name: 'Keep it as the one to beat' });
    expect(keep()).toBeDisabled();
    type('Woofer', '1 mH, lamp');
    expect(screen.getByRole('alert')).toHaveTextContent('“lamp”');
    expect(keep()).toBeDisabled();
    type('Woofer', '1 mH, across 10 uF');
    expect(screen.queryByRole('alert')).toBeNull();
    expect(screen.getByRole('img', { name: 'What was found before Woofer' })).toBeVisible();
    press('Keep it as the one to beat');
    const [, found] = now().variants;
    expect(found).toMatchObject({ label: 'found' });
    expect(found.ways.map((w) => w.stages.length)).toEqual([1, 0]);
    expect(viewStore.getState().ghostVariant).toBe(found.id);
    expect(parts('Woofer')).toHaveValue('');
  });

  test('a typical form is begun from by its picture', () => {
    render(<FoundPanel />);
    press(/^What is in the cabinet/);
    act(() => void fireEvent.click(screen.getAllByRole('button', { name: 'typical forms' })[1]));
    const forms = screen.getByRole('list');
    expect(within(forms).getAllByRole('img').length).toBeGreaterThanOrEqual(8);
    act(() => void fireEvent.click(within(forms).getByRole('button', { name: /with a pad/ })));
    expect(parts('Tweeter')).toHaveValue('6.8 uF, across 0.33 mH, 2R7, across 8R2');
    expect(screen.queryByRole('list')).toBeNull();
  });
});

describe('where ways meet, and where one listens', () => {
  test('how they go along is said for each pair', () => {
    render(<Crossings />);
    const panel = screen.getByTestId('crossings');
    expect(within(panel).getAllByRole('row')).toHaveLength(2);
    expect(panel).toHaveTextContent(/They sound together from [\d.]+\s?k?Hz to [\d.]+\s?k?Hz, at most \d+° apart/);
    expect(panel).toHaveTextContent(/the sum is delayed by −?[\d.]+\s[µm]s/);
  });

  test('a tilt of nothing and no curve leave no target of one’s own behind', () => {
    render(<Listening />, { wrapper: App });
    const type = (text: string) =>
      act(() => {
        const field = screen.getByTestId('house-tilt');
        fireEvent.change(field, { target: { value: text } });
        fireEvent.blur(field);
      });
    type('-0.6');
    expect(variant().listening?.house).toEqual({ tiltDb: -0.6, curve: null });
    type('0');
    expect(variant().listening).not.toHaveProperty('house');
  });

  test('places are drawn, and while all are one it says what to do', () => {
    const [woofer] = variant().ways;
    const shown = render(<Place way={woofer} />);
    expect(shown.container).toHaveTextContent('All in one spot');
    const placed = { acrossM: 0, upM: -0.12, backM: 0.02 };
    act(() => edit(changeWay(woofer.id, { position: placed })));
    shown.rerender(<Place way={variant().ways[0]} />);
    expect(screen.getByRole('img')).toHaveAccessibleName(/Woofer 0 across, -12 up, 2 back; Tweeter 0 across, 0 up/);
    expect(shown.container).toHaveTextContent('From before, and from the side');
  });
});

test('files dropped on a way become its driver; what is none is refused by name', async () => {
  await database.drivers.clear();
  act(() => edit(selectWay(variant().ways[1].id)));
  const Drop = () => <DriverDrop way={variant().ways[1]} driver={undefined} />;
  render(<Drop />, { wrapper: App });
  const file = (name: string, text: string) => Object.assign(new File([text], name), { text: async () => text });
  const [response, impedance] = demoDriverFiles().filter((f) => f.name.startsWith('finch'));
  const drop = screen.getByTestId('driver-drop');
  const files = [file(response.name, response.text), file(impedance.name, impedance.text), file('odd.frd', '10 loud')];
  fireEvent.dragOver(drop, { dataTransfer: { types: ['Files'] } });
  fireEvent.drop(drop, { dataTransfer: { types: ['Files'], files } });
  await waitFor(() => expect(now().drivers!.map((d) => d.name)).toContain('finch 25'), { timeout: 10_000 });
  expect(await screen.findByText('odd.frd was not taken')).toBeVisible();
  expect(await database.drivers.count()).toBe(1);
});
