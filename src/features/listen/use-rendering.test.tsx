import { act, renderHook } from '@testing-library/react';
import type { Variant } from '@/core/design/document/schema';
import { failure, success } from '@/core/result';
import { useRendering } from './use-rendering';

type Told = (share: number, heard?: object) => void;
const mockJobs: { told: Told; answer: (said: object) => void }[] = [];
jest.mock('@/workers/job-client', () => ({
  startJob: (_: object, told: Told) => {
    let answer: (said: object) => void = () => {};
    const said = new Promise((resolve) => (answer = resolve));
    mockJobs.push({ told, answer });
    return { answer: said, cancel: () => answer(failure('cancelled', {})) };
  },
}));
const mockGiven: [samples: number, whole: boolean][] = [];
let mockEnd: () => void = () => {};
const mockStopped = jest.fn();
jest.mock('@/ui/audio', () => ({
  stopSound: () => mockStopped(),
  SoundAsItComes: class {
    constructor(_: number, onEnd: () => void) {
      mockEnd = onEnd;
    }
    give = (samples: Float32Array, _: number, whole: boolean) => void mockGiven.push([samples.length, whole]);
  },
}));

const heard = (length: number) => ({ samples: new Float32Array(length), rateHz: 48_000 });
const begun = (count = 1) => {
  const { result } = renderHook(() => useRendering());
  const variants = Array.from({ length: count }, (_, i) => ({ id: `${i}` })) as Variant[];
  act(() => void result.current.start(variants, () => ({}) as never));
  return result;
};
beforeEach(() => {
  mockJobs.length = 0;
  mockGiven.length = 0;
  mockStopped.mockClear();
});

test('what there is already is played from its beginning, then what comes; its end is seen', async () => {
  const result = begun();
  act(() => mockJobs[0].told(0.2, heard(100)));
  act(() => result.current.hear(0.5));
  act(() => mockJobs[0].told(0.4, heard(200)));
  await act(async () => mockJobs[0].answer(success(heard(300))));
  expect(mockGiven).toEqual([
    [100, false],
    [200, false],
    [200, true],
  ]);
  expect(result.current).toMatchObject({ hearing: true, progress: null });
  act(() => mockEnd());
  expect(result.current.hearing).toBe(false);
});

test('what is done before anything was told of it is heard whole', async () => {
  const result = begun();
  act(() => result.current.hear(0.5));
  await act(async () => mockJobs[0].answer(success(heard(300))));
  expect(mockGiven).toEqual([[300, true]]);
  expect(result.current.rendered.map((r) => r.variant)).toEqual(['0']);
});

test('what fails or is stopped falls silent; the next variant is not heard in the place of the last', async () => {
  const result = begun(2);
  act(() => result.current.hear(0.5));
  await act(async () => mockJobs[0].answer(success(heard(300))));
  act(() => mockJobs[1].told(0.5, heard(400)));
  expect(mockGiven).toEqual([[300, true]]);
  expect(result.current.hearing).toBe(true);
  act(() => result.current.hear(0.5));
  mockStopped.mockClear();
  await act(async () => mockJobs[1].answer(failure('did-not-settle', { timeS: 0.1, share: 0.5 })));
  expect(mockStopped).toHaveBeenCalledTimes(1);
  expect(result.current).toMatchObject({ hearing: false, progress: null });
  expect(result.current.failed).toContain('would not settle');
});
