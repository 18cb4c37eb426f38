import { getContext, setContext } from 'svelte';
import { typeFirst } from './keys.svelte';

/** What a key does on a screen. The handler, the hints on buttons and the help (?) follow from it. */
export interface Command {
  /** As pressed; several may do the same, or much the same. */
  keys: readonly string[];
  /** How they are written, where not as they are pressed. */
  shown?: string;
  /** What it does, for the help; empty where another of its kind says it. */
  title: string;
  /** The lines of the help, where each of its keys has one. */
  lines?: () => { keys: string; does: string }[];
  /** Whether it applies now; always, where that is left out. */
  when?: () => boolean;
  /** Does it; false leaves the key to the browser. Left out where a field does it. */
  act?: (key: string, event: KeyboardEvent) => unknown;
}

/** A screen's commands, by name. Of two with one key the first that applies is taken. */
export type Commands = Record<string, Command>;

const here = Symbol();

/** Declares the commands of a screen: its buttons' hints are found by their names. */
export function declare<C extends Commands>(table: C): C {
  setContext(here, table);
  return table;
}

/** How the key of a command of this screen is written; to be asked for while a component begins. */
export function keys(): (name: string) => string {
  const table = getContext<Commands | undefined>(here);
  return (name) => {
    if (!table) return ''; // a phone's page has no keys
    const command = table[name];
    if (!command) throw new Error(`no command ${name} on this screen`);
    return written(command);
  };
}

const written = (c: Command) => c.shown ?? c.keys.join(' ');

/** Handles a key; true where it did something, so that the browser should not. */
export function press(table: Commands, event: KeyboardEvent): boolean {
  const command = Object.values(table).find((c) => c.act && c.keys.includes(event.key) && (c.when?.() ?? true));
  return command?.act !== undefined && command.act(event.key, event) !== false;
}

export const helpOf = (table: Commands) =>
  Object.values(table).flatMap((c) => c.lines?.() ?? (c.title === '' ? [] : [{ keys: written(c), does: c.title }]));

/** What is typed anywhere on a screen goes into its field: a digit with itself, w or / to type a word. */
export const typing = (
  field: () => HTMLInputElement | undefined,
  when: () => boolean,
  title: string,
  words = '',
): { digits: Command; words: Command } => {
  const act = (_: string, event: KeyboardEvent) => typeFirst(event, field()) === 'open';
  return {
    digits: { keys: [...'0123456789.,+-−'], shown: '0 to 9', title, when, act },
    words: { keys: ['w', '/'], shown: 'w or /', title: words, when, act },
  };
};
