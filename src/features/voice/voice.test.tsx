import { act, fireEvent, render, screen, within } from '@testing-library/react';
import { AcSolver } from '@/core/analysis/ac/solver';
import { createNetwork } from '@/core/design/making/create';
import { demoDesigns } from '@/core/design/demo/demo';
import type { Design } from '@/core/design/document/schema';
import { runControlLaw } from '@/core/jobs/voice/control-law';
import { deskOf } from '@/core/testing/desk-of';
import { runForms } from '@/core/jobs/voice/forms';
import { runGateResponse } from '@/core/jobs/voice/gate-response';
import { runLoop } from '@/core/jobs/voice/loop';
import { runRest } from '@/core/jobs/voice/rest';
import { runSag } from '@/core/jobs/voice/sag';
import { type Result } from '@/core/result';
import { shapedAmplifierInverting } from '@/core/topology/op-amp/shaped-amplifier-inverting';
import type * as documentModule from '@/store/document';
import { documentStore, openDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits/edits';
import { DESK } from '@/store/questions/live';
import { resetView, setView, type VoiceView } from '@/store/view';
import { Voice } from './voice';

const solver = new AcSolver();
/** Jobs are run here and now, by the very functions the workers run. */
const RUN: Record<string, (request: never) => Result<unknown>> = {
  'control-law': (r) => runControlLaw(r, solver),
  forms: (r) => runForms(r, solver),
  loop: (r) => runLoop(r, solver),
  rest: (r) => runRest(r),
  sag: (r) => runSag(r, solver),
  'gate-response': (r) => runGateResponse(r),
};
jest.mock('@/store/use-design-job', () => ({
  useDesignJob: (kind: string, asked: object | null) => {
    const { useDesign } = jest.requireActual<typeof documentModule>('@/store/document');
    const design = useDesign((d: Design) => d);
    if (asked === null) return null;
    const said = RUN[kind]({ kind, design, variantId: design.currentVariant, ...asked } as never);
    return said.ok ? said.value : null;
  },
}));

function put(design: Design): void {
  openDesign(design);
  resetView();
  DESK.place(deskOf(design));
}
const open = (title: string, view: VoiceView): void => {
  put(demoDesigns().find((d) => d.title.startsWith(title))!);
  setView({ voiceView: view });
  render(<Voice />);
};
const now = (): Design => documentStore.getState().design!;
const figure = (testId: string): number =>
  Number.parseFloat(screen.getByTestId(testId).querySelector('b')!.textContent!.replace('−', '-'));

test('a ladder: octaves, cents, where it sings, what resonance takes; one click makes that up', () => {
  open('Reed voice', 'control');
  expect(screen.getByTestId('control-law')).toHaveTextContent(
    /moves it [78]\.\d\d octaves, \d+(\.\d)? Hz to \d+(\.\d+)? kHz/,
  );
  expect(screen.getByTestId('singing')).toHaveTextContent('It starts to oscillate at R9');
  expect(screen.getByTestId('drift')).toHaveTextContent('−5.');
  // 1 + 2.6 is 11.1 dB.
  expect(figure('lost')).toBeCloseTo(20 * Math.log10(3.6), 0);
  act(() => fireEvent.click(screen.getByRole('button', { name: /^Make it up: R1/ })));
  const { use } = currentVariantOf(now()).ways[0].stages[0].parts.R1;
  // With 220 Ω for its foot, the divider passes 3.6 times as much at about 2.6 kΩ.
  expect(use!.values[0]).toBeGreaterThan(2400);
  expect(use!.values[0]).toBeLessThan(2900);
});

test('a wah: the pedal’s travel, and what its capacitor seems', () => {
  open('Swell pedal', 'control');
  expect(screen.getByRole('heading', { name: 'Pedal, heel to toe' })).toBeInTheDocument();
  expect(screen.getByTestId('control-law')).toHaveTextContent(/the pedal moves it 2\.\d\d octaves/);
  // The toe's square over the heel's.
  expect(figure('capacitor-range')).toBeGreaterThan(15);
});

test(
  'forms: a row for each, the one on the desk marked, another taken; what they make combined is beside ' +
    'the two in a row',
  () => {
    open('Plucked', 'forms');
    const rows = within(screen.getByTestId('forms')).getAllByRole('row').slice(1);
    expect(rows.map((r) => r.textContent)).toEqual([
      expect.stringMatching(/^filter/),
      expect.stringMatching(/^gate/),
      expect.stringMatching(/^combined/),
      expect.stringMatching(/^compensated.*on the desk$/),
    ]);
    expect(screen.getByRole('img', { name: 'Reduced circuit: compensated' })).toHaveTextContent('R3');
    act(() => fireEvent.click(within(rows[0]).getByRole('button', { name: 'filter' })));
    expect(screen.getByRole('img', { name: 'Reduced circuit: filter' })).not.toHaveTextContent('R3');
    expect(screen.getByTestId('combined')).toHaveTextContent('from the two in a row');
    expect(screen.getByTestId('neglected')).toHaveTextContent(
      /^By hand C3 and R7 are left out\. In the form filter that makes the level [+−][\d.]+.dB off at/,
    );
    act(() => fireEvent.click(within(rows[1]).getByRole('button', { name: 'take it' })));
    expect(currentVariantOf(now()).ways[0].stages[0].mode).toBe('gate');
  },
);

test('any circuit with switch positions has its forms laid over one another, not only voices', () => {
  const design = demoDesigns().find((d) => d.title.startsWith('Horn preamplifier'))!;
  const { stage } = createNetwork(shapedAmplifierInverting, () => 'amp');
  put({
    ...design,
    variants: design.variants.map((v) => ({
      ...v,
      controls: [],
      ways: v.ways.map((w) => ({ ...w, plans: [], stages: [stage] })),
    })),
  });
  render(<Voice />);
  expect(within(screen.getByTestId('forms')).getAllByRole('row')).toHaveLength(
    1 + shapedAmplifierInverting.modes.length,
  );
  expect(screen.queryByTestId('combined')).toBeNull();
});

test('the loop: node by node with its sign; that it comes back in step, and how far from singing', () => {
  open('Reed voice', 'loop');
  expect(screen.getByTestId('loop-steps').querySelectorAll('tbody tr')).toHaveLength(5);
  expect(screen.getByTestId('loop-verdict')).toHaveTextContent(
    /helps.*in step there with −\d\.\d dB: \d\.\d dB more and this loop oscillates/,
  );
});

test('a circuit without a loop says so', () => {
  open('Stopped flute', 'loop');
  expect(screen.getByText(/has no loop of its own/)).toBeInTheDocument();
});

test('at rest: every node of every stage, hours on a battery, and what a sag does', () => {
  open('Stopped flute', 'rest');
  const rest = screen.getByTestId('at-rest');
  expect(rest).toHaveTextContent('the battery’s minus');
  for (const node of ['d1', 'd2', 'b', 'c', 'e', 'Q1', 'D1'])
    expect(within(rest).getAllByText(node).length).toBeGreaterThan(0);
  const hours = Number(screen.getByTestId('battery-hours').textContent);
  // 0.5 Ah at 0.6 mA are 830 hours; as its volts fall it draws less, and lasts longer, but not twice as long.
  expect(hours).toBeGreaterThan(900);
  expect(hours).toBeLessThan(1660);
  expect(screen.getByTestId('sag').querySelectorAll('tbody tr')).toHaveLength(5);
});

test('the cell: a point more, a point out, a value that breaks the order refused; its times follow', () => {
  open('Plucked', 'cell');
  expect(screen.getByTestId('cell-now')).toHaveTextContent('1.5 kΩ');
  act(() => fireEvent.click(screen.getByRole('button', { name: 'Another point' })));
  expect(now().preferences.photocell!.points).toHaveLength(5);
  act(() => fireEvent.click(screen.getByRole('button', { name: 'Take point 2 out' })));
  expect(now().preferences.photocell!.points).toHaveLength(4);
  const second = screen.getByRole('textbox', { name: 'cell of point 2' });
  const before = now().preferences.photocell!.points;
  act(() => {
    fireEvent.change(second, { target: { value: '1M' } });
    fireEvent.keyDown(second, { key: 'Enter' });
  });
  expect(now().preferences.photocell!.points).toEqual(before);
  act(() => fireEvent.click(screen.getByRole('button', { name: 'a usual one again' })));
  expect(now().preferences.photocell).toBeUndefined();
  expect(screen.getByTestId('cell-times')).toHaveTextContent('Open after');
});

test('where nothing is voiced and nothing has forms, nothing is shown', () => {
  put(demoDesigns()[0]);
  const { container } = render(<Voice />);
  expect(container).toBeEmptyDOMElement();
});
