import { writeFileSync } from 'node:fs';
import { designJsonSchema } from '../src/core/design/document/json-schema';
import { DESIGN_VERSION } from '../src/core/design/document/schema';

/** Writes the published JSON Schema of design files to public/schema. */
writeFileSync(new URL(`../public/schema/design-${DESIGN_VERSION}.json`, import.meta.url), designJsonSchema());
