import type { Failure } from '@/core/result';
import { CIRCUIT_FAILURES } from './failures/circuit-failures';
import type { FailureWords } from './failures/failure-words';
import { FILE_FAILURES } from './failures/file-failures';
import { MEASURING_FAILURES } from './failures/measuring-failures';
import { REQUEST_FAILURES } from './failures/request-failures';
import { SPEAKER_FAILURES } from './failures/speaker-failures';
import { VOICE_FAILURES } from './failures/voice-failures';

/** Every failure's words, by subject. */
export const FAILURES: readonly FailureWords[] = [
  CIRCUIT_FAILURES,
  VOICE_FAILURES,
  SPEAKER_FAILURES,
  FILE_FAILURES,
  REQUEST_FAILURES,
  MEASURING_FAILURES,
];
const WORDS: FailureWords = Object.assign({}, ...FAILURES);

/** A failed design, simulation, file or measurement in a sentence or two. */
export const failureWords = ({ code, data }: Failure): string =>
  WORDS[code]?.(data) ?? `Something could not be computed (${code}). Undo the last change; nothing is lost.`;
