import { AcSolver } from '../../analysis/ac/solver';
import { runDesk } from '../../jobs/desk/desk';
import { must } from '../../result';
import { demoDesigns } from './demo';
import { designSchema } from '../document/schema';

const flute = demoDesigns().find((d) => d.title.startsWith('Stopped flute'))!;
const joint = (variant: number) => {
  const { joints, checks } = must(
    runDesk(
      {
        kind: 'desk',
        design: flute,
        variantId: flute.variants[variant].id,
        ghostVariantId: null,
        grid: { fromHz: 20, toHz: 20e3, points: 121 },
      },
      new AcSolver(),
    ),
  );
  return { lossDb: joints[1].lossDb, check: checks.find((c) => c.id === 'joint-1')! };
};

test('every demo design is a design', () => {
  for (const design of demoDesigns()) expect(designSchema.safeParse(design).success).toBe(true);
});

test(
  'the flute’s make-up stage takes most of the level from the filter; bootstrapped it takes little, ' +
    'behind a follower still less',
  () => {
    const [plain, lifted, behind] = [joint(0), joint(1), joint(2)];
    expect(plain.lossDb).toBeLessThan(-3);
    expect(plain.check.cure).toMatchObject({ kind: 'use-form', form: 'bootstrapped' });
    expect(plain.check.others).toMatchObject([{ kind: 'insert-follower', joint: 1 }]);
    expect(lifted.lossDb).toBeGreaterThan(plain.lossDb / 2);
    expect(behind.lossDb).toBeGreaterThan(-1);
  },
);
