import type { Command } from '../shared/commands';
import type Large from './Large.svelte';
import type { Pictures } from './board.svelte';

const step = 4; // pixels of the screen a press moves the cross; with Shift ten times that
const arrows: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** What keys do with the pictures themselves, in a job and beside a sheet. */
export function pictureKeys(
  pictures: () => Pictures,
  large: () => Large | undefined,
  desk: () => { choose: (instead?: boolean) => void; turnPage: (by: number) => void } | undefined,
) {
  const placing = () => pictures().placing;
  const shown = () => pictures().picture !== null;
  return {
    cross: {
      keys: Object.keys(arrows),
      shown: '← → ↑ ↓',
      title: 'while placing: move the cross, with Shift further',
      when: placing,
      act: (key: string, e: KeyboardEvent) => {
        const [x, y] = arrows[key] ?? [0, 0];
        const far = step * (e.shiftKey ? 10 : 1);
        large()?.move(x * far, y * far);
      },
    },
    put: {
      keys: ['Enter'],
      title: 'while placing: it is at the cross',
      when: placing,
      act: () => large()?.placeAtCross(),
    },
    pass: {
      keys: ['k'],
      title: 'while placing: not on this picture, the next',
      when: placing,
      act: () => pictures().pass(),
    },
    undo: {
      keys: ['Backspace'],
      title: 'take the last pin back',
      when: () => pictures().undoable,
      act: () => void pictures().undo(),
    },
    place: {
      keys: ['m', 'Escape'],
      shown: 'm',
      title: 'mark places, one name after the other; again, or Esc: done',
      when: shown,
      act: (key: string) => {
        if (key === 'Escape' && !placing()) return false;
        pictures().placing = !placing();
        return true;
      },
    },
    add: { keys: ['a'], title: 'take pictures or a PDF in', act: () => desk()?.choose() },
    over: { keys: ['v'], title: 'the picture after this one', when: shown, act: () => pictures().turnOver() },
    pages: {
      keys: ['PageUp', 'PageDown'],
      shown: 'Page ↑ ↓',
      title: 'the pages of a PDF',
      when: () => pictures().paged,
      act: (key: string) => desk()?.turnPage(key === 'PageUp' ? -1 : 1),
    },
    larger: { keys: ['i'], title: 'larger', when: shown, act: () => large()?.larger(1.6) },
    smaller: { keys: ['u'], title: 'smaller', when: shown, act: () => large()?.larger(1 / 1.6) },
    turn: {
      keys: ['r'],
      title: 'turn the picture by a quarter',
      when: shown,
      act: () => void pictures().look({ turn: ((pictures().picture?.turn ?? 0) + 1) % 4 }),
    },
    flip: {
      keys: ['f'],
      title: 'mirror the picture',
      when: shown,
      act: () => void pictures().look({ mirror: !pictures().picture?.mirror }),
    },
  } satisfies Record<string, Command>;
}
