import { priceOf } from '../../parts/grades';
import { must } from '../../result';
import { demoDesigns } from '../demo/demo';
import { variantPrice } from './price';
import { designWay } from './stage-design';

const design = demoDesigns().find((d) => d.title === 'Tone cabinet, two-way')!;

test('a part that is left out, and a stage that is bypassed, cost nothing', () => {
  const [variant] = design.variants;
  const whole = variantPrice(variant, design)!;
  const [way] = variant.ways;
  const [stage] = must(designWay(way, design, variant.controls)).stages;
  const bought = stage.parts.filter((p) => p.grade && !p.choice.leftOut);
  const withStage = (patch: (s: (typeof way.stages)[number]) => (typeof way.stages)[number]) => ({
    ...variant,
    ways: variant.ways.map((w) => ({ ...w, stages: w.stages.map((s) => (s.id === stage.stage.id ? patch(s) : s)) })),
  });
  const [part] = bought;
  const without = withStage((s) => ({
    ...s,
    parts: { ...s.parts, [part.spec.name]: { ...s.parts[part.spec.name], leftOut: true } },
  }));
  expect(whole - variantPrice(without, design)!).toBeCloseTo(priceOf(part.chosen, part.grade!), 1);
  const bypassed = withStage((s) => ({ ...s, bypassed: true }));
  const all = bought.reduce((sum, p) => sum + priceOf(p.chosen, p.grade!), 0);
  expect(whole - variantPrice(bypassed, design)!).toBeCloseTo(all, 1);
});
