// Light or dark: the person's choice, else the system's.
const stored = 'steptrace.theme';

class Theme {
  dark = $state(document.documentElement.classList.contains('dark'));

  constructor() {
    const choice = localStorage.getItem(stored);
    this.set(choice ? choice === 'dark' : matchMedia('(prefers-color-scheme: dark)').matches);
  }

  private set(dark: boolean) {
    this.dark = dark;
    document.documentElement.classList.toggle('dark', dark);
  }

  toggle() {
    this.set(!this.dark);
    localStorage.setItem(stored, this.dark ? 'dark' : 'light');
  }
}

export const theme = new Theme();
