/** One sound at a time, on the browser's own output. */
let context: AudioContext | null = null;
let playing: AudioBufferSourceNode | null = null;

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
