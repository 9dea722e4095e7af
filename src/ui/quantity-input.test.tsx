import { fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { QuantityInput, type QuantityInputProps } from './quantity-input';

function Field(props: Partial<QuantityInputProps> & { start: number | null; seen?: (v: number | null) => void }) {
  const [value, setValue] = useState<number | null>(props.start);
  return (
    <QuantityInput
      label="cutoff"
      kind="frequency"
      min={Number.MIN_VALUE}
      max={1e9}
      {...props}
      value={value}
      onChange={(v) => {
        setValue(v);
        props.seen?.(v);
      }}
    />
  );
}
const field = () => screen.getByLabelText<HTMLInputElement>('cutoff');
const type = (text: string) => {
  fireEvent.change(field(), { target: { value: text } });
  fireEvent.keyDown(field(), { key: 'Enter' });
};

test('takes what makers type and shows it as they write it', () => {
  const seen = jest.fn();
  render(<Field start={1000} seen={seen} />);
  expect(field().value).toBe('1 kHz');
  type('2k2');
  expect(seen).toHaveBeenLastCalledWith(2200);
  expect(field().value).toBe('2.2 kHz');
});

test('what hardly anyone means is asked about once, and taken when it comes again', () => {
  const seen = jest.fn();
  render(<Field start={1000} seen={seen} kind="capacitance" />);
  type('470');
  expect(screen.getByRole('alert')).toHaveTextContent('470 pF is meant');
  fireEvent.blur(field());
  expect(seen).not.toHaveBeenCalled();
  fireEvent.keyDown(field(), { key: 'Enter' });
  expect(seen).toHaveBeenLastCalledWith(470);
});

test.each([
  ['1e-308', 'frequency', /^1e-308.Hz cannot be: 1.µHz to 100.GHz can; it stays at 1.kHz\./],
  ['1e308', 'resistance', /cannot be/],
  ['1e-30', 'capacitance', /^1e-30.F cannot be/],
] as const)('%s as a %s is refused with what can be, however often it comes', (text, kind, said) => {
  const seen = jest.fn();
  render(<Field start={1000} seen={seen} kind={kind} max={undefined} />);
  for (let k = 0; k < 3; k++) type(text);
  expect(screen.getByRole('alert').textContent).toMatch(said);
  expect(seen).not.toHaveBeenCalled();
});

test('nothing at all can be where a field allows it', () => {
  const seen = jest.fn();
  render(<Field start={1000} seen={seen} kind="resistance" min={0} />);
  type('0');
  expect(seen).toHaveBeenLastCalledWith(0);
});

test('two values typed for one are taken as a pair', () => {
  const onPair = jest.fn();
  render(<Field start={1000} kind="resistance" onPair={onPair} />);
  type('100k||100k');
  expect(onPair).toHaveBeenLastCalledWith('parallel', [100e3, 100e3]);
  expect(screen.queryByRole('alert')).toBeNull();
});

test.each([
  ['4k7x', 'left over'],
  ['-5', 'not above zero'],
  ['', 'Type a value'],
  ['5G', 'is above 1 GHz'],
])('%j is refused with a reason and changes nothing; escape brings the old value back', (text, says) => {
  const seen = jest.fn();
  render(<Field start={1000} seen={seen} />);
  type(text);
  expect(screen.getByRole('alert')).toHaveTextContent(says);
  expect(field()).toHaveAttribute('aria-invalid', 'true');
  expect(field().getAttribute('aria-describedby')).toBe(screen.getByRole('alert').id);
  fireEvent.keyDown(field(), { key: 'Escape' });
  expect(field().value).toBe('1 kHz');
  expect(seen).not.toHaveBeenCalled();
});

test('arrow keys step by one per cent, ten with shift', () => {
  render(<Field start={1000} />);
  fireEvent.keyDown(field(), { key: 'ArrowUp' });
  expect(field().value).toBe('1.01 kHz');
  fireEvent.keyDown(field(), { key: 'ArrowDown', shiftKey: true });
  expect(field().value).toBe('914.3 Hz');
});

test('with a series they walk its values', () => {
  const seen = jest.fn();
  render(<Field start={4700} kind="resistance" series="E12" seen={seen} />);
  fireEvent.keyDown(field(), { key: 'ArrowUp' });
  expect(seen).toHaveBeenLastCalledWith(5600);
  fireEvent.keyDown(field(), { key: 'ArrowDown' });
  expect(seen).toHaveBeenLastCalledWith(4700);
});

test('an empty field is a value where that is allowed, and whole numbers stay whole', () => {
  const seen = jest.fn();
  const { unmount } = render(<Field start={1000} allowEmpty placeholder="open" seen={seen} />);
  type('');
  expect(seen).toHaveBeenLastCalledWith(null);
  expect(field().placeholder).toBe('open');
  unmount();
  render(<Field start={3} integer kind="ratio" min={1} max={10} seen={seen} />);
  type('4.4');
  expect(seen).toHaveBeenLastCalledWith(4);
  fireEvent.keyDown(field(), { key: 'ArrowUp', shiftKey: true });
  expect(seen).toHaveBeenLastCalledWith(10);
});
