// Keys that work anywhere on a screen, outside of fields.

import { tick } from 'svelte';

/** Whether the list of keys is on screen. */
export const help = $state({ shown: false });
/** Whether the sums are, how many of them were kept in a job, and what is typed: it stays on the way into one. */
export const sums = $state({ shown: false, kept: 0, text: '' });

/** Whether a part is being checked by itself; what was typed of it stays on the way into a job. */
export const checking = $state({
  shown: false,
  kept: 0,
  part: '',
  kind: 'transistor',
  given: {} as Record<string, string>,
});

export interface KeyHelp {
  keys: string;
  does: string;
}

const chord = (event: KeyboardEvent) => event.ctrlKey || event.metaKey || event.altKey;

/** True where a key press belongs to a field, a dialog or a list that is open. */
export function taken(event: KeyboardEvent): boolean {
  if (chord(event) || event.defaultPrevented) return true;
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

const patience = 2000; // ms

/**
 * Keys pressed while the next view is on its way: it gets them once it is there, since hands that know the way do not
 * wait for it. After two seconds they were meant for something else.
 */
class Held {
  private shown = 0;
  private left = 0; // when a key has left the view that is still shown
  private keys: { key: string; at: number }[] = [];

  private giving = false;
  private waits = ''; // the key that was kept last, until it is let go

  /** Whether no view is there, or the one that is there was left. */
  private get between() {
    return this.shown === 0 || Date.now() - this.left < patience;
  }

  /** Keeps the key where no view is there to take it, or where others wait before it. */
  by(event: KeyboardEvent) {
    const plain =
      event.key.length === 1 || event.key === 'Enter' || event.key === 'Escape' || event.key.startsWith('Arrow');
    // What is given to a view is not a person's.
    if (!event.isTrusted || !plain || !(this.giving ? !chord(event) : this.between && !taken(event))) return;
    this.keys.push({ key: event.key, at: Date.now() });
    this.waits = event.key;
    event.preventDefault();
  }
  /** The character of a key that is kept comes again with the key; one that is late must not go in beside it. */
  press(event: KeyboardEvent) {
    if (this.waits !== '' && event.key === this.waits) event.preventDefault();
  }
  up(event: KeyboardEvent) {
    if (event.key === this.waits) this.waits = '';
  }

  /**
   * The view that is shown was left for another address: keys are the next one's from now on. Where it turns out to be
   * the same, as when one came back before the other was there, they are its own.
   */
  leave(href: string) {
    if (location.hash === `#${href}`) return;
    const left = (this.left = Date.now());
    setTimeout(() => {
      if (this.left !== left || this.shown === 0) return;
      this.left = 0;
      void this.give();
    }, patience / 2);
  }

  /** A view's frame is there, and takes what was pressed before it; to be called when it mounts, the result when it goes. */
  frame(): () => void {
    this.shown++;
    this.left = 0;
    this.keys = this.keys.filter((k) => Date.now() - k.at < patience);
    void this.give();
    return () => this.shown--;
  }

  private async give() {
    this.giving = true;
    await tick();
    while (!this.between) {
      const key = this.keys.shift()?.key;
      if (key === undefined) break;
      const type = () =>
        document.activeElement instanceof HTMLInputElement && document.execCommand('insertText', false, key);
      if (key.length === 1 && type()) continue;
      const press = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true });
      // As a browser does: what no command has used up is a character for the field that the key has led into.
      if ((document.activeElement ?? document.body).dispatchEvent(press) && key.length === 1) type();
      spent.up();
      await tick();
    }
    this.giving = false;
  }
}
/** One for all views: one is gone before the next is there. */
export const held = new Held();

/** A "g" was pressed and its second key is awaited: on the next view too, where that one came in between. */
let armed = false;

/** Follows "g" and then a view's key, and the keys that every screen has. */
export class Going {
  constructor(
    private readonly views: () => { key: string; href: string }[],
    private readonly go: (href: string) => void,
    private readonly toggleTheme: () => void,
  ) {}

  /** Handles the key; true where it was one of these. */
  press(event: KeyboardEvent): boolean {
    if (armed) {
      armed = false;
      const view = this.views().find((v) => v.key === event.key);
      if (view) {
        held.leave(view.href);
        this.go(view.href);
      }
      return view !== undefined;
    }
    switch (event.key) {
      case 'g':
        armed = true;
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
      case '!':
        checking.shown = true;
        return true;
    }
    return false;
  }
}
