// Runs on the audio thread: hands the microphone's samples over in blocks of about a tenth of a second (shorter ones where
// they are to be seen at once), with the frame of
// the audio clock at which each begins. The browser leaves frames out while a microphone starts or stalls: they are silence
// here, or everything after them would come too early, and their place is told.
class Capture extends AudioWorkletProcessor {
  constructor({ processorOptions }) {
    super();
    this.block = new Float32Array(processorOptions?.blockFrames ?? 4096);
    this.filled = 0;
    this.from = 0;
    this.next = null;
  }

  process([channels]) {
    if (!channels || channels.length === 0) return true;
    if (this.next !== null && this.next < currentFrame)
      this.port.postMessage({ gap: { fromFrame: this.next, toFrame: currentFrame } });
    for (let frame = this.next ?? currentFrame; frame < currentFrame; frame++) this.keep(0, frame);
    const frames = channels[0].length;
    for (let i = 0; i < frames; i++) {
      let sum = 0;
      for (const channel of channels) sum += channel[i];
      this.keep(sum / channels.length, currentFrame + i);
    }
    this.next = currentFrame + frames;
    return true;
  }

  keep(sample, frame) {
    if (this.filled === 0) this.from = frame;
    this.block[this.filled++] = sample;
    if (this.filled < this.block.length) return;
    this.port.postMessage({ block: this.block.slice(), from: this.from, cameSec: Date.now() / 1000 });
    this.filled = 0;
  }
}

registerProcessor("capture", Capture);
