import { render, screen } from '@testing-library/react';
import type { Design } from '@/core/design/schema';
import { deskOf } from '@/core/testing/desk-of';
import { lonePath, typedInto } from '@/core/testing/lone-path';
import { currentVariantOf } from '@/store/edits';
import { openDesign } from '@/store/document';
import { resultsStore } from '@/store/results';
import { resetView } from '@/store/view';
import { StageCard } from './stage-card';

function show(design: Design) {
  openDesign(design);
  resetView();
  const desk = deskOf(design);
  resultsStore.setState({ deskToRead: desk });
  const [stage] = currentVariantOf(design).ways[0].stages;
  return { stage, facts: desk.stages[0] };
}

const sallenKey = lonePath(
  { topology: 'sallen-key-unity-gain', form: 'lowpass', wanted: { freqHz: 1200, q: 0.7 } },
  { device: 'ideal' },
);
test('a card says where its stage stands when typed parts have taken it far from what it is asked for', () => {
  const before = show(sallenKey);
  const { unmount } = render(<StageCard stage={before.stage} />);
  expect(screen.getByTestId('stage-card')).toHaveTextContent('1.2 kHz');
  expect(screen.getByTestId('stage-card')).not.toHaveTextContent('now');
  unmount();
  const c1 = before.facts.parts.find((p) => p.name === 'C1')!.chosen;
  const { stage, facts } = show(typedInto(sallenKey, { C1: 4 * c1 }));
  render(<StageCard stage={stage} />);
  // f0 = 1/(2π √(R1 R2 C1 C2)): half of it.
  const [R1, R2, C1, C2] = ['R1', 'R2', 'C1', 'C2'].map((n) => facts.parts.find((p) => p.name === n)!.chosen);
  const hz = 1 / (2 * Math.PI * Math.sqrt(R1 * R2 * C1 * C2));
  expect(screen.getByTestId('stage-card')).toHaveTextContent(`now ${Number(hz.toPrecision(3))} Hz`);
});
