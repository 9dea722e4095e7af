import { writeFileSync } from 'node:fs';
import { designJsonSchema } from '../src/core/design/document/json-schema';

/** Writes the published JSON Schema of design files to public/schema. */
writeFileSync(new URL('../public/schema/design-7.json', import.meta.url), designJsonSchema());
