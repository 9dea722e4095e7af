import { failure, success, type Result } from '@/core/result';

/** This computer's sound card, as the browser gives it. */

/** What is recorded after the sweep's own silence: the card's latency, s. */
const AFTER_S = 0.75;

export type CardFailure =
  'card-refused' | 'card-missing' | 'card-gone' | 'card-rate' | 'card-dropped' | 'card-mono' | 'cancelled';

export interface CardRun {
  /** Full scale ±1. */
  readonly samples: Float64Array;
  readonly rateHz: number;
  /** Inputs by the browser's own ids; absent: its first. */
  readonly inputId?: string;
  /** Both of its inputs, the second of them its own output by a cable. */
  readonly loopback?: boolean;
  readonly progress: (share: number) => void;
  readonly signal: AbortSignal;
}

/** What came in; of the second input only where it was asked for. */
export interface CardRecording {
  readonly samples: Float64Array;
  readonly second: Float64Array | null;
}

/** Inputs by name; without permission the browser gives no names, and none are told apart. */
export async function inputsOf(): Promise<{ id: string; name: string }[]> {
  const devices = (await navigator.mediaDevices?.enumerateDevices()) ?? [];
  return devices
    .filter((d) => d.kind === 'audioinput' && d.deviceId !== '')
    .map((d) => ({ id: d.deviceId, name: d.label || 'an input without a name' }));
}

/** A sweep that lost samples on the way is played again, so often in all. */
const TRIES = 4;

/** What was recorded and read, again where it came in broken: so often in all. Nothing where it was stopped. */
export async function unlessBroken<T extends Result<unknown> | null>(once: () => Promise<T>): Promise<T> {
  let last = await once();
  for (let tries = 1; tries < BROKEN_TRIES && last && !last.ok && last.code === 'recording-broken'; tries++)
    last = await once();
  return last;
}
const BROKEN_TRIES = 3;

/** The same as `playAndRecord`, again where samples were lost: a machine is busy for a moment. */
export async function recordSweep(run: CardRun): Promise<Result<CardRecording, CardFailure>> {
  let last = await playAndRecord(run);
  for (let tries = 1; tries < TRIES && !last.ok && last.code === 'card-dropped'; tries++)
    last = await playAndRecord(run);
  return last;
}

/**
 * Plays a sweep and records what comes in, with all that a browser does to a voice switched off. Asks for permission
 * the first time. Fails with `card-refused`, `card-missing`, `card-rate` (`rateHz`, `wantedHz`), `card-gone`, `card-
 * dropped` (`samples`), `card-mono` where a second input is wanted and there is none, or `cancelled`.
 */
async function playAndRecord(run: CardRun): Promise<Result<CardRecording, CardFailure>> {
  const { samples, rateHz, inputId, loopback = false, progress, signal } = run;
  if (!navigator.mediaDevices) return failure('card-missing', {});
  let stream: MediaStream;
  try {
    stream = await navigator.mediaDevices.getUserMedia({
      audio: {
        echoCancellation: false,
        noiseSuppression: false,
        autoGainControl: false,
        ...(loopback ? { channelCount: { ideal: 2 } } : {}),
        ...(inputId ? { deviceId: { exact: inputId } } : {}),
      },
    });
  } catch (error) {
    const refused = error instanceof DOMException && error.name === 'NotAllowedError';
    return failure(refused ? 'card-refused' : 'card-missing', {});
  }
  const audio = new AudioContext({ sampleRate: rateHz });
  try {
    if (audio.sampleRate !== rateHz) return failure('card-rate', { rateHz: audio.sampleRate, wantedHz: rateHz });
    await audio.audioWorklet.addModule('/sound/sweep-recorder.js');
    await audio.resume();
    const recorder = new AudioWorkletNode(audio, 'sweep-recorder', {
      numberOfInputs: 1,
      outputChannelCount: [1],
      processorOptions: { samples: Float32Array.from(samples), after: Math.round(AFTER_S * rateHz) },
    });
    audio.createMediaStreamSource(stream).connect(recorder).connect(audio.destination);
    return await new Promise((resolve) => {
      const end = (result: Result<CardRecording, CardFailure>) => {
        recorder.port.onmessage = null;
        recorder.port.postMessage('stop');
        resolve(result);
      };
      for (const track of stream.getTracks()) track.onended = () => end(failure('card-gone', {}));
      signal.addEventListener('abort', () => end(failure('cancelled', {})));
      recorder.port.onmessage = ({ data }) => {
        if (data.share !== undefined) return progress(data.share);
        if (data.lost > 0) return end(failure('card-dropped', { samples: data.lost }));
        if (loopback && !data.second) return end(failure('card-mono', {}));
        const own = (of: Float32Array) => Float64Array.from(of);
        end(success({ samples: own(data.recorded), second: loopback ? own(data.second) : null }));
      };
    });
  } finally {
    for (const track of stream.getTracks()) {
      track.onended = null;
      track.stop();
    }
    void audio.close();
  }
}
