import * as z from 'zod';
import { DESIGN_VERSION, designSchema } from './schema';

/** The JSON Schema of a design file as published under /schema/design-<version>.json. */
export function designJsonSchema(): string {
  const schema = z.toJSONSchema(designSchema, { io: 'input', unrepresentable: 'any' });
  const titled = {
    ...schema,
    title: `Jaunty Reed design, version ${DESIGN_VERSION}`,
    description: 'SI units throughout: ohm, farad, henry, hertz, volt; levels in dB, tolerances in per cent.',
  };
  return `${JSON.stringify(titled, null, 2)}\n`;
}
