// What is known of the workshop's own place, kept in this browser.

const key = 'steptrace.site';

class Site {
  mains = $state('50 Hz');
  pilot = $state(''); // a pilot or key tone that belongs to the signals

  constructor() {
    const [mains, pilot] = (localStorage.getItem(key) ?? '').split('\n');
    this.mains = mains === '60 Hz' ? '60 Hz' : '50 Hz';
    this.pilot = pilot ?? '';
  }

  set(mains: string, pilot: string) {
    this.mains = mains;
    this.pilot = pilot;
    localStorage.setItem(key, `${mains}\n${pilot}`);
  }
}

export const site = new Site();
