<script lang="ts">
  import type { Board } from '../api/types.gen';
  import Where from './Where.svelte';
  import { pictured } from './known';

  /** Where something of a set is, if it has a pin. What is around it may be told by a text that names it. */
  interface Props {
    sheet: number;
    /** Of the sheet: with another one names may have changed. */
    revision?: number;
    /** The first of these that is on a picture is shown. */
    names?: string[];
    /** Else the first name that this says. */
    text?: string;
    href?: string;
    height?: number;
    class?: string;
  }
  let { sheet, revision = 0, names = [], text = '', href, height = 118, class: style = '' }: Props = $props();

  let board = $state.raw<Board | null>(null);
  // It changes with the sheet, not with what is read.
  $effect(() => {
    let gone = false;
    pictured(sheet, revision).then(
      (b) => {
        if (!gone) board = b;
      },
      () => undefined, // the work goes on without
    );
    return () => (gone = true);
  });
  const words = (of: string) =>
    ` ${of
      .toLowerCase()
      .split(/[\s.,;:()]+/)
      .filter(Boolean)
      .join(' ')} `;
  const said = (name: string) => words(text).includes(words(name));
  const all = $derived([...names, ...(board?.places ?? []).map((p) => p.name).filter(said)]);
  const there = $derived(all.some((n) => board?.places.some((p) => p.name === n)));
</script>

{#if there}
  <div class={style}><Where {board} names={all} {href} {height} /></div>
{/if}
