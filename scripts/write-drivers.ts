import { mkdirSync, writeFileSync } from 'node:fs';
import { demoDriverFiles } from '../src/core/loudspeaker/demo-drivers';

/**
 * Writes the workshop's driver files to public/drivers: demo data to read in, as a measuring program would leave it.
 */
const folder = new URL('../public/drivers/', import.meta.url);
mkdirSync(folder, { recursive: true });
for (const { name, text } of demoDriverFiles()) writeFileSync(new URL(name, folder), text);
