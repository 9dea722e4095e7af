import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { designJsonSchema } from './json-schema';
import { demoDesigns } from './demo';
import { readDesign } from './migrate';
import { writeDesign } from './migrate';

const ROOT = join(__dirname, '../../..');

test('the published schema is the one the program reads by (npm run schema writes it)', () =>
  expect(readFileSync(join(ROOT, 'public/schema/design-5.json'), 'utf8')).toBe(designJsonSchema()));

test.each([
  [1, 'Swell-box band limiter'],
  [2, 'Horn preamplifier, shaped'],
  [3, 'Krummhorn formant'],
  [4, 'Plucked stop, optocoupler gate'],
])('a file of version %d, kept as it was written then, still reads', (version, title) => {
  const fixture = readFileSync(join(__dirname, `testing/design-${version}.json`), 'utf8');
  expect(readDesign(JSON.parse(fixture))).toMatchObject({ ok: true, value: { title } });
});

test('what the schema says of a plan is what the demo designs hold', () => {
  const schema = JSON.parse(designJsonSchema());
  const plan = schema.properties.variants.items.properties.ways.items.properties.plans.items;
  expect([...plan.required].sort()).toEqual(
    Object.keys(JSON.parse(writeDesign(demoDesigns()[0])).variants[0].ways[0].plans[0]).sort(),
  );
});
