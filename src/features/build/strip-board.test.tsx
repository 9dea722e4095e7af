import { act, fireEvent, render, screen } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import { runStripBoard } from '@/core/jobs/build/strip-board';
import { must } from '@/core/result';
import type * as documentModule from '@/store/document';
import { openDesign } from '@/store/document';
import { StripBoardPanel } from './strip-board';

jest.mock('@/store/use-design-job', () => ({
  useDesignJob: (_kind: string, asked: object | null) => {
    const { useDesign } = jest.requireActual<typeof documentModule>('@/store/document');
    const design = useDesign((d: Design) => d);
    return asked === null
      ? null
      : must(runStripBoard({ kind: 'strip-board', design, variantId: design.currentVariant }));
  },
}));
const show = (title: string) => {
  openDesign(demoDesigns().find((d) => d.title.startsWith(title))!);
  return render(<StripBoardPanel />);
};

test('planned on request: every part drawn with its leads named aloud, and the check beside it', () => {
  const { container } = show('Swell pedal');
  expect(screen.queryByRole('img')).toBeNull();
  act(() => fireEvent.click(screen.getByRole('button', { name: 'Plan it' })));
  expect(screen.getByTestId('strip-check')).toHaveTextContent(/all \d+ leads are where they belong/);
  const spoken = screen.getByRole('img').getAttribute('aria-label')!;
  for (const part of ['Q1 ', 'Q2 ', 'L1 ', 'P1 ']) expect(spoken).toContain(part);
  expect(container.querySelectorAll('.strip')).toHaveLength(12);
});

test('what cannot be laid on strips is refused in words', () => {
  show(demoDesigns().find((d) => d.variants[0].bank)!.title);
  act(() => fireEvent.click(screen.getByRole('button', { name: 'Plan it' })));
  expect(screen.getByTestId('strip-board')).toHaveTextContent('too many for one strip board');
});

test('a crossover has a plan of its own', () => {
  expect(show(demoDesigns().find((d) => d.family === 'loudspeaker')!.title).container.textContent).not.toContain(
    'On strip board',
  );
});
