import * as z from 'zod';

// Zod would otherwise probe `new Function`, which the content security policy refuses.
z.config({ jitless: true });

/** How much of anything a design holds: far more than is sensible, so that nothing made by hand comes near. */
export const MANY = 400;
export const MOST_POINTS = 1_000_000;

/** Names things to one another, in addresses and in files: letters, figures and a few signs, no dot to begin with. */
export const id = z
  .string()
  .max(80)
  .regex(/^[\p{L}\p{N}_~-][\p{L}\p{N}_~.,:+ -]*$/u, { error: 'is no name for a thing: letters, figures, - and _ are' });
export const name = z.string().max(200);
export const hertz = z.number().positive().max(1e9).describe('Hz');
export const ohm = z.number().positive().max(1e12).describe('ohm');
export const metre = z.number().min(-10).max(10).describe('m');
export const decibel = z.number().min(-300).max(300).describe('dB');
export const quality = z.number().positive().max(1e4);
