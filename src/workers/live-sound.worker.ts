import { expose, transfer, type ProxyMarked } from 'comlink';
import type { Move } from '@/core/design/document/played';
import type { Play } from '@/core/jobs/sound/player';
import type { Design } from '@/core/design/document/schema';
import { SteadySound } from '@/core/jobs/sound/live-quality';
import { Recording } from '@/core/jobs/sound/recording';
import { LiveSound, type LiveRequest } from '@/core/jobs/sound/live-sound';
import { failure, success, type Result } from '@/core/result';

let sound: SteadySound | null = null;
let recording: Recording | null = null;
let sendAll: (blocks: Iterable<Float32Array>) => void = () => {};

const api = {
  /**
   * Feeds the player at the other end of the port from now on.
   * @param onQuality is told how far under the best it is.
   */
  start(
    request: LiveRequest,
    feed: MessagePort,
    onQuality: ((stepsDown: number) => void) & ProxyMarked,
  ): Result<{ timesRealTime: number; stepsDown: number }> {
    const begun = LiveSound.start(request, () => performance.now());
    if (!begun.ok) return begun;
    const steady = new SteadySound(begun.value);
    sound = steady;
    let told = steady.stepsDown;
    sendAll = (blocks) => {
      for (const block of blocks) {
        recording?.keep(block);
        feed.postMessage(block, [block.buffer]);
      }
    };
    const send = (played: number) => {
      sendAll(steady.feed(played));
      if (steady.stepsDown !== told) void onQuality((told = steady.stepsDown));
    };
    feed.onmessage = ({ data }: MessageEvent<number>) => send(data);
    send(0);
    return success({ timesRealTime: begun.value.timesRealTime, stepsDown: told });
  },
  /** A key struck, or with null let go. @param level of the loudest. */
  key(hz: number | null, level?: number): void {
    sound?.key(hz, level);
  },
  /** Keeps what is sounded from now on. */
  record(): void {
    recording = new Recording();
  },
  /** What was kept, and no more is. */
  recorded(): Float32Array {
    const whole = recording?.whole() ?? new Float32Array();
    recording = null;
    return transfer(whole, [whole.buffer]);
  },
  perform(play: Play, moves: readonly Move[]): void {
    sound?.perform(play, moves);
  },
  follow(design: Design, variantId: string): Result<null> {
    if (!sound) return failure('other-circuit', {});
    // What is played while the circuit is solved at its new place lies ready before.
    sendAll(sound.turned());
    return sound.follow(design, variantId);
  },
};

export type LiveSoundApi = typeof api;
expose(api);
