/* Plays a sweep and records what comes back, sample by sample, on the audio thread; tells of blocks that were lost. */
class SweepRecorder extends AudioWorkletProcessor {
  constructor({ processorOptions: { samples, after } }) {
    super();
    this.samples = samples;
    this.at = 0;
    this.recorded = new Float32Array(samples.length + after);
    this.next = null;
    this.lost = 0;
    this.channels = 0;
    this.port.onmessage = () => (this.stopped = true);
  }

  process([input], [[out]]) {
    if (this.stopped) return false;
    if (this.next !== null && currentFrame !== this.next) this.lost += currentFrame - this.next;
    this.next = currentFrame + out.length;
    this.channels = Math.max(this.channels, input.length);
    const count = Math.min(out.length, this.recorded.length - this.at);
    for (let i = 0; i < count; i++) {
      out[i] = this.samples[this.at + i] ?? 0;
      this.recorded[this.at + i] = input[0]?.[i] ?? 0;
    }
    this.at += count;
    if (this.at % 8192 < out.length) this.port.postMessage({ share: this.at / this.recorded.length });
    if (this.at < this.recorded.length) return true;
    const { recorded, lost, channels } = this;
    this.port.postMessage({ recorded, lost, channels }, [recorded.buffer]);
    return false;
  }
}

registerProcessor('sweep-recorder', SweepRecorder);
