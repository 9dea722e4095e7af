/* Plays a sweep and records what comes back, sample by sample, on the audio thread; tells of blocks that were lost. */

/* Seconds without a lost block before it begins: while devices open, blocks are. Where there never are, it begins. */
const STEADY_S = 0.2;
const WAITS_S = 3;

class SweepRecorder extends AudioWorkletProcessor {
  constructor({ processorOptions: { samples, after } }) {
    super();
    this.samples = samples;
    this.at = 0;
    this.recorded = new Float32Array(samples.length + after);
    this.second = null;
    this.next = null;
    this.steady = 0;
    this.waited = 0;
    this.lost = 0;
    this.port.onmessage = () => (this.stopped = true);
  }

  process([input], [[out]]) {
    if (this.stopped) return false;
    const gap = this.next === null ? 0 : currentFrame - this.next;
    this.next = currentFrame + out.length;
    if (this.steady < STEADY_S * sampleRate && this.waited < WAITS_S * sampleRate) {
      this.waited += gap + out.length;
      this.steady = gap === 0 ? this.steady + out.length : 0;
      return true;
    }
    this.lost += gap;
    const count = Math.min(out.length, this.recorded.length - this.at);
    if (input.length > 1) this.second ??= new Float32Array(this.recorded.length);
    for (let i = 0; i < count; i++) {
      out[i] = this.samples[this.at + i] ?? 0;
      this.recorded[this.at + i] = input[0]?.[i] ?? 0;
      if (this.second) this.second[this.at + i] = input[1]?.[i] ?? 0;
    }
    this.at += count;
    if (this.at % 8192 < out.length) this.port.postMessage({ share: this.at / this.recorded.length });
    if (this.at < this.recorded.length) return true;
    const { recorded, second, lost } = this;
    // What is handed over is no longer here: a block that still comes must not count its share.
    this.stopped = true;
    this.port.postMessage({ recorded, second, lost }, [recorded.buffer, ...(second ? [second.buffer] : [])]);
    return false;
  }
}

registerProcessor('sweep-recorder', SweepRecorder);
