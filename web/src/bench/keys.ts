import type { Command } from '../shared/commands';
import { practising } from '../practise/practising';
import type { Bench } from './bench.svelte';

/** The keys that a reading is taken with, wherever its panel stands. */
export function readingKeys(bench: () => Bench, open: () => boolean) {
  return {
    next: { keys: ['n'], title: 'aim at what is asked for next', act: () => bench().aimNext() },
    worked: {
      keys: ['k'],
      title: 'the aimed control is worked while it is read; again: as it stands',
      act: () => bench().turnWorked(),
    },
    quantity: {
      keys: ['q'],
      title: 'what is read: signal, DC volts, frequency, ohms, current and more',
      act: () => bench().turnQuantity(),
    },
    take: {
      keys: ['t'],
      title: 'take the aimed reading with an instrument (a foot switch that types t will do)',
      when: open,
      act: () => bench().takeIt(),
    },
    feed: {
      keys: ['e'],
      title: 'set the generator to what is fed in',
      when: () => open() && !practising,
      act: () => bench().feedIt(),
    },
    hands: {
      keys: ['b'],
      title: 'the practice bench: the probe on the aim, the generator where it is fed in',
      when: () => open() && bench().practice !== null && !practising,
      act: () => bench().hands(),
    },
  } satisfies Record<string, Command>;
}
