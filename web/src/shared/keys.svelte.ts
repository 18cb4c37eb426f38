// Keys that work anywhere on a screen, outside of fields.

/** Whether the list of keys is on screen. */
export const help = $state({ shown: false });
/** Whether the sums are. */
export const sums = $state({ shown: false });

export interface KeyHelp {
  keys: string;
  does: string;
}

/** True where a key press belongs to a field, a dialog or a list that is open. */
export function taken(event: KeyboardEvent): boolean {
  if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return true;
  const at = event.target;
  if (!(at instanceof HTMLElement)) return false;
  return at.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(at.tagName) || at.closest('dialog') !== null;
}

/**
 * Sends what is typed anywhere on a screen into its field: a digit with itself, w or / to type a word.
 * "open" where the key's own character must not go in, "digit" where it must.
 */
export function typeFirst(event: KeyboardEvent, field: HTMLInputElement | undefined): 'open' | 'digit' | '' {
  const digit = /^[0-9.,+\-−]$/.test(event.key);
  if (!digit && event.key !== '/' && event.key !== 'w') return '';
  field?.focus();
  return digit ? 'digit' : 'open';
}

/** A key that did something must not go into a field it has opened, even where its character comes late. */
export class Spent {
  private key = '';

  /** The key press did something. */
  by(event: KeyboardEvent) {
    this.key = event.key;
    event.preventDefault();
  }
  /** In a list the same key would choose an entry. */
  press(event: KeyboardEvent) {
    if (this.key !== '' && event.key === this.key) event.preventDefault();
  }
  input(event: InputEvent) {
    if (this.key !== '' && event.data === this.key) event.preventDefault();
    this.key = '';
  }
  up() {
    this.key = '';
  }
}
/** One for all screens: the field may be on the next one. */
export const spent = new Spent();

/** Follows "g" and then a view's key, and the keys that every screen has. */
export class Going {
  private armed = false;

  constructor(
    private readonly views: () => { key: string; href: string }[],
    private readonly go: (href: string) => void,
    private readonly toggleTheme: () => void,
  ) {}

  /** Handles the key; true where it was one of these. */
  press(event: KeyboardEvent): boolean {
    if (this.armed) {
      this.armed = false;
      const view = this.views().find((v) => v.key === event.key);
      if (view) this.go(view.href);
      return view !== undefined;
    }
    switch (event.key) {
      case 'g':
        this.armed = true;
        return true;
      case 'd':
        this.toggleTheme();
        return true;
      case '?':
        help.shown = true;
        return true;
      case '=':
        sums.shown = true;
        return true;
    }
    return false;
  }
}
