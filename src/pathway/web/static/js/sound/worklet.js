// Passes on what the microphone hears, some thousand samples at a time.
class Passing extends AudioWorkletProcessor {
  constructor() {
    super();
    this.kept = new Float32Array(4096);
    this.count = 0;
  }

  process([[channel]]) {
    for (const sample of channel ?? []) {
      this.kept[this.count] = sample;
      this.count += 1;
      if (this.count === this.kept.length) {
        this.port.postMessage(this.kept.slice());
        this.count = 0;
      }
    }
    return true;
  }
}
registerProcessor("passing", Passing);
