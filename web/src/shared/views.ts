import type { Component } from 'svelte';
import type { Head } from '../api/types.gen';
import { practising } from '../practise/practising';

/**
 * A view of a job. Its screen says so itself, in its module: `export const place: Place = {…}`; the routes, the tray,
 * the keys and the help follow.
 */
export interface Place {
  /** What the server calls it where it says what is done, open or next. */
  id: string;
  /** Pressed after g; it stays with the view whatever else is shown. */
  key: string;
  name: string;
  /** In the order of the work. */
  order: number;
  /** It helps beside the order of the work: where there is little room its name goes first. */
  aside?: boolean;
  /** It is there in practice alone. */
  practice?: boolean;
  /** Its address, with :number for the job's; what a view adds of its own may follow. */
  route: string;
  /** The kind of entry that is noted there: how many there are is told beside its name. */
  of?: string;
  /** Where the address follows from something else of the job. */
  at?: (head: Head) => string;
}

interface Screen {
  // Each has parameters of its own, from its address.
  default: Component<never>;
  place?: Place;
}

/** Who practises has no owner to wait for, and nothing that it is worth. */
const isHere = (p: Place) => (practising ? p.id !== 'worth' && p.id !== 'waiting' : !p.practice);

const screens = import.meta.glob<Screen>('../*/*Screen.svelte', { eager: true });

/** The views of a job, in the order of the work, with their screens. */
export const places = Object.values(screens)
  .flatMap((s) => (s.place && isHere(s.place) ? [{ ...s.place, screen: s.default }] : []))
  .sort((a, b) => a.order - b.order);

/** The views of this job, to go to. */
export const viewsOf = (head: Head) =>
  places.map((p) => ({
    id: p.id,
    key: p.key,
    name: p.name,
    aside: p.aside === true,
    href: p.at?.(head) ?? p.route.replace(':number', String(head.number)).replace(/\/:.*/, ''),
    done: head.done.includes(p.id),
    next: head.next === p.id,
    count: p.of === undefined ? 0 : (head.counts[p.of] ?? 0),
  }));

/** How to get to a view by keys. */
export const wayTo = (id: string) => `g ${places.find((p) => p.id === id)?.key ?? ''}`;
