import { seeded } from '../testing/seeded';
import { boardFaults } from './board-reader';
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
    expect.arrayContaining(['Woofer +', 'Woofer −', 'Tweeter −', 'Tweeter +']),
  );
  const inputs = plan.terminals.filter((t) => t.label.startsWith('input'));
  expect(inputs.map((t) => t.label)).toEqual(
    layout === 'two boards' ? ['input 1 +', 'input 1 −', 'input 2 +', 'input 2 −'] : ['input +', 'input −'],
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

describe('a plan read from its own geometry', () => {
  const three = [...ways, { ...ways[0], name: 'Midrange', groups: ways[0].groups.slice(0, 2) }];

  test.each(LAYOUTS)('%s: what touches is the circuit, of two ways and of three', (layout) => {
    expect(boardFaults(boardPlan(ways, layout), ways)).toEqual([]);
    expect(boardFaults(boardPlan(three, layout), three)).toEqual([]);
  });

  test('of many circuits drawn by lot', () => {
    const next = seeded('boards');
    const drawn = (kind: string, n: number) => part(`${kind}${n}`, { L: 1e-3, C: 1e-5, R: 5 }[kind]! * (0.1 + next()));
    for (let round = 0; round < 120; round++) {
      let n = 0;
      const circuit = Array.from({ length: 1 + Math.floor(4 * next()) }, (_, w): BoardWay => ({
        name: `Way ${w}`,
        reversed: next() < 0.5,
        groups: Array.from({ length: Math.floor(6 * next()) }, () => {
          const count = 1 + Math.floor(3 * next());
          const parts = Array.from({ length: count }, () => drawn('LCR'[Math.floor(3 * next())], ++n));
          const inLine = next() < 0.5;
          return group(inLine, count > 1 && (inLine || next() < 0.5), ...parts);
        }),
      }));
      for (const layout of LAYOUTS) expect(boardFaults(boardPlan(circuit, layout), circuit)).toEqual([]);
    }
  });

  test('a conductor that crosses another, one that is missing, and a terminal that is touched are found', () => {
    const plan = boardPlan(ways, LAYOUTS[1]);
    const at = (label: string) => plan.terminals.find((t) => t.label === label)!;
    const [plus, minus] = [at('input +'), at('input −')];
    const shorted = { ...plan, wires: [...plan.wires, [[plus.x, plus.y] as const, [minus.x, minus.y] as const]] };
    expect(boardFaults(shorted, ways)).toContainEqual({ kind: 'joined', between: ['input +', 'input −'] });
    const beside = { ...plan, wires: [...plan.wires, [[plus.x, plus.y] as const, [minus.x, minus.y - 3.5] as const]] };
    expect(boardFaults(beside, ways)).toContainEqual({ kind: 'joined', between: ['input +', 'input −'] });
    // Hardly a conductor may be left out; what some lie beside is only as long as it need not be.
    const needed = plan.wires.filter((wire) => {
      const open = { ...plan, wires: plan.wires.filter((w) => w !== wire) };
      return boardFaults(open, ways).some((f) => f.kind === 'apart');
    });
    expect(needed.length).toBeGreaterThan(plan.wires.length / 2);
  });
});
