import { render, screen } from '@testing-library/react';
import type { Design } from '@/core/design/document/schema';
import { deskOf } from '@/core/testing/desk-of';
import { lonePath, typedInto } from '@/core/testing/lone-path';
import { currentVariantOf } from '@/store/edits/edits';
import { openDesign } from '@/store/document';
import { DESK } from '@/store/questions/live';
import { resetView } from '@/store/view';
import { StageCard } from './stage-card';

function show(design: Design) {
  openDesign(design);
  resetView();
  const desk = deskOf(design);
  DESK.place(desk);
  const [stage] = currentVariantOf(design).ways[0].stages;
  return { stage, desk, facts: desk.stages[0] };
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

test.each([
  [0.985, false],
  [0.975, false],
  [0.965, true],
  [1.035, true],
])('a section at %d of its frequency: that it stands elsewhere is said: %s', (share, said) => {
  // f0 goes as the root of C1: this much of it takes the section so far.
  const exact = Object.fromEntries(show(sallenKey).facts.parts.map((p) => [p.name, p.exact]));
  const { stage } = show(typedInto(sallenKey, { ...exact, C1: exact.C1 / share ** 2 }));
  render(<StageCard stage={stage} />);
  expect(/now/.test(screen.getByTestId('stage-card').textContent!)).toBe(said);
});

test.each([
  [0.25, false],
  [0.35, true],
  [-0.35, true],
])('a stage asked for no gain that has %d dB all the same: it is said: %s', (gainDb, said) => {
  const buffer = lonePath({ topology: 'buffer', form: 'lowpass', wanted: { gainDb: 6 } }, { device: 'ideal' });
  const flat = show(buffer);
  // The card's own words for a stage whose target and outcome are given.
  const facts = { ...flat.facts, target: { ...flat.facts.target!, gain: 1 }, got: { ...flat.facts.got, gainDb } };
  DESK.place({ ...flat.desk, stages: [facts] });
  render(<StageCard stage={flat.stage} />);
  expect(/dB/.test(screen.getByTestId('stage-card').textContent!)).toBe(said);
});
