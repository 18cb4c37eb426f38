import { api, told } from '../api/client';
import { Kept } from '../shared/kept.svelte';
import type { CaseView, Drill, TrainingHeard } from '../api/types.gen';

/** How the case of a job stands, and what is done in it besides the work. */
export class Drilled extends Kept<CaseView> {
  playing = $state(''); // what is heard, in words
  private audio: HTMLAudioElement | undefined;

  constructor(readonly number: number) {
    super(() => api.drilled(number));
  }

  drill(what: Drill['what'], minutes = 0) {
    return this.keep(() => api.drill(this.number, { what, minutes }));
  }

  /** Plays what comes out of an exit; again: stops it. */
  async listen(at: TrainingHeard, signal: 'programme' | 'tone') {
    const was = this.playing;
    this.hush();
    if (was === at.says) return;
    try {
      const data = await api.piece(api.heard(this.number, { mode: at.mode, entry: at.entry, exit: at.exit, signal }));
      this.audio = new Audio(URL.createObjectURL(new Blob([data], { type: 'audio/wav' })));
      this.audio.loop = true;
      this.playing = at.says;
      await this.audio.play();
    } catch (error) {
      this.playing = '';
      this.trouble = told(error);
    }
  }
  hush() {
    if (this.audio) {
      this.audio.pause();
      URL.revokeObjectURL(this.audio.src);
    }
    this.audio = undefined;
    this.playing = '';
  }
}
