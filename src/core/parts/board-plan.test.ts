import { gradeById } from './grades';
import { boardPlan, LAYOUTS, type BoardGroup, type BoardPart, type BoardWay } from './board-plan';

const part = (name: string, value: number): BoardPart => ({
  name,
  kind: name[0] === 'L' ? 'inductor' : name[0] === 'C' ? 'capacitor' : 'resistor',
  value,
  grade: gradeById({ L: 'air-1.0', C: 'film', R: 'wirewound-10' }[name[0]]),
});
const group = (inLine: boolean, sideBySide: boolean, ...parts: BoardPart[]): BoardGroup => ({
  inLine,
  sideBySide,
  parts,
});
const ways: BoardWay[] = [
  {
    name: 'Woofer',
    reversed: false,
    groups: [
      group(true, false, part('L1', 1.2e-3)),
      group(false, false, part('C1', 4.7e-6)),
      group(false, false, part('L2', 3.3e-3), part('C2', 6.8e-6), part('R2', 8.2)),
    ],
  },
  {
    name: 'Tweeter',
    reversed: true,
    groups: [
      group(true, false, part('C3', 10e-6)),
      group(false, false, part('L3', 0.2e-3)),
      group(true, true, part('R4', 1.2), part('C4', 2.2e-6)),
      group(false, false, part('R5', 4.7)),
    ],
  },
];

test.each(LAYOUTS)('%s: every part once, on the board, none on another', (layout) => {
  const plan = boardPlan(ways, layout);
  expect(plan.parts.map((p) => p.name).sort()).toEqual(['C1', 'C2', 'C3', 'C4', 'L1', 'L2', 'L3', 'R2', 'R4', 'R5']);
  for (const p of plan.parts) {
    expect(p.x - p.width / 2).toBeGreaterThanOrEqual(0);
    expect(p.x + p.width / 2).toBeLessThanOrEqual(plan.width);
    expect(p.y - p.height / 2).toBeGreaterThanOrEqual(0);
    expect(p.y + p.height / 2).toBeLessThanOrEqual(plan.height);
  }
  plan.parts.forEach((a, i) =>
    plan.parts.slice(i + 1).forEach((b) => {
      const apart = Math.abs(a.x - b.x) >= (a.width + b.width) / 2 || Math.abs(a.y - b.y) >= (a.height + b.height) / 2;
      expect([a.name, b.name, apart]).toEqual([a.name, b.name, true]);
    }),
  );
  expect(plan.terminals.map((t) => t.label)).toEqual(
    expect.arrayContaining(['input +', 'input −', 'Woofer +', 'Woofer −', 'Tweeter −', 'Tweeter +']),
  );
});

test(
  'parts one behind the other are wired in a chain: only the first from the line, only the last to the ' +
    'common conductor',
  () => {
    const plan = boardPlan(ways, LAYOUTS[1]);
    const chain = ['L2', 'C2', 'R2'].map((name) => plan.parts.find((p) => p.name === name)!);
    expect(new Set(chain.map((p) => p.y)).size).toBe(1);
    const joints = chain.slice(1).map((p, i) => [
      [chain[i].x + chain[i].width / 2, p.y],
      [p.x - p.width / 2, p.y],
    ]);
    for (const joint of joints) expect(plan.wires).toContainEqual(joint);
  },
);

test('neighbouring coils stand square to one another, and a reversed driver has its terminals changed over', () => {
  const plan = boardPlan(ways, LAYOUTS[0]);
  expect(plan.coils).toHaveLength(3);
  expect(plan.coils.every((c) => c.square)).toBe(true);
  const label = (text: string) => plan.terminals.find((t) => t.label === text)!;
  expect(label('Tweeter −').y).not.toBe(label('Tweeter +').y);
});
