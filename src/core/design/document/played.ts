import * as z from 'zod';

/** What is played: notes in turn, or a sequence of steps with accents and slides. */
const MOST_STEPS = 16;
export const sequenceSchema = z.object({
  bpm: z.number().min(20).max(300).describe('beats a minute; four steps a beat'),
  baseHz: z.number().min(8).max(4000),
  /** Of a step's time, how long its note is held. */
  gate: z.number().min(0.05).max(1),
  steps: z
    .array(
      z.object({
        /** Over the base; null: a rest. */
        semitones: z.int().min(-36).max(36).nullable(),
        accent: z.boolean(),
        /** Held into the next, which begins from its pitch. */
        slide: z.boolean(),
      }),
    )
    .min(1)
    .max(MOST_STEPS),
});
export type Sequence = z.infer<typeof sequenceSchema>;

/** What moves controls while a circuit sounds: an envelope that every note starts, or an oscillation. */
export const moveSchema = z.object({
  controlId: z.string(),
  /** Of its travel, either way from where it stands. */
  depth: z.number().min(-1).max(1),
  by: z.discriminatedUnion('kind', [
    z.object({
      kind: z.literal('envelope'),
      attackS: z.number().min(0).max(10),
      decayS: z.number().min(0).max(20),
      /** How much further an accent takes it, as a share of the depth. */
      accent: z.number().min(0).max(2),
    }),
    z.object({
      kind: z.literal('oscillation'),
      hz: z.number().min(0.01).max(50),
      shape: z.enum(['sine', 'triangle', 'square']),
    }),
  ]),
});
export type Move = z.infer<typeof moveSchema>;
export const MOST_MOVES = 8;

/** What is played on a variant to hear it, and what moves its controls then. */
export const playedSchema = z.object({
  sequence: sequenceSchema,
  moves: z.array(moveSchema).max(MOST_MOVES),
});

const step = (semitones: number | null, accent = false, slide = false): Sequence['steps'][number] => ({
  semitones,
  accent,
  slide,
});
/** A run up and down a minor chord with a rest to breathe in: what a sequence begins as. */
export const FIRST_SEQUENCE: Sequence = {
  bpm: 112,
  baseHz: 55,
  gate: 0.6,
  steps: [
    step(0, true),
    step(0),
    step(12, false, true),
    step(7),
    step(3, true),
    step(null),
    step(10),
    step(7, false, true),
    step(0, true),
    step(12),
    step(null),
    step(15, false, true),
    step(12),
    step(7, true),
    step(3),
    step(-2),
  ],
};
