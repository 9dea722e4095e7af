import { invertingBlock, sketch } from '../kit/drawing-blocks';
import { across, type Drawing, type Point } from '../kit/drawing';
import { inputsOf, losesAt, orderOf, signOf, states } from './leapfrog-network';

/** The name of a state's voltage on the sheet; the last is the output. */
const netName = (k: number, turned: boolean, order: number): string =>
  k === order && !turned ? 'out' : `${signOf(k) * (turned ? -1 : 1) < 0 ? '−' : ''}${k % 2 === 1 ? 'V' : 'I'}${k}`;
const INPUT_ROW = 5;
const COLUMN = 29;
const LEAD_IN = 5;

/** Every op-amp with its own inputs, joined by the names of voltages: a leapfrog's wires would hide what it does. */
export function leapfrogDrawing(form: string): Drawing {
  const n = orderOf(form);
  const drawn = sketch();
  const blocks = states(form).flatMap((k) =>
    k % 2 === 0
      ? [
          { k, inverter: false },
          { k, inverter: true },
        ]
      : [{ k, inverter: false }],
  );
  const next: [number, number] = [2, 2];
  for (const { k, inverter } of blocks) {
    const column = next[0] <= next[1] ? 0 : 1;
    const x = LEAD_IN + column * COLUMN;
    const inputs = inverter ? [] : inputsOf(form, k);
    const feedback = inverter
      ? [[`R${k}o`, 'resistor'] as const]
      : [[`C${k}`, 'capacitor'] as const, ...(losesAt(form, k) ? [[`R${k}d`, 'resistor'] as const] : [])];
    const y = next[column] + 2.5 + 4.8 * feedback.length;
    const first = inverter ? ([`R${k}i`, 'resistor'] as const) : ([inputs[0].part, inputs[0].kind] as const);
    const block = invertingBlock(drawn, x, y, inverter ? `U${k}i` : `U${k}`, first, feedback);
    const label = (at: Point, text: string) => {
      drawn.wires.push([at, [x, at[1]]]);
      drawn.ports.push({ label: text, at, side: 'left' });
    };
    label(
      [x - LEAD_IN + 1, y],
      inverter ? netName(k, false, n) : inputs[0].from === 'in' ? 'in' : netName(inputs[0].from, inputs[0].turned, n),
    );
    inputs.slice(1).forEach(({ part, kind, from, turned }, i) => {
      const row = y + INPUT_ROW * (i + 1);
      drawn.parts.push(across(part, kind, x + 2.5, row));
      drawn.wires.push(
        [
          [x, row],
          [x + 0.5, row],
        ],
        [
          [x + 4.5, row],
          [block.sum[0], row],
        ],
      );
      label([x - LEAD_IN + 1, row], netName(from as number, turned, n));
    });
    if (inputs.length > 1) drawn.wires.push([block.sum, [block.sum[0], y + INPUT_ROW * (inputs.length - 1)]]);
    const end: Point = [block.out[0] + 4, block.out[1]];
    drawn.wires.push([block.out, end]);
    drawn.ports.push({ label: netName(k, inverter, n), at: end, side: 'right' });
    next[column] = y + Math.max(7, INPUT_ROW * inputs.length + 1.5);
  }
  return { width: LEAD_IN + COLUMN + 21, height: Math.max(...next) + 2, ...drawn };
}
