<script lang="ts">
  import { tick, untrack } from 'svelte';
  import { Button } from 'flowbite-svelte';
  import { api } from '../api/client';
  import { Pictures } from '../board/board.svelte';
  import Large from '../board/Large.svelte';

  /** Parts for a list, found by clicking on them where they stand; each place keeps its pin. */
  interface Props {
    sheet: number;
    /** What is known of parts by their names, a line each. */
    known: string;
    /** The list so far, a line each. */
    list: string;
  }
  let { sheet, known, list = $bindable() }: Props = $props();

  const pictures = new Pictures(() => api.board(untrack(() => sheet)), false);
  void pictures.load();
  let at: { x: number; y: number } | null = $state.raw(null);
  let text = $state('');
  let field: HTMLInputElement | undefined = $state();

  const near = 0.03; // of the picture's width: so close to a pin it is meant
  const named = (line: string) => line.trim().split(/[\s,:]+/)[0] ?? '';
  const listed = $derived(new Set(list.split('\n').map(named).filter(Boolean)));

  /** A place was clicked: what has its pin there is known by its name. */
  async function place(x: number, y: number) {
    const wide = pictures.picture?.width || 1;
    const high = pictures.picture?.height || 1;
    const far = (p: { x: number; y: number }) => Math.hypot(p.x - x, ((p.y - y) * high) / wide);
    const pin = pictures.pins.filter((p) => far(p) < near).sort((a, b) => far(a) - far(b))[0];
    at = { x, y };
    text = pin ? (known.split('\n').find((l) => named(l) === pin.name) ?? `${pin.name} `) : '';
    await tick();
    field?.focus();
  }
  async function take() {
    const name = named(text);
    if (name === '' || !at) return;
    if (!pictures.pins.some((p) => p.name === name)) {
      pictures.ask(name);
      await pictures.place(at.x, at.y);
    }
    list = [...list.split('\n').filter((l) => l.trim() !== '' && named(l) !== name), text.trim()].join('\n');
    text = '';
    at = null;
  }
</script>

{#if pictures.picture}
  <div class="flex flex-wrap items-center gap-2">
    {#if (pictures.board?.pictures.length ?? 0) > 1}
      <Button type="button" size="xs" color="alternative" onclick={() => pictures.turnOver()}>The next picture</Button>
    {/if}
    <span class="text-small text-soft"
      >Click on a part. {listed.size === 0 ? '' : `${listed.size} on the list.`} What is typed stays as its pin.</span
    >
  </div>
  <div class="h-[38vh]" data-test="pick">
    <Large
      {sheet}
      picture={pictures.picture}
      page={pictures.page}
      pins={pictures.pins}
      aim={named(text)}
      spots={listed}
      placing
      onpin={() => undefined}
      onplace={(x, y) => void place(x, y)}
    />
  </div>
  <label
    >Name, what it is, and behind a semicolon what it has to do; Enter takes it
    <input
      bind:this={field}
      bind:value={text}
      class="figure border-ink bg-panel w-full rounded-lg border-2 px-3 py-1"
      autocomplete="off"
      disabled={!at}
      placeholder={at ? 'C101 47u 63v electrolytic; coupling, 24 V' : 'click on a part first'}
      onkeydown={(e) => {
        if (e.key !== 'Enter') return;
        e.preventDefault();
        void take();
      }}
    /></label
  >
  {#if pictures.trouble}<p class="text-fault font-semibold" role="alert">{pictures.trouble}</p>{/if}
{:else}
  <p class="text-soft">
    {pictures.missing || 'This set has no picture yet: take one under Pictures, and its parts can be clicked here.'}
  </p>
{/if}
