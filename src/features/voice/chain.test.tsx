import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { AcSolver } from '@/core/analysis/ac/solver';
import type { Design } from '@/core/design/document/schema';
import { runControlLaw } from '@/core/jobs/voice/control-law';
import { runVoltsPerOctave } from '@/core/jobs/voice/volts-per-octave';
import type { Song as SongAnswer } from '@/core/jobs/voice/song';
import type { Result } from '@/core/result';
import { controlledDesign } from '@/core/testing/controlled-design';
import { deskOf } from '@/core/testing/desk-of';
import { diodeLegs } from '@/core/topology/voice/diode-legs';
import { otaOnePole } from '@/core/topology/voice/ota-one-pole';
import { transistorLadder } from '@/core/topology/voice/transistor-ladder';
import type * as documentModule from '@/store/document';
import { documentStore, openDesign, undo } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { DESK } from '@/store/questions/live';
import { resetView } from '@/store/view';
import { exponentialConverter } from '@/core/topology/voice/control/exponential-converter';
import { linearConverter } from '@/core/topology/voice/control/linear-converter';
import { Chain, warmthWords } from './chain';
import { Song } from './song';

const solver = new AcSolver();
/** What was said of a document, said once. */
const mockSaid = new WeakMap<Design, Map<string, Result<unknown>>>();
const RUN: Record<string, (request: never) => Result<unknown>> = {
  'control-law': (r) => runControlLaw(r, solver),
  'volts-per-octave': (r) => runVoltsPerOctave(r),
};
jest.mock('@/store/use-design-job', () => ({
  useDesignJob: (kind: string, asked: object | null) => {
    const { useDesign } = jest.requireActual<typeof documentModule>('@/store/document');
    const design = useDesign((d: Design) => d);
    if (asked === null) return null;
    const known = mockSaid.get(design) ?? mockSaid.set(design, new Map()).get(design)!;
    if (!known.has(kind)) known.set(kind, RUN[kind]({ kind, design, variantId: design.currentVariant } as never));
    const answer = known.get(kind)!;
    return answer.ok ? answer.value : null;
  },
}));
const answered = jest.fn();
jest.mock('@/workers/job-client', () => ({
  startJob: ({ kind }: { kind: string }) => ({
    answer: kind === 'song' ? Promise.resolve(answered()) : new Promise(() => {}),
    cancel: () => {},
  }),
}));

const put = (design: Design): void => {
  openDesign(design);
  resetView();
  DESK.place(deskOf(design));
};
const now = (): Design => documentStore.getState().design!;
const stage = () => currentVariantOf(now()).ways[0].stages[0];
beforeEach(() => localStorage.clear());
jest.setTimeout(60_000);

test('a chain says its scale, its reach and how it is trimmed; a click trims it, undo takes it back', () => {
  put(controlledDesign(otaOnePole, 'exponential-converter'));
  render(<Chain />);
  expect(screen.getByTestId('volts-per-octave')).toHaveTextContent(
    /An octave takes 1\.00\d+\sV where 1\sV is asked for/,
  );
  expect(screen.getByTestId('chain-reach')).toHaveTextContent(
    /The knob alone goes from .* Hz to .* kHz, the pitch input/,
  );
  fireEvent.click(screen.getByRole('button', { name: /How it is trimmed/ }));
  const readings = within(screen.getByTestId('trim-readings')).getAllByRole('row');
  expect(readings).toHaveLength(4);
  const off = () => Number.parseFloat(readings[3].lastElementChild!.textContent!.replace('−', '-').replace('+', ''));
  expect(Math.abs(off())).toBeGreaterThan(50);
  const before = stage().parts.Rc7.use!.values;
  act(() => fireEvent.click(screen.getByRole('button', { name: 'Set the trimmers there' })));
  expect(stage().parts.Rc7.use!.values[0]).toBe(before[0]);
  expect(stage().parts.Rc7.use!.values[1]).not.toBe(before[1]);
  const [, , , middle] = within(screen.getByTestId('trim-readings')).getAllByRole('row');
  expect(Math.abs(Number.parseFloat(middle.lastElementChild!.textContent!.replace('−', '-')))).toBeLessThan(1);
  act(() => undo());
  expect(stage().parts.Rc7.use!.values).toEqual(before);
});

test('another scale sets the trimmers anew', () => {
  put(controlledDesign(otaOnePole, 'exponential-converter'));
  render(<Chain />);
  const field = screen.getByTestId('chain-voltsPerOctave');
  const input = field.tagName === 'INPUT' ? field : within(field).getByRole('textbox');
  fireEvent.change(input, { target: { value: '0.5' } });
  fireEvent.blur(input);
  expect(stage().controlledBy!.parameters.voltsPerOctave).toBe(0.5);
  expect(screen.getByTestId('volts-per-octave')).toHaveTextContent(/An octave takes 0\.50\d+\sV where 500\smV/);
});

test('a linear chain says its currents; without a chain the current has a control of its own', () => {
  put(controlledDesign(diodeLegs, 'linear-converter'));
  render(<Chain />);
  expect(screen.getByTestId('volts-per-octave')).toHaveTextContent(/At 0\sV it gets .*A, at 5\sV .*A/);
  expect(screen.queryByText('How it is trimmed')).toBeNull();
  const select = screen.getByRole('combobox', { name: 'What makes the control current' });
  fireEvent.mouseDown(select);
  fireEvent.click(screen.getByText('something that is not on this board'));
  expect(stage().controlledBy).toBeUndefined();
  expect(stage().parts.I1.control).toMatchObject({ kind: 'exponential', octaves: 8 });
  expect(currentVariantOf(now()).controls.map((c) => c.kind)).toEqual(['cv']);
  expect(screen.queryByTestId('volts-per-octave')).toBeNull();
});

test.each([
  [exponentialConverter, 'tempco resistor', /the tempco resistor with the pair/],
  [exponentialConverter, 'plain resistor', /nothing to make up for it/],
  [exponentialConverter, 'heated pair', /held at 60.°C/],
  [linearConverter, linearConverter.forms[0], /^Everything as warm as that\.$/],
])('a tempco is spoken of where there is one: $0.id, %s', (chain, form, says) => {
  expect(warmthWords(chain, form)).toMatch(says);
});

const SUNG: SongAnswer = {
  stageId: '',
  part: 'R9',
  startsHz: 800,
  startsOhm: 2300,
  points: [
    {
      freqHz: 790,
      rmsVolts: 0.14,
      peakVolts: 0.2,
      harmonics: [0, 0.003, 0.004],
      ohm: 2200,
      beyond: 1.05,
      knob: null,
      offCents: -22,
    },
    {
      freqHz: 760,
      rmsVolts: 0.36,
      peakVolts: 0.52,
      harmonics: [0, 0.006],
      ohm: 1800,
      beyond: 1.3,
      knob: null,
      offCents: -74,
    },
  ],
  now: null,
  wave: Float64Array.from({ length: 8 }, (_, i) => Math.sin((2 * Math.PI * i) / 8)),
  pitch: {
    controlId: 'x',
    points: [
      { position: 0, volts: -1, freqHz: 400 },
      { position: 0.5, volts: 0, freqHz: 800 },
      { position: 1, volts: 1, freqHz: 1600 * 2 ** (24 / 1200) },
    ],
    worstCents: 12,
  },
};

test('the oscillation is asked for by hand: level, purity and pitch; what fails says why', async () => {
  put(controlledDesign(transistorLadder, 'exponential-converter'));
  render(<Song />);
  answered.mockReturnValueOnce({ ok: false, code: 'no-cycle', data: { freqHz: 800 } });
  await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Let it oscillate' })));
  expect(screen.getByText(/comes to no wave that repeats/)).toBeInTheDocument();
  answered.mockReturnValueOnce({ ok: true, value: SUNG });
  await act(async () => fireEvent.click(screen.getByRole('button', { name: 'Let it oscillate' })));
  const rows = within(screen.getByTestId('song-points')).getAllByRole('row');
  expect(rows[1]).toHaveTextContent(/2\.2\skΩ1\.05790\sHz−22140\smV200\smV0\.50/);
  // From 400 Hz to 24 cents over two octaves up: half way it is 12 cents under a straight line.
  expect(screen.getByTestId('song-pitch')).toHaveTextContent(/12\.0\scents off a straight scale/);
});
