// Runs on the audio thread: plays blocks of samples back to back, so that nothing lies between two of them.
class Player extends AudioWorkletProcessor {
  constructor() {
    super();
    this.blocks = [];
    this.at = 0;
    this.played = 0;
    this.begunAt = null;
    this.missed = 0;
    this.over = false;
    this.told = 0;
    this.port.onmessage = ({ data }) => {
      if (data.block) this.blocks.push(data.block);
      // Blocks from a frame on are replaced by others: the mix or the tempo has changed.
      if (data.keepUntil !== undefined) this.cut(data.keepUntil);
      if (data.last) this.over = true;
    };
  }

  cut(keepUntil) {
    let frame = this.played - this.at;
    this.blocks = this.blocks.filter((block) => {
      const keep = frame < keepUntil;
      frame += block.length;
      return keep;
    });
    this.over = false;
  }

  process(_inputs, [[out]]) {
    if (this.begunAt === null) {
      if (this.blocks.length === 0) return !this.over;
      this.begunAt = currentFrame;
    }
    for (let i = 0; i < out.length; i++) {
      const block = this.blocks[0];
      if (!block) {
        if (!this.over) this.missed++;
        continue;
      }
      out[i] = block[this.at++];
      this.played++;
      if (this.at === block.length) {
        this.blocks.shift();
        this.at = 0;
      }
    }
    if (this.played - this.told >= 1024 || (this.over && this.blocks.length === 0)) {
      this.told = this.played;
      this.port.postMessage({ played: this.played, begunAt: this.begunAt, missed: this.missed });
    }
    return !(this.over && this.blocks.length === 0);
  }
}

registerProcessor("player", Player);
