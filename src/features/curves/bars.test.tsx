import { act, fireEvent, screen } from '@testing-library/react';
import { demoDesigns } from '@/core/design/demo/demo';
import { rangeNow } from '@/store/curves/frequency-range';
import { viewStore } from '@/store/view';
import { showPane, typed } from '@/testing/pane';
import { DifferenceBar } from './difference-bar';
import { RangeField } from './range-field';
import { WaveBar } from './wave-bar';

const [, , band] = demoDesigns();

test('the range says what is shown; typed, it is set; an end past the other is refused', async () => {
  showPane(band, <RangeField />);
  fireEvent.click(screen.getByRole('button', { name: 'Frequencies shown: 5 Hz to 50 kHz' }));
  act(() => typed(screen.getByTestId('range-from'), '200'));
  act(() => typed(screen.getByTestId('range-to'), '2k'));
  expect(rangeNow()).toEqual({ fromHz: 200, toHz: 2000 });
  act(() => typed(screen.getByTestId('range-to'), '150'));
  expect(rangeNow()).toEqual({ fromHz: 200, toHz: 2000 });
  act(() => void fireEvent.click(screen.getByRole('button', { name: 'audio band' })));
  expect(rangeNow()).toEqual({ fromHz: 20, toHz: 20e3 });
  act(() => void fireEvent.click(screen.getByRole('button', { name: 'all of the circuit' })));
  expect(viewStore.getState().range).toBeNull();
});

test('a wave is as high as the brief’s sine until it is told otherwise, on an offset of its own', () => {
  showPane({ ...band, brief: { ...band.brief, signalVolts: 2 } }, <WaveBar view="wave" />);
  expect(screen.getByTestId('wave-peak')).toHaveValue('2.828 V');
  act(() => typed(screen.getByTestId('wave-peak'), '5'));
  expect(viewStore.getState().wavePeakVolts).toBe(5);
  act(() => typed(screen.getByTestId('wave-offset'), '-1.5'));
  expect(viewStore.getState().waveOffsetVolts).toBe(-1.5);
  // Typed again, the brief's own is followed again.
  act(() => typed(screen.getByTestId('wave-peak'), '2.828'));
  expect(viewStore.getState().wavePeakVolts).toBeNull();
  act(() => void fireEvent.click(screen.getByText('x-y')));
  expect(viewStore.getState().waveAxes).toBe('xy');
});

test('a step has a height and no frequency; four views have what they discharge through', () => {
  const { rerender } = showPane(band, <WaveBar view="step" />);
  expect(screen.queryByTestId('wave-frequency')).toBeNull();
  expect(screen.getByTestId('wave-peak')).toBeInTheDocument();
  rerender(<WaveBar view="four" />);
  expect(screen.getByTestId('discharge')).toBeInTheDocument();
  // As high as the wave is, about nothing.
  expect(screen.getByTestId('wave-peak')).toBeInTheDocument();
  expect(screen.queryByTestId('wave-offset')).toBeNull();
});

test('the difference says of which two; another variant is laid under when it is chosen', async () => {
  showPane(band, <DifferenceBar />);
  const second = screen.getByRole('combobox', { name: 'Curve that is taken away' });
  act(() => void fireEvent.mouseDown(second));
  fireEvent.click(await screen.findByText('B as built'));
  expect(viewStore.getState()).toMatchObject({ ghostVariant: band.variants[1].id, compared: { second: 'ghost' } });
});
