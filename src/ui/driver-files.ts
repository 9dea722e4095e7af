import { App } from 'antd';
import { failure, type Failure } from '@/core/result';
import { formatQuantity } from '@/core/units/quantity';
import type { Intake } from '@/store/shelf/driver-intake';
import { failureWords } from '@/ui/words/failures';

const hz = (value: number) => formatQuantity(value, 'frequency', { digits: 2 });

/** What came in, file by file: what it is, over what range, and what is to be known of it. */
export function takenWords(taken: Intake['taken']): string {
  return taken
    .map(({ kind, offDeg, curve, points, sorted, gap }) =>
      [
        offDeg === 0 ? kind : `${kind} at ${offDeg}°`,
        `${points} points`,
        `${hz(curve.freqHz[0])} to ${hz(curve.freqHz[curve.freqHz.length - 1])}`,
        ...(kind === 'response' && offDeg === 0 && !curve.phaseDeg ? ['minimum phase made from its level'] : []),
        ...(curve.freqHz.length < points ? [`brought to ${curve.freqHz.length}`] : []),
        ...(sorted ? ['sorted by frequency'] : []),
        ...(gap ? [`nothing between ${hz(gap.fromHz)} and ${hz(gap.toHz)}`] : []),
      ].join(', '),
    )
    .join('; ');
}

/** Takes files for a way's driver, and says what became of each. */
export function useTakeDriverFiles(): (wayId: string, files: readonly File[]) => Promise<void> {
  const { notification, message } = App.useApp();
  return async (wayId, files) => {
    if (files.length === 0) return;
    const refuse = (title: string, why: Failure) =>
      notification.error({ title, description: failureWords(why), duration: 0 });
    const intake = await import('@/store/shelf/driver-intake').catch(() => null);
    if (!intake) return refuse('No file was taken', failure('not-fetched'));
    const { driver, taken, refused } = await intake.takeDriverFiles(wayId, files);
    for (const { file, why } of refused) refuse(`${file} was not taken`, why);
    if (driver) void message.success(`${driver.name}: ${takenWords(taken)}.`, 4);
  };
}
