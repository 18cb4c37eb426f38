// The computer's own sound: what is played into a set, and what is heard of it. Signals are made, and measured, by the
// server; here they are only played and recorded.
import { api, told } from '../api/client';
import type { SoundLevels } from '../api/types.gen';

const fadeIn = 0.5; // seconds
const fadeOut = 0.03;

export interface Device {
  id: string;
  name: string;
}

/** Samples of one channel as a WAV of 32-bit floats. */
function wav(pieces: Float32Array[], rate: number): File {
  const count = pieces.reduce((sum, p) => sum + p.length, 0);
  const view = new DataView(new ArrayBuffer(46 + 4 * count));
  const text = (at: number, s: string) => [...s].forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)));
  text(0, 'RIFF');
  view.setUint32(4, 38 + 4 * count, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 18, true);
  view.setUint16(20, 3, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, 4 * rate, true);
  view.setUint16(32, 4, true);
  view.setUint16(34, 32, true);
  text(38, 'data');
  view.setUint32(42, 4 * count, true);
  let at = 46;
  for (const piece of pieces) {
    for (const v of piece) {
      view.setFloat32(at, v, true);
      at += 4;
    }
  }
  return new File([view], 'sound input.wav', { type: 'audio/wav' });
}

class Sound {
  playing = $state(''); // what, in words
  muted = $state(false);
  listening = $state('');
  trouble = $state('');
  levels: SoundLevels | null = $state.raw(null);
  inputs: Device[] = $state.raw([]);
  latency = $state(0); // seconds from here to the output

  private context: AudioContext | null = null;
  private source: AudioBufferSourceNode | null = null;
  private gain: GainNode | null = null;
  private stream: MediaStream | null = null;
  private recorder: AudioWorkletNode | null = null;
  private heard: Float32Array[] = [];
  private rate = 48000;

  /** The output that is calibrated: the system's own, since a page has no other. */
  readonly output = 'default output';

  private async ready(): Promise<AudioContext> {
    this.context ??= new AudioContext();
    await this.context.resume();
    this.latency = this.context.baseLatency + (this.context.outputLatency || 0);
    return this.context;
  }

  async load() {
    try {
      this.levels = await api.soundLevels();
    } catch (error) {
      this.trouble = told(error);
    }
  }
  level(device: string, way: 'in' | 'out') {
    return this.levels?.levels.find((l) => l.device === device && l.way === way);
  }

  /** Plays a signal over and over, from nothing up to its level. */
  play(what: Record<string, string>, words: string): Promise<boolean> {
    return this.loop((at) => api.sound({ ...what, ...at }), words);
  }
  /** The same with one that has an address of its own, given the device and its rate. */
  async loop(address: (at: { device: string; rate: string }) => string, words: string): Promise<boolean> {
    this.trouble = '';
    try {
      const context = await this.ready();
      const data = await api.piece(address({ device: this.output, rate: String(context.sampleRate) }));
      const buffer = await context.decodeAudioData(data);
      this.stop();
      this.gain = new GainNode(context, { gain: 0 });
      this.source = new AudioBufferSourceNode(context, { buffer, loop: true });
      this.source.connect(this.gain).connect(context.destination);
      this.source.start();
      this.gain.gain.linearRampToValueAtTime(1, context.currentTime + fadeIn);
      this.muted = false;
      this.playing = words;
      return true;
    } catch (error) {
      this.trouble = told(error);
      return false;
    }
  }
  mute() {
    if (!this.gain || !this.context) return;
    this.muted = !this.muted;
    const now = this.context.currentTime;
    this.gain.gain.cancelScheduledValues(now);
    this.gain.gain.setValueAtTime(this.gain.gain.value, now);
    this.gain.gain.linearRampToValueAtTime(this.muted ? 0 : 1, now + (this.muted ? fadeOut : fadeIn));
  }
  stop() {
    const { source, gain, context } = this;
    this.source = this.gain = null;
    this.playing = '';
    if (!source || !gain || !context) return;
    gain.gain.cancelScheduledValues(context.currentTime);
    gain.gain.setValueAtTime(gain.gain.value, context.currentTime);
    gain.gain.linearRampToValueAtTime(0, context.currentTime + fadeOut);
    source.stop(context.currentTime + 2 * fadeOut);
  }

  /** Begins to listen at an input. The system's own helpers for speech are asked to stay out of it. */
  async listen(id: string): Promise<boolean> {
    this.trouble = '';
    this.hush();
    try {
      const context = await this.ready();
      const plain = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };
      this.stream = await navigator.mediaDevices.getUserMedia({
        audio: id === '' ? plain : { ...plain, deviceId: { exact: id } },
      });
      await context.audioWorklet.addModule('./recorder.js');
      this.recorder = new AudioWorkletNode(context, 'recorder');
      this.recorder.port.onmessage = (event: MessageEvent<Float32Array>) => this.take(event.data);
      new MediaStreamAudioSourceNode(context, { mediaStream: this.stream }).connect(this.recorder);
      this.rate = context.sampleRate;
      this.heard = [];
      this.listening = this.stream.getAudioTracks()[0]?.label ?? 'an input';
      const devices = await navigator.mediaDevices.enumerateDevices(); // their names are told only now
      this.inputs = devices
        .filter((d) => d.kind === 'audioinput')
        .map((d) => ({ id: d.deviceId, name: d.label || d.deviceId }));
      return true;
    } catch (error) {
      this.hush();
      const name = error instanceof DOMException ? error.name : '';
      this.trouble =
        name === 'NotAllowedError'
          ? 'The browser does not let this page listen. Allow it the microphone, for this address, and try again.'
          : name === 'NotFoundError'
            ? 'The computer has no sound input that is plugged in.'
            : told(error);
      return false;
    }
  }
  private take(piece: Float32Array) {
    this.heard.push(piece);
    const most = Math.ceil((10 * this.rate) / piece.length); // the last ten seconds
    if (this.heard.length > most) this.heard.shift();
  }
  /** The last so many seconds that were heard, as a file; nothing where that long was not listened. */
  recorded(seconds: number): File | null {
    const size = this.heard[0]?.length ?? 1;
    const pieces = Math.ceil((seconds * this.rate) / size);
    return this.heard.length < pieces ? null : wav(this.heard.slice(-pieces), this.rate);
  }
  hush() {
    this.recorder?.disconnect();
    this.recorder?.port.close();
    this.stream?.getTracks().forEach((track) => track.stop());
    this.recorder = this.stream = null;
    this.listening = '';
    this.heard = [];
  }
}

export const sound = new Sound();
