import { act, screen, waitFor } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import { JobRunner } from '@/core/jobs/run-job';
import { formatQuantity } from '@/core/units/quantity';
import { setView } from '@/store/view';
import { showPane } from '@/testing/pane';
import { PartsAtWork } from './parts-at-work';

const mockRunner = new JobRunner();
jest.mock('@/workers/job-client', () => ({
  startJob: (request: unknown) => ({ answer: mockRunner.run(request as never), cancel: () => {} }),
}));

/**
 * A square of ±V through an RC, its half period H, in the steady state: the capacitor runs from −V tanh(H/2τ) to
 * +V tanh(H/2τ) along V (1 − A e^(−t/τ)), and the mean square over H is V² (1 − 2 (τ/H) tanh(H/2τ)); what is left of V
 * lies across the resistors, mean square V² · 2 (τ/H) tanh(H/2τ).
 */
test.each([1.5, 6])('each part at work is told for the square as it is drawn, %f V peak', async (peakVolts) => {
  const [R1, C1, source, load] = [10e3, 100e-9, 10, 10e6];
  const [share, tau] = [load / (load + R1 + source), ((R1 + source) * load * C1) / (R1 + source + load)];
  const half = 1 / 40 / 2;
  const lag = ((2 * tau) / half) * Math.tanh(half / 2 / tau);
  const volts = peakVolts * share * Math.sqrt(1 - lag);
  const highest = peakVolts * share * Math.tanh(half / 2 / tau);
  const tremulant = demoDesigns().find((d) => d.title === 'Tremulant lag')!;
  showPane(tremulant, <PartsAtWork />);
  act(() => setView({ curveView: 'four', wave: 'square', waveHz: 40, wavePeakVolts: peakVolts }));
  const panel = await waitFor(() => screen.getByTestId('parts-at-work'));
  expect(panel).toHaveTextContent(`${formatQuantity(peakVolts, 'voltage', { digits: 3 })} peak`.replace('\u202f', ' '));
  const says = panel.textContent!.replaceAll('\u202f', '');
  const told = (pattern: RegExp) => Number(pattern.exec(says)![1]);
  expect(told(/C1 ([\d.]+)V/) / volts).toBeCloseTo(1, 2);
  expect((told(/holds ([\d.]+)[nµ]J/) * (says.includes('µJ') ? 1e-6 : 1e-9)) / ((C1 * highest ** 2) / 2)).toBeCloseTo(
    1,
    2,
  );
  expect((told(/moves ([\d.]+)[nµ]C/) * (/[\d.]+µC/.test(says) ? 1e-6 : 1e-9)) / (2 * C1 * highest)).toBeCloseTo(1, 2);
});
