/* Plays blocks as they come, on the audio thread: tells how many samples it has played, and how often it had none. */
class LivePlayer extends AudioWorkletProcessor {
  constructor() {
    super();
    this.blocks = [];
    this.at = 0;
    this.played = 0;
    this.told = 0;
    this.underruns = 0;
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
    // It starts when a little lies ready, so that the first hiccup is no gap.
    if (!this.begun && this.blocks.length < 24) return true;
    this.begun = true;
    for (let i = 0; i < out.length; i++) {
      if (this.blocks.length === 0) {
        this.underruns++;
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
      this.port.postMessage({ played: this.played, underruns: this.underruns });
    }
    return true;
  }
}
registerProcessor('live-player', LivePlayer);
