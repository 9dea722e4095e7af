import { demoDesigns } from '@/core/design/demo/demo';
import { runSheet } from '@/core/jobs/build/sheet';
import { must } from '@/core/result';
import { shapesOfSheet, stepTo, type SheetPart, type Step } from './sheet-parts';

const at = (id: string, x: number, y: number): SheetPart => ({
  id,
  wayId: 'w',
  stageId: 's',
  name: id,
  called: id,
  value: '',
  at: [x, y],
  vertical: false,
  shapes: [],
});

test.each<[Step, string]>([
  ['ArrowRight', 'east'],
  ['ArrowLeft', 'west'],
  ['ArrowUp', 'north'],
  ['ArrowDown', 'south'],
])('%s walks to the nearest part that way', (step, expected) => {
  const here = at('here', 0, 0);
  const parts = [
    here,
    at('east', 5, 1),
    at('far east', 9, 0),
    at('west', -5, -1),
    at('north', 1, -6),
    at('south', 0, 6),
    // Nearer, but more to the side than ahead.
    at('aslant', 1, 2.5),
  ];
  expect(
    stepTo(
      parts.filter((p) => p.id !== 'aslant'),
      here,
      step,
    ).id,
  ).toBe(expected);
});

test('what lies in line is walked to before what is nearer but aside, and at the end one stays', () => {
  const here = at('here', 0, 0);
  const parts = [here, at('aside', 4, 4), at('in line', 7, 0)];
  expect(stepTo(parts, here, 'ArrowRight').id).toBe('in line');
  expect(stepTo(parts, here, 'ArrowLeft')).toBe(here);
});

test.each(demoDesigns().map((d) => [d.title, d] as const))('%s: every part is come to by arrows alone', (_, design) => {
  const sheet = must(runSheet({ kind: 'sheet', design, variantId: design.currentVariant }));
  const parts = shapesOfSheet(sheet).flatMap((s) => s.parts);
  expect(parts.map((p) => p.called)).toEqual([...new Set(parts.map((p) => p.called))]);
  for (const part of parts) expect([part.called, part.value]).toEqual([part.called, expect.stringMatching(/\S/)]);
  const seen = new Set([parts[0].id]);
  const waiting = [parts[0]];
  for (let part = waiting.pop(); part; part = waiting.pop())
    for (const step of ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'] as const) {
      const next = stepTo(parts, part, step);
      if (seen.has(next.id)) continue;
      seen.add(next.id);
      waiting.push(next);
    }
  expect(parts.filter((p) => !seen.has(p.id)).map((p) => p.called)).toEqual([]);
});
