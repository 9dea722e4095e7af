import { expose } from 'comlink';
import type { Design } from '@/core/design/schema';
import { LIVE_BLOCK, LiveSound, type LiveRequest } from '@/core/jobs/sound/live-sound';
import { failure, success, type Result } from '@/core/result';

/** Samples that lie ready before they are played: about a sixth of a second. */
const AHEAD = 8192;

let sound: LiveSound | null = null;
let sent = 0;

const api = {
  /** Feeds the player at the other end of the port from now on. */
  start(request: LiveRequest, feed: MessagePort): Result<{ timesRealTime: number; oversampled: number }> {
    const begun = LiveSound.start(request, () => performance.now());
    if (!begun.ok) return begun;
    sound = begun.value;
    sent = 0;
    const send = (played: number) => {
      while (sound && sent - played < AHEAD) {
        const block = sound.next();
        feed.postMessage(block, [block.buffer]);
        sent += LIVE_BLOCK;
      }
    };
    feed.onmessage = ({ data }: MessageEvent<number>) => send(data);
    send(0);
    return success({ timesRealTime: begun.value.timesRealTime, oversampled: begun.value.oversampled });
  },
  follow(design: Design, variantId: string): Result<null> {
    return sound ? sound.follow(design, variantId) : failure('other-circuit', {});
  },
};

export type LiveSoundApi = typeof api;
expose(api);
