// Hands what comes in at the sound input to the page, piece by piece.
/* global AudioWorkletProcessor, registerProcessor */
const size = 2048;

class Recorder extends AudioWorkletProcessor {
  piece = new Float32Array(size);
  filled = 0;

  process(inputs) {
    const samples = inputs[0]?.[0];
    if (!samples) return true;
    this.piece.set(samples, this.filled); // samples come 128 at a time, which size is a multiple of
    this.filled += samples.length;
    if (this.filled >= size) {
      this.port.postMessage(this.piece);
      this.piece = new Float32Array(size);
      this.filled = 0;
    }
    return true;
  }
}
registerProcessor('recorder', Recorder);
