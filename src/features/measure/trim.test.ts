import type { TrimStep } from '@/store/trimming';
import { adviceOf } from './trim';

const step = (rmsDb: number, share = 1): TrimStep => ({
  rmsDb,
  worst: null,
  deepest: { freqHz: 1, levelDb: 0 },
  share,
});

test.each<[string, TrimStep[], string | null, RegExp]>([
  ['nearer than a sweep can tell', [step(1), step(0.04)], 'R1', /^Stop/],
  ['worse than the best by more than a sixth', [step(1), step(1.2)], 'R1', /turn back/],
  ['the best, and room to turn on', [step(2), step(1, 1.3)], 'R1', /go on/],
  ['the best at the end of its travel', [step(2), step(1, 1.6)], 'R1', /1\.00.dB off: R1 alone will not do/],
  ['the best at its other end', [step(2), step(1, 0.4)], 'R1', /will not do/],
  ['short of its end by a third of a per cent', [step(2), step(1, 1.597)], 'R1', /go on/],
  ['within a sixth of a per cent of its end', [step(2), step(1, 1.599)], 'R1', /will not do/],
  ['turned back from an end that was no better', [step(1, 0.8), step(1.1, 0.4)], 'R1', /go on/],
  ['a board whose trimmer is not seen', [step(2), step(1, 1.6)], null, /go on/],
])('%s', (_, steps, part, said) => {
  expect(adviceOf(steps, part)).toMatch(said);
});
