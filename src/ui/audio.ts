/** One sound at a time, on the browser's own output. */
let context: AudioContext | null = null;
let playing: { stop: () => void } | null = null;

const output = (): AudioContext => (context ??= new AudioContext());

export function stopSound(): void {
  playing?.stop();
  playing = null;
}

/**
 * Plays samples (±1) once; whatever played before stops. Resolves at its end, or when it is stopped.
 * @param volume 0 to 1.
 */
export async function playSound(samples: Float32Array, rateHz: number, volume: number): Promise<void> {
  stopSound();
  const audio = output();
  await audio.resume();
  const buffer = audio.createBuffer(1, samples.length, rateHz);
  buffer.copyToChannel(new Float32Array(samples), 0);
  const source = audio.createBufferSource();
  const gain = audio.createGain();
  gain.gain.value = volume;
  source.buffer = buffer;
  source.connect(gain).connect(audio.destination);
  playing = source;
  await new Promise<void>((resolve) => {
    source.onended = () => resolve();
    source.start();
  });
  if (playing === source) playing = null;
}

/** Samples of a sound file, its channels made one. Throws what the browser says of a file it cannot read. */
export async function readSound(bytes: Uint8Array): Promise<{ samples: Float32Array; rateHz: number }> {
  const buffer = await output().decodeAudioData(new Uint8Array(bytes).buffer);
  const samples = new Float32Array(buffer.length);
  for (let c = 0; c < buffer.numberOfChannels; c++)
    buffer.getChannelData(c).forEach((v, i) => (samples[i] += v / buffer.numberOfChannels));
  return { samples, rateHz: buffer.sampleRate };
}

/** Ready before it begins, and before it goes on once it has run dry, s. */
const READY_S = 1;
/** From now to what is begun, s. */
const SOON_S = 0.05;

/**
 * A sound that is played while it is still being made: stretch after stretch without a seam; where it is made more
 * slowly than it plays, it waits for enough.
 */
export class SoundAsItComes {
  /** Samples that are under way, and when the last of them ends, s of the output's clock. */
  private given = 0;
  private endsS = 0;
  private stopped = false;
  private last: AudioBufferSourceNode | null = null;
  private readonly audio = output();
  private readonly gain: GainNode;

  /** Whatever played before stops. @param volume 0 to 1. @param onEnd all of it was played. */
  constructor(
    volume: number,
    private readonly onEnd: () => void,
  ) {
    stopSound();
    void this.audio.resume();
    this.gain = this.audio.createGain();
    this.gain.gain.value = volume;
    this.gain.connect(this.audio.destination);
    playing = { stop: () => this.stop() };
  }

  /** All there is of it so far. @param whole there is no more to come. */
  give(samples: Float32Array, rateHz: number, whole: boolean): void {
    const fresh = samples.subarray(this.given);
    const dry = this.endsS <= this.audio.currentTime;
    if (whole && fresh.length === 0) return this.endsWith(this.last, dry);
    if (this.stopped || fresh.length === 0 || (dry && !whole && fresh.length < READY_S * rateHz)) return;
    const buffer = this.audio.createBuffer(1, fresh.length, rateHz);
    buffer.copyToChannel(new Float32Array(fresh), 0);
    const source = this.audio.createBufferSource();
    source.buffer = buffer;
    source.connect(this.gain);
    const startS = dry ? this.audio.currentTime + SOON_S : this.endsS;
    if (whole) this.endsWith(source, false);
    source.start(startS);
    this.last = source;
    this.given = samples.length;
    this.endsS = startS + fresh.length / rateHz;
  }

  /** @param over it has sounded to its end. */
  private endsWith(source: AudioBufferSourceNode | null, over: boolean): void {
    const say = () => this.stopped || this.onEnd();
    if (over || !source) say();
    else source.onended = say;
  }

  stop(): void {
    this.stopped = true;
    this.gain.disconnect();
  }
}
