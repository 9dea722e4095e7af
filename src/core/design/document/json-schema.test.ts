import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { must } from '../../result';
import { designJsonSchema } from './json-schema';
import { demoDesigns } from '../demo/demo';
import { readDesign } from './migrate';
import { DESIGN_VERSION } from './schema';
import { writeDesign } from './migrate';

const ROOT = join(__dirname, '../../../..');

test('the published schema is the one the program reads by (npm run schema writes it)', () =>
  expect(readFileSync(join(ROOT, `public/schema/design-${DESIGN_VERSION}.json`), 'utf8')).toBe(designJsonSchema()));

test.each([
  [1, 'Swell-box band limiter'],
  [2, 'Horn preamplifier, shaped'],
  [3, 'Krummhorn formant'],
  [4, 'Plucked stop, optocoupler gate'],
  [5, 'Plucked stop, optocoupler gate'],
  [6, 'Plucked stop, optocoupler gate'],
  [7, 'Regal band limiter'],
])('a file of version %d, kept as it was written then, still reads', (version, title) => {
  const fixture = readFileSync(join(__dirname, `testing/design-${version}.json`), 'utf8');
  expect(readDesign(JSON.parse(fixture))).toMatchObject({ ok: true, value: { title } });
});

test('a gate whose forms were all at once is compensated since version 6', () => {
  const fixture = JSON.parse(readFileSync(join(__dirname, 'testing/design-5.json'), 'utf8'));
  expect(fixture.variants[0].ways[0].stages[0].mode).toBe('both at once');
  const read = must(readDesign(fixture));
  expect(read.variants[0].ways[0].stages[0].mode).toBe('compensated');
});

test('what the schema says of a plan is what the demo designs hold', () => {
  const schema = JSON.parse(designJsonSchema());
  const plan = schema.properties.variants.items.properties.ways.items.properties.plans.items;
  expect([...plan.required].sort()).toEqual(
    Object.keys(JSON.parse(writeDesign(demoDesigns()[0])).variants[0].ways[0].plans[0]).sort(),
  );
});
