/** No more than so many samples are kept: some minutes, and some tens of megabytes. */
const MOST_SAMPLES = 48_000 * 60 * 5;

/** Keeps what is sounded, block by block, until there is too much of it. */
export class Recording {
  private readonly blocks: Float32Array[] = [];
  private samples = 0;

  /** Whether there is no room for more: what is kept stays. */
  get isFull(): boolean {
    return this.samples >= MOST_SAMPLES;
  }

  keep(block: Float32Array): void {
    if (this.isFull) return;
    this.blocks.push(block.slice());
    this.samples += block.length;
  }

  /** All of it in one. */
  whole(): Float32Array {
    const all = new Float32Array(this.samples);
    let at = 0;
    for (const block of this.blocks) {
      all.set(block, at);
      at += block.length;
    }
    return all;
  }
}
