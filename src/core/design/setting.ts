import { z } from 'zod';
import { id } from './fields';
import type { Variant } from './schema';

/** How a board's controls and switches stood, and where it was listened to. */
export const settingSchema = z.object({
  positions: z.record(id, z.number().min(0).max(1)).describe('of the controls, by their ids'),
  outputs: z.record(id, z.string().max(40)).describe('of the stages that have several, by their ids'),
  modes: z.record(id, z.string().max(40)).describe('of the stages that have several, by their ids'),
  acrossDeg: z.number().min(-90).max(90).optional().describe('off the axis of a loudspeaker, degrees'),
  upDeg: z.number().min(-90).max(90).optional(),
});
export type Setting = z.infer<typeof settingSchema>;

/** How a variant stands now. */
export function settingOf(variant: Variant): Setting {
  const stages = variant.ways.flatMap((way) => way.stages);
  const { listening } = variant;
  return {
    positions: Object.fromEntries(variant.controls.map((c) => [c.id, c.position])),
    outputs: Object.fromEntries(stages.filter((s) => s.output !== '').map((s) => [s.id, s.output])),
    modes: Object.fromEntries(stages.filter((s) => s.mode !== '').map((s) => [s.id, s.mode])),
    ...(variant.join === 'acoustic' && listening ? { acrossDeg: listening.acrossDeg, upDeg: listening.upDeg } : {}),
  };
}

/** The variant as it stood: what is no longer there is passed over. */
export function atSetting(variant: Variant, { positions, outputs, modes, acrossDeg, upDeg }: Setting): Variant {
  return {
    ...variant,
    controls: variant.controls.map((c) => ({ ...c, position: positions[c.id] ?? c.position })),
    ways: variant.ways.map((way) => ({
      ...way,
      stages: way.stages.map((s) => ({ ...s, output: outputs[s.id] ?? s.output, mode: modes[s.id] ?? s.mode })),
    })),
    ...(variant.listening
      ? {
          listening: {
            ...variant.listening,
            acrossDeg: acrossDeg ?? variant.listening.acrossDeg,
            upDeg: upDeg ?? variant.listening.upDeg,
          },
        }
      : {}),
  };
}
