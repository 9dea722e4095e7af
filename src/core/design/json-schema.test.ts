import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { designJsonSchema } from './json-schema';
import { demoDesigns } from './demo';
import { readDesign } from './migrate';
import { writeDesign } from './migrate';

const ROOT = join(__dirname, '../../..');

test('the published schema is the one the program reads by (npm run schema writes it)', () =>
  expect(readFileSync(join(ROOT, 'public/schema/design-2.json'), 'utf8')).toBe(designJsonSchema()));

test('a file of version 1, kept as it was written then, still reads', () => {
  const fixture = readFileSync(join(__dirname, 'testing/design-1.json'), 'utf8');
  expect(readDesign(JSON.parse(fixture))).toMatchObject({
    ok: true,
    value: { title: 'Swell-box band limiter' },
  });
});

test('what the schema says of a plan is what the demo designs hold', () => {
  const schema = JSON.parse(designJsonSchema());
  const plan = schema.properties.variants.items.properties.ways.items.properties.plans.items;
  expect(Object.keys(plan.properties).sort()).toEqual(
    Object.keys(JSON.parse(writeDesign(demoDesigns()[0])).variants[0].ways[0].plans[0]).sort(),
  );
});
