import { must } from '../../result';
import { designWith } from '../../testing/voice-design';
import { otaOnePole } from '../../topology/voice/ota-one-pole';
import { JobRunner } from '../run-job';

const runner = new JobRunner();
const deskAt = async (position: number) => {
  const design = designWith(otaOnePole, { cutoffHz: 800 });
  const [variant] = design.variants;
  const turned = {
    ...design,
    variants: [{ ...variant, controls: variant.controls.map((c) => ({ ...c, position })) }],
  };
  const grid = { fromHz: 20, toHz: 20e3, points: 121 };
  const asked = { design: turned, variantId: variant.id, ghostVariantId: null, grid };
  return must(await runner.run<'desk'>({ kind: 'desk', ...asked }));
};

test('a knob that is turned is no error of the design: ideal and target follow it', async () => {
  // Eight octaves from end to end: a quarter of the way up is two octaves.
  const [middle, turned] = [await deskAt(0.5), await deskAt(0.75)];
  const cutoff = ({ stages: [{ network }] }: typeof middle) => network!.parameters.find((p) => p.name === 'cutoffHz')!;
  expect(cutoff(turned).wanted).toBe(800);
  expect(cutoff(turned).aimed! / cutoff(middle).aimed!).toBeCloseTo(4, 1);
  expect(cutoff(turned).got / cutoff(turned).aimed!).toBeCloseTo(1, 2);
  turned.ideal.levelDb.forEach((ideal, i) => {
    if (ideal > -20) expect(Math.abs(ideal - turned.asBuilt.levelDb[i])).toBeLessThan(0.6);
  });
});
