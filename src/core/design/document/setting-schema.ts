import * as z from 'zod';
import { id } from './fields';

/** How a board's controls and switches stood, and where it was listened to. */
export const settingSchema = z.object({
  positions: z.record(id, z.number().min(0).max(1)).describe('of the controls, by their ids'),
  outputs: z.record(id, z.string().max(40)).describe('of the stages that have several, by their ids'),
  modes: z.record(id, z.string().max(40)).describe('of the stages that have several, by their ids'),
  polarities: z
    .record(id, z.union([z.literal(1), z.literal(-1)]))
    .optional()
    .describe('of the ways, by their ids'),
  acrossDeg: z.number().min(-90).max(90).optional().describe('off the axis of a loudspeaker, degrees'),
  upDeg: z.number().min(-90).max(90).optional(),
});
export type Setting = z.infer<typeof settingSchema>;
