import { act, fireEvent, render, screen } from '@testing-library/react';
import { App } from 'antd';
import { create } from 'zustand';
import { JobRunner, type JobRequest } from '@/core/jobs/run-job';
import type { Driver } from '@/core/loudspeaker/driver';
import { modelFromParameters } from '@/core/loudspeaker/voice-coil';
import { foldStore } from '@/store/folds';
import { typed } from '@/testing/pane';
import { MeasureDriver } from './measure-driver';

const mockRunner = new JobRunner();
jest.mock('@/workers/job-client', () => ({
  startJob: (request: JobRequest) => ({
    answer: new Promise((resolve) => setTimeout(resolve, 1)).then(() => mockRunner.run(request as never)),
    cancel: () => {},
  }),
}));

const COIL = { reOhm: 6, leHenry: 0.4e-3, fsHz: 50, qms: 4, qes: 0.6 };
const woofer: Driver = {
  id: 'w',
  name: 'Woofer',
  kind: 'woofer',
  nominalOhm: 8,
  impedance: modelFromParameters(COIL),
  measuredImpedance: null,
  radiusM: 0.065,
  safeFromHz: 40,
  maxWatts: 50,
  price: null,
  response: { kind: 'model', sensitivityDb: 88, lowHz: 50, lowQ: 0.7, topHz: 5000, topQ: 0.7, bumps: [] },
};

const driverStore = create(() => woofer);
const now = driverStore.getState;
const fitted = jest.fn();
const Bench = () => (
  <App>
    <MeasureDriver driver={driverStore()} change={(patch) => driverStore.setState(patch)} onFitted={fitted} />
  </App>
);
const sweep = async (until: () => boolean) => {
  act(() => typed(screen.getByRole('textbox', { name: 'takes' }), '0.4 s'));
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Sweep the driver' })));
  await act(async () => {
    for (let i = 0; i < 400 && !until(); i++) await new Promise((resolve) => setTimeout(resolve, 20));
  });
  expect(until()).toBe(true);
};
const choose = async (list: string, title: string) => {
  fireEvent.mouseDown(screen.getByRole('combobox', { name: list }));
  await act(async () => void fireEvent.click(await screen.findByTitle(title)));
};

beforeEach(async () => {
  fitted.mockClear();
  driverStore.setState(woofer);
  foldStore.setState({ open: { 'Measure the driver': true } });
  render(<Bench />);
  await screen.findByRole('button', { name: 'Sweep the driver' }, { timeout: 10_000 });
});

test('an impedance that was swept is kept with the circuit that is fitted to it', async () => {
  await sweep(() => now().measuredImpedance !== null);
  expect(fitted.mock.lastCall?.[0]).toBeLessThan(3);
  // One of its kind: Re within three deviations of 3 %.
  expect(Math.abs(now().impedance.reOhm / COIL.reOhm - 1)).toBeLessThan(0.09);
  expect(now().measuredImpedance?.phaseDeg).toHaveLength(now().measuredImpedance?.freqHz.length ?? -1);
}, 20_000);

test('from afar nothing is kept below what the gate can tell; the near response is joined beneath it', async () => {
  await choose('What is measured', 'far response');
  expect(
    screen.getByText(/The floor is heard 3\.6\sms after the driver.*nothing is told below 280\sHz/),
  ).toBeInTheDocument();
  await sweep(() => now().response.kind === 'curve');
  const curve = () => {
    const { response } = now();
    return response.kind === 'curve' ? response.curve : null;
  };
  expect(curve()?.freqHz[0]).toBeGreaterThan(277);
  const level = curve()?.values[40] ?? NaN;
  expect(Math.abs(level - 88)).toBeLessThan(3);
  await choose('What is measured', 'near response');
  await sweep(() => (curve()?.freqHz[0] ?? 1000) < 50);
  expect(await screen.findByText(/Joined at 588\sHz/)).toBeInTheDocument();
}, 30_000);

test('the computer’s card is asked for its reference first', async () => {
  await choose('Instrument', 'This computer’s sound card');
  expect(screen.getByRole('button', { name: 'Sweep the driver' })).toBeDisabled();
  expect(screen.getByRole('button', { name: 'Sweep without the driver' })).toBeEnabled();
  expect(screen.getByText(/Never a power amplifier’s output into a card/)).toBeInTheDocument();
  // Where there is no card at all it is said.
  await act(async () => void fireEvent.click(screen.getByRole('button', { name: 'Sweep without the driver' })));
  expect(await screen.findByRole('alert')).toHaveTextContent(/no sound card|microphone|input/i);
});
