import { App } from 'antd';
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
    const { takeDriverFiles } = await import('@/store/shelf/driver-intake');
    const { driver, taken, refused } = await takeDriverFiles(wayId, files);
    for (const { file, why } of refused)
      notification.error({ title: `${file} was not taken`, description: failureWords(why), duration: 0 });
    if (driver) void message.success(`${driver.name}: ${takenWords(taken)}.`, 4);
  };
}
