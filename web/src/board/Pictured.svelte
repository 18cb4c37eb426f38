<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api } from '../api/client';
  import type { Invitation } from '../api/types.gen';
  import Files from '../shared/Files.svelte';
  import Key from '../shared/Key.svelte';
  import Large from './Large.svelte';
  import PhoneDialog from './PhoneDialog.svelte';
  import { pagesOf, saidOf } from './pdf';
  import type { Pictures } from './board.svelte';

  /** The picture that is looked at, the others beside it, and what takes pictures in. */
  interface Props {
    pictures: Pictures;
    /** What a phone is let in for. */
    invites: Invitation;
    aim?: string;
    next?: string;
    does?: string;
    along?: string[];
    spots?: Set<string>;
    /** Clicks on a pin, or somewhere on the picture while nothing is placed. */
    onpin: (name: string) => void;
    onclicked?: (x: number, y: number) => void;
    large?: Large | undefined;
  }
  let {
    pictures,
    invites,
    aim = '',
    next = '',
    does,
    along = [],
    spots,
    onpin,
    onclicked,
    large = $bindable(),
  }: Props = $props();

  let asking: Files | undefined = $state();
  let over = $state(false);
  let phoning = $state(false);
  let replacing = false; // the file that comes next stands in for the one shown
  let pages = $state({ of: '', n: 0, trouble: '' });

  const picture = $derived(pictures.picture);
  const sheet = $derived(pictures.board?.sheet ?? 0);
  const address = $derived(
    picture ? api.boardPicture(sheet, picture.id, { changes: String(picture.changes ?? 0) }) : '',
  );
  $effect(() => {
    if (!pictures.paged || pages.of === address) return;
    const of = address;
    pagesOf(of)
      .then((n) => (pages = { of, n, trouble: '' }))
      .catch((error: unknown) => (pages = { of, n: 0, trouble: saidOf(error) }));
  });

  export function choose(instead = false) {
    replacing = instead;
    asking?.choose();
  }
  export function turnPage(by: number) {
    if (pages.n > 0) pictures.page = Math.min(Math.max(pictures.page + by, 1), pages.n);
  }
  async function took(files: Iterable<File>) {
    const [first] = files;
    if (replacing && first) await pictures.replace(first);
    else await pictures.add(files);
    replacing = false;
  }
</script>

<svelte:window
  onpaste={(e) => {
    const files = [...(e.clipboardData?.files ?? [])];
    if (files.length === 0) return;
    e.preventDefault();
    void took(files);
  }}
/>

<div
  class={[
    'relative flex min-h-0 min-w-0 flex-col',
    over && 'outline-measured outline-4 -outline-offset-4 outline-dashed',
  ]}
  role="group"
  aria-label="Pictures"
  ondragover={(e) => {
    e.preventDefault();
    over = true;
  }}
  ondragleave={() => (over = false)}
  ondrop={(e) => {
    e.preventDefault();
    e.stopPropagation();
    over = false;
    void took([...(e.dataTransfer?.files ?? [])]);
  }}
>
  <Files bind:this={asking} accept="image/jpeg,image/png,image/webp,application/pdf" test="board-file" onfiles={took} />
  {#if picture}
    <div class="min-h-[46vh] flex-1 lg:min-h-0">
      <Large
        bind:this={large}
        {sheet}
        {picture}
        page={pictures.paged ? pictures.page : 0}
        pins={pictures.pins}
        {aim}
        {next}
        {does}
        {along}
        {spots}
        placing={pictures.placing}
        onpin={(pin) => onpin(pin.is)}
        onplace={(x, y) => (pictures.placing ? void pictures.place(x, y) : onclicked?.(x, y))}
      />
    </div>
  {:else}
    <div class="grid min-h-[46vh] flex-1 place-content-center justify-items-center gap-3 px-6 text-center">
      <p class="text-say font-semibold">No picture of this set yet.</p>
      <p class="text-soft max-w-[52ch]">
        A photograph of each board, a page of the drawing, or the manual as a PDF: click where the points are, and the
        bench shows where to probe. Drop them here, paste them, or take them in:
      </p>
      <div class="flex flex-wrap justify-center gap-2">
        <Button type="button" onclick={() => choose()}>Take pictures in <Key of="add" /></Button>
        <Button color="alternative" type="button" onclick={() => (phoning = true)}>From a phone</Button>
      </div>
    </div>
  {/if}
  {#if pictures.trouble || pages.trouble}
    <p class="border-fault text-fault bg-panel border-l-4 px-3 py-1 font-semibold" role="alert">
      {pictures.trouble || (pictures.paged ? pages.trouble : '')}
    </p>
  {/if}
  {#if pictures.board && (pictures.board.pictures.length > 0 || pictures.board.struck.length > 0)}
    <div class="border-line bg-panel flex flex-none flex-wrap items-center gap-x-2 gap-y-1.5 border-t p-2">
      {#each pictures.board.pictures as p (p.id)}
        <button
          type="button"
          class={[
            'relative h-[52px] w-[76px] flex-none overflow-hidden rounded-md border-2 text-left',
            p.id === picture?.id ? 'border-measured' : 'border-line',
          ]}
          aria-pressed={p.id === picture?.id}
          onclick={() => pictures.choose(p.id)}
        >
          {#if p.type === 'application/pdf'}
            <span class="bg-chip absolute inset-0"></span>
          {:else}
            <img
              src={api.boardPreview(sheet, p.id, { changes: String(p.changes ?? 0) })}
              alt=""
              class="absolute inset-0 h-full w-full object-cover"
              loading="lazy"
            />
          {/if}
          <span
            class="absolute inset-x-0 bottom-0 truncate bg-white/85 px-1 text-[12px] leading-[18px] font-semibold text-[#101a17]"
            >{p.name}</span
          >
        </button>
      {/each}
      <button type="button" class="border-line h-[52px] rounded-md border-2 border-dashed px-3" onclick={() => choose()}
        >{pictures.sending > 0 ? 'Taking it in…' : '+ Picture'} <Key of="add" /></button
      >
      <button type="button" class="text-small underline" onclick={() => (phoning = true)}>from a phone</button>
      {#each pictures.board.struck as p (p.id)}
        <button
          type="button"
          class="text-soft text-small underline"
          onclick={() => void pictures.look({ struck: false }, p.id)}>put “{p.name}” back</button
        >
      {/each}
      {#if pictures.paged && pages.n > 0}
        <span class="ml-auto flex items-center gap-1.5">
          <button
            type="button"
            class="border-line h-9 w-9 rounded-md border-2"
            aria-label="Page before"
            onclick={() => turnPage(-1)}>‹</button
          >
          <label class="figure flex items-center gap-1"
            ><input
              class="figure bg-panel border-line h-9 w-16 rounded-md border-2 px-1.5 text-right"
              inputmode="numeric"
              aria-label="Page"
              value={pictures.page}
              onchange={(e) => {
                const to = Math.round(Number(e.currentTarget.value));
                if (to >= 1 && to <= pages.n) pictures.page = to;
                else e.currentTarget.value = String(pictures.page);
              }}
            />
            / <span data-test="pages">{pages.n}</span></label
          >
          <button
            type="button"
            class="border-line h-9 w-9 rounded-md border-2"
            aria-label="Page after"
            onclick={() => turnPage(1)}>›</button
          >
        </span>
      {/if}
    </div>
  {/if}
</div>
<PhoneDialog bind:open={phoning} what={invites} oncame={() => void pictures.load()} />
