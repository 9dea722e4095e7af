import { AcSolver } from '../../analysis/ac/solver';
import { must } from '../../result';
import { designWith } from '../../testing/voice-design';
import { lonePath } from '../../testing/lone-path';
import { NETWORK_TOPOLOGIES, SECTION_TOPOLOGIES } from '../../topology/index';
import { otaCascade } from '../../topology/voice/ota-cascade';
import type { Design } from '../../design/document/schema';
import { runWalk, type Walk } from './walk';

const solver = new AcSolver();
const walked = (design: Design): Walk =>
  must(
    runWalk(
      {
        kind: 'walk',
        design,
        variantId: design.currentVariant,
        stageId: design.variants[0].ways[0].stages[0].id,
      },
      solver,
    ),
  );

test('an OTA cascade: divider, OTA, follower, four times; what comes round is told where it comes in', () => {
  const walk = walked(designWith(otaCascade, { cutoffHz: 1000, feedback: 2 }));
  expect(walk.steps.map((s) => s.through)).toEqual([
    ...['R1', 'U1', 'B1'],
    ...[2, 3, 4].flatMap((k) => [`R${k}1`, `U${k}`, `B${k}`]),
  ]);
  expect(walk.steps[0]).toMatchObject({ role: 'divides the input', device: null, to: 'p1' });
  expect(walk.steps[1]).toMatchObject({ device: 'OTA', to: 'n1' });
  expect(walk.steps[walk.steps.length - 1].to).toBe('out');
  // R1 and R2 divide 22 kΩ by 220 Ω: 40.1 dB, and turn nothing.
  expect(walk.steps[0].gainDb).toBeCloseTo(20 * Math.log10(220 / 22220), 1);
  expect(walk.steps[0].phaseDeg).toBeCloseTo(0, 1);
  expect(walk.steps[0].besides.map((b) => b.part)).toContain('R2');
  // Steps come to the whole.
  expect(walk.steps.reduce((sum, s) => sum + s.gainDb!, 0)).toBeCloseTo(walk.gainDb, 6);
});

test('an inverting stage comes to a virtual ground, which stands still, and its feedback is told there', () => {
  const design = lonePath({ topology: 'multiple-feedback', form: 'lowpass' }, {});
  const walk = walked(design);
  const [, , last] = walk.steps;
  expect(walk.steps.map((s) => s.device)).toEqual([null, null, 'op-amp']);
  expect(walk.steps[1].gainDb).toBeNull();
  expect(walk.steps[1].besides.some((b) => b.from === 'out')).toBe(true);
  expect(last.to).toBe('out');
});

test.each([
  ['multiple-feedback', 'lowpass'],
  ['state-variable', 'bandpass'],
  // Of high-pass and low-pass next to nothing is left where its last op-amp adds them.
  ['state-variable', 'notch'],
] as const)('%s as %s: no op-amp’s output stands still, and the steps come to the whole', (topology, form) => {
  const walk = walked(lonePath({ topology, form, wanted: { q: 5 } }, { device: 'ideal' }));
  for (const step of walk.steps.filter((s) => s.device === 'op-amp')) expect(step.gainDb).not.toBeNull();
  expect(walk.steps.reduce((sum, s) => sum + (s.gainDb ?? 0), 0)).toBeCloseTo(walk.gainDb, 6);
});

test.each(
  [...NETWORK_TOPOLOGIES.filter((t) => t.family !== 'loudspeaker'), ...SECTION_TOPOLOGIES].map(
    (t) => [t.id, t] as const,
  ),
)('%s has a way from its input to its output', (id, topology) => {
  const form = topology.role === 'network' ? topology.modes[0] : topology.responses[0];
  const walk = walked(lonePath({ topology: id, form }, {}));
  expect(walk.steps.length).toBeGreaterThan(0);
  expect(walk.steps[walk.steps.length - 1].to).toBe('out');
  expect(Number.isFinite(walk.phaseDeg)).toBe(true);
});
