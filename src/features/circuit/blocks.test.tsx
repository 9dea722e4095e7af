/** @jest-environment jsdom */
import { render, screen, within } from '@testing-library/react';
import { stateVariable } from '@/core/topology/op-amp/state-variable';
import { Blocks } from './blocks';

const drawn = (form: 'lowpass' | 'notch', present: readonly string[]) =>
  render(<Blocks blocks={stateVariable.blocks!(form)} present={new Set(present)} lit={[]} onPoint={() => {}} />);
const named = (of: HTMLElement) =>
  within(of)
    .getAllByRole('button')
    .map((b) => b.getAttribute('aria-label'));

test('what is led back of the band-pass is feedback, and names no part that the circuit has not', () => {
  drawn('lowpass', ['R1', 'R2', 'R3', 'R4', 'R6', 'R7', 'C1', 'C2']);
  expect(named(screen.getByRole('group', { name: 'Feedback' }))).toEqual([
    '1/Q: what is led back of the band-pass (R4)',
  ]);
  // The signal's own way leads from the second integrator back to the adder.
  expect(named(screen.getByTestId('blocks'))).toHaveLength(4);
});

test('what takes the loop’s outputs together stands beyond it', () => {
  drawn('notch', ['R1', 'R2', 'R3', 'R4', 'R5', 'R6', 'R7', 'R8', 'R9', 'R10', 'C1', 'C2']);
  const all = named(screen.getByTestId('blocks'));
  expect(all[all.length - 1]).toContain('equal and opposite at the null');
});
