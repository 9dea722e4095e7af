import { reasonOf } from '@/core/result';
import { formatQuantity } from '@/core/units/quantity';
import { readSound } from '@/ui/audio';
import { pickTextFile } from '@/ui/download';
import { OWN_S, type OwnSound } from './wanted';

/** A recording that is shorter is no sound but a click. */
const SHORTEST_OWN_S = 0.02;
/** More than some hours of sound are not read into memory for eight seconds of it. */
const MOST_OWN_BYTES = 250e6;

/** A recording of one's own, from a file that is chosen; why it is none in words; null where none is chosen. */
export async function takeRecording(): Promise<OwnSound | string | null> {
  const file = await pickTextFile('.wav,.flac,.ogg,.mp3', MOST_OWN_BYTES);
  if (!file) return null;
  if (file.over !== null)
    return (
      `${file.name} has ${Math.round(file.over / 1e6)}\u202fMB, and only its first ${OWN_S}\u202fs are played: cut ` +
      'out what you want to hear, a minute or less, and take that. Nothing was changed.'
    );
  try {
    const read = await readSound(file.bytes);
    const seconds = read.samples.length / read.rateHz;
    return seconds < SHORTEST_OWN_S
      ? `${file.name} lasts ${formatQuantity(seconds, 'time', { digits: 2 })}, which is too short to hear: take ` +
          `one of at least ${formatQuantity(SHORTEST_OWN_S, 'time')}. Nothing was changed.`
      : { name: file.name, ...read };
  } catch (error) {
    return `${file.name} is no sound that this browser reads: ${reasonOf(error)}. Nothing was changed.`;
  }
}
