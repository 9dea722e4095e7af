import { fireEvent, render, screen, within } from '@testing-library/react';
import { AcSolver } from '@/core/analysis/ac/solver';
import type { DeskStage } from '@/core/jobs/desk/desk-types';
import { runWalk } from '@/core/jobs/network/walk';
import { deskOf } from '@/core/testing/desk-of';
import { lonePath } from '@/core/testing/lone-path';
import type * as documentModule from '@/store/document';
import { openDesign } from '@/store/document';
import { Walk } from './walk';

const solver = new AcSolver();
jest.mock('@/store/use-design-job', () => ({
  useDesignJob: (kind: string, asked: object) => {
    const { useDesign } = jest.requireActual<typeof documentModule>('@/store/document');
    const design = useDesign((d) => d);
    const said = runWalk({ kind, design, variantId: design.currentVariant, ...asked } as never, solver);
    return said.ok ? said.value : null;
  },
}));

test('the walk is stepped through; each step says what it does, what comes back, and lights its parts', () => {
  const design = lonePath({ topology: 'multiple-feedback', form: 'lowpass' }, {});
  openDesign(design);
  const facts: DeskStage = deskOf(design).stages[0];
  const point = jest.fn();
  render(<Walk facts={facts} onPoint={point} />);
  const steps = () =>
    within(screen.getByRole('list', { name: 'Steps of the signal' }))
      .getAllByRole('listitem')
      .filter((li) => li.parentElement!.tagName === 'OL');
  expect(steps()).toHaveLength(3);
  expect(steps()[0]).toHaveAttribute('aria-current', 'step');
  expect(screen.getByRole('button', { name: 'step back' })).toBeDisabled();
  fireEvent.click(screen.getByRole('button', { name: 'step on' }));
  expect(steps()[1]).toHaveAttribute('aria-current', 'step');
  expect(steps()[1]).toHaveTextContent('a point that stands still: currents add there');
  expect(steps()[1]).toHaveTextContent(/comes back from out/);
  expect(point.mock.calls[point.mock.calls.length - 1][0].length).toBeGreaterThan(1);
  fireEvent.click(screen.getByRole('button', { name: 'step on' }));
  expect(screen.getByRole('button', { name: 'step on' })).toBeDisabled();
  expect(steps()[2]).toHaveTextContent(/op-amp.* dB, /);
});
