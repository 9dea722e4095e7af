import { formatQuantity } from '../../units/quantity';
import { inkBoxes, labelBox, labelsOf, overlap, type Drawing } from '../kit/drawing';
import type { PartSpec } from '../kit/define-topology';
import { PART_UNITS } from '../kit/part-units';
import type { PartValues } from '../kit/part';

/**
 * What is wrong with a drawing: parts not shown once as what they are, labels on ink, on labels or off the sheet, parts
 * on parts. Empty when it is clean.
 */
export function drawingFaults(
  drawing: Drawing,
  parts: readonly { readonly spec: Pick<PartSpec, 'name' | 'kind'> }[],
  values: PartValues,
): string[] {
  const sorted = (list: readonly { name: string; kind: string }[]) =>
    list.map(({ name, kind }) => `${name} ${kind}`).sort();
  const [drawn, declared] = [
    sorted(drawing.parts.map((p) => ({ name: p.part, kind: p.kind }))),
    sorted(parts.map((p) => p.spec)),
  ];
  const faults = drawn.join() === declared.join() ? [] : [`drawn ${drawn}, declared ${declared}`];
  const labels = drawing.parts.flatMap((p) =>
    labelsOf(p).map((l) => {
      const text = l.line === 'name' ? p.part : formatQuantity(values[p.part], PART_UNITS[p.kind]);
      return labelBox(l, text.length);
    }),
  );
  const ink = inkBoxes(drawing);
  labels.forEach((label, i) => {
    const on = [...ink, ...labels.slice(i + 1)].filter((box) => overlap(label, box));
    faults.push(...on.map((box) => `${label.what} on ${box.what}`));
    if (label.x0 < -1 || label.x1 > drawing.width + 1 || label.y0 < 0 || label.y1 > drawing.height)
      faults.push(`${label.what} off the sheet`);
  });
  const bodies = ink.filter((box) => drawing.parts.some((p) => p.part === box.what));
  bodies.forEach((body, i) => {
    const on = bodies.slice(i + 1).filter((other) => overlap(body, other));
    faults.push(...on.map((other) => `${body.what} on ${other.what}`));
  });
  return faults;
}
