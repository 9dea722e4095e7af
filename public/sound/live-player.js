/* Plays blocks as they come, on the audio thread: tells how many samples it has played, and how often it had none. */
class LivePlayer extends AudioWorkletProcessor {
  constructor() {
    super();
    this.blocks = [];
    this.at = 0;
    this.played = 0;
    this.told = 0;
    this.gaps = 0;
    this.begun = false;
    this.port.onmessage = ({ data }) => {
      if (data.port) {
        this.feed = data.port;
        this.feed.onmessage = ({ data: block }) => this.blocks.push(block);
      } else if (data.stop) this.stopped = true;
    };
  }

  process(_inputs, [[out]]) {
    if (this.stopped) return false;
    // It starts, and starts again, when a little lies ready: one gap then, not a crackle without end.
    if (!this.begun && this.blocks.length < 12) return true;
    this.begun = true;
    for (let i = 0; i < out.length; i++) {
      if (this.blocks.length === 0) {
        this.gaps++;
        this.begun = false;
        this.told = -Infinity;
        break;
      }
      out[i] = this.blocks[0][this.at++];
      this.played++;
      if (this.at === this.blocks[0].length) {
        this.blocks.shift();
        this.at = 0;
      }
    }
    if (this.played - this.told >= 512) {
      this.told = this.played;
      if (this.feed) this.feed.postMessage(this.played);
      this.port.postMessage({ played: this.played, gaps: this.gaps });
    }
    return true;
  }
}
registerProcessor('live-player', LivePlayer);
