import { render, screen } from '@testing-library/react';
import type { Design } from '@/core/design/document/schema';
import { deskOf } from '@/core/testing/desk-of';
import { lonePath, typedInto } from '@/core/testing/lone-path';
import { topologyById } from '@/core/topology/index';
import { Working } from './working';

const facts = (design: Design) => deskOf(design).stages[0];

const sallenKey = lonePath(
  { topology: 'sallen-key-unity-gain', form: 'lowpass', wanted: { freqHz: 1200, q: 0.7 } },
  { device: 'ideal' },
);
test('the working puts in the parts as they are chosen, and what they come to, not what was asked', () => {
  const c1 = facts(sallenKey).parts.find((p) => p.name === 'C1')!.chosen;
  const got = facts(typedInto(sallenKey, { C1: 4 * c1 }));
  render(<Working topology={topologyById('sallen-key-unity-gain')} facts={got} lit={[]} onPoint={() => {}} />);
  const [R1, R2, C1, C2] = ['R1', 'R2', 'C1', 'C2'].map((n) => got.parts.find((p) => p.name === n)!.chosen);
  const hz = 1 / (2 * Math.PI * Math.sqrt(R1 * R2 * C1 * C2));
  expect(screen.getByRole('region', { name: 'Working' })).toHaveTextContent(`${hz.toPrecision(4)}`);
});
