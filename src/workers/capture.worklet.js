// Runs on the audio thread: hands the microphone's samples over in blocks of about a tenth of a second, with the frame of
// the audio clock at which each begins.
class Capture extends AudioWorkletProcessor {
  constructor() {
    super();
    this.block = new Float32Array(4096);
    this.filled = 0;
    this.from = 0;
  }

  process([channels]) {
    if (!channels || channels.length === 0) return true;
    const frames = channels[0].length;
    for (let i = 0; i < frames; i++) {
      if (this.filled === 0) this.from = currentFrame + i;
      let sum = 0;
      for (const channel of channels) sum += channel[i];
      this.block[this.filled++] = sum / channels.length;
      if (this.filled === this.block.length) {
        this.port.postMessage({ block: this.block.slice(), from: this.from });
        this.filled = 0;
      }
    }
    return true;
  }
}

registerProcessor("capture", Capture);
