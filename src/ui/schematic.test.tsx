import { fireEvent, render, screen } from '@testing-library/react';
import { specsOf } from '@/core/design/stages/stage-design';
import { drawingOf } from '@/core/design/stages/stage-drawing';
import { topologyById, TOPOLOGIES } from '@/core/topology/index';
import { Glyph } from './glyph';
import { Schematic } from './schematic';

const values = { R1: 15e3, R2: 4.3e3, C1: 15e-9, C2: 1.5e-9 };
const drawing = drawingOf(topologyById('sallen-key-unity-gain'), 'lowpass', values);

test('shows every part with its value and says what it is', () => {
  render(
    <Schematic drawing={drawing} values={values} leftOut={{}} resistorSymbol="box" title="Circuit of Low-pass 1" />,
  );
  const picture = screen.getByRole('img', { name: 'Circuit of Low-pass 1' });
  for (const text of ['R1', '15 kΩ', 'R2', '4.3 kΩ', 'C1', '15 nF', 'C2', '1.5 nF', 'in', 'out'])
    expect(picture).toHaveTextContent(text);
});

test('a part left out is a wire or an empty place', () => {
  render(
    <Schematic
      drawing={drawing}
      values={values}
      leftOut={{ R1: 'short', C2: 'open' }}
      resistorSymbol="zigzag"
      title="c"
    />,
  );
  expect(screen.getByRole('img')).toHaveTextContent('wire');
  expect(screen.getByRole('img')).toHaveTextContent('empty');
});

test('pointing at a part tells which, and the one pointed at is lit', () => {
  const onPoint = jest.fn();
  const { container } = render(
    <Schematic
      drawing={drawing}
      values={values}
      leftOut={{}}
      resistorSymbol="box"
      title="c"
      highlighted={['C1']}
      onPoint={onPoint}
    />,
  );
  fireEvent.pointerEnter(screen.getByText('R2'));
  expect(onPoint).toHaveBeenLastCalledWith(['R2']);
  fireEvent.pointerLeave(screen.getByText('R2'));
  expect(onPoint).toHaveBeenLastCalledWith([]);
  expect(container.querySelectorAll('.lit').length).toBe(3);
});

test.each(
  TOPOLOGIES.flatMap((t) => (t.role === 'section' ? t.responses : t.modes).map((form) => [t.id, form] as const)),
)('%s as %s draws both resistor symbols without a gap in its numbers', (id, form) => {
  const topology = topologyById(id);
  const parts = Object.fromEntries(specsOf(topology, form).map((p) => [p.name, p.kind === 'resistor' ? 1e4 : 1e-8]));
  for (const symbol of ['box', 'zigzag'] as const) {
    const { container, unmount } = render(
      <Schematic
        drawing={drawingOf(topology, form, parts)}
        values={parts}
        leftOut={{}}
        resistorSymbol={symbol}
        title={id}
      />,
    );
    expect(container.innerHTML).not.toContain('NaN');
    expect(container.innerHTML).not.toContain('undefined');
    unmount();
  }
});

test('a glyph fits its box, and without a curve is an empty one', () => {
  const { container, rerender } = render(
    <Glyph freqHz={[10, 100, 1000]} levelDb={[0, -3, -80]} width={60} height={40} />,
  );
  const d = container.querySelector('.glyph-curve')?.getAttribute('d') ?? '';
  for (const [, x, y] of d.matchAll(/([\d.]+) ([\d.]+)/g)) {
    expect(Number(x)).toBeLessThanOrEqual(60);
    expect(Number(y)).toBeLessThanOrEqual(40);
  }
  rerender(<Glyph freqHz={[1, 2]} levelDb={null} width={60} height={40} />);
  expect(container.querySelector('path')).toBeNull();
});

describe('read as DC and as the signal see it', () => {
  const emitter = topologyById('common-emitter');
  const exact = { R1: 330e3, R2: 82e3, R3: 7.5e3, R4: 2e3, R5: 1.3e3, C1: 100e-9, C2: 1e-6, C3: 47e-6 };
  const couplers = new Set(
    specsOf(emitter, 'divider')
      .filter((s) => s.couples)
      .map((s) => s.name),
  );
  const rest = { volts: { b: 1.68, c: 5.1, e: 1.04 }, amps: { Q1: 0.52e-3 } };
  const show = (reading: 'built' | 'dc' | 'signal') => {
    render(
      <Schematic
        drawing={drawingOf(emitter, 'divider', exact)}
        values={exact}
        leftOut={{}}
        resistorSymbol="box"
        title={reading}
        reading={reading}
        couplers={couplers}
        rest={rest}
      />,
    );
    return screen.getByRole('img', { name: reading });
  };

  test('as built it shows every value, and the volts and milliamperes at rest', () => {
    const picture = show('built');
    for (const text of ['C1', '100 nF', 'b 1.68 V', 'c 5.1 V', '520 µA', '+V']) expect(picture).toHaveTextContent(text);
  });

  test('DC passes no capacitor: their places are empty, what rests is still told', () => {
    const picture = show('dc');
    expect(picture).not.toHaveTextContent('100 nF');
    expect(picture).toHaveTextContent('C1');
    expect(picture).toHaveTextContent('c 5.1 V');
  });

  test('the signal finds wires for capacitors and ground for supplies, and no resting volts', () => {
    const picture = show('signal');
    expect(picture).not.toHaveTextContent('+V');
    expect(picture).toHaveTextContent('ground');
    expect(picture).not.toHaveTextContent('5.1 V');
  });
});
