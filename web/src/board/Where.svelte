<script lang="ts">
  import { link } from 'svelte-spa-router';
  import type { Board } from '../api/types.gen';
  import Face from './Face.svelte';
  import { seen, sized } from './turn';

  /** The piece of a picture around a place, with its pin: where it is. Nothing where it has none. */
  interface Props {
    board: Board | null;
    /** The first of these that is on a picture is shown. */
    names: string[];
    /** Where the whole picture is; left out, there is no way to it. */
    href?: string;
    height?: number;
  }
  let { board, names, href, height = 150 }: Props = $props();

  let width = $state(0);
  let size: { of: string; wide: number; high: number } | null = $state.raw(null);
  let trouble = $state('');

  const place = $derived(names.map((n) => board?.places.find((p) => p.name === n)).find((p) => p !== undefined));
  const picture = $derived(board?.pictures.find((p) => p.id === place?.picture));
  const key = $derived(`${picture?.id ?? ''} ${picture?.changes ?? 0} ${place?.page ?? 0}`);
  // A fourth of the picture across: near enough to tell a leg, far enough to find it by what is around.
  const part = 4;
  const box = $derived.by(() => {
    if (!place || !picture) return null;
    const own = size?.of === key ? [size.wide, size.high] : [picture.width || 4, picture.height || 3];
    const [w = 4, h = 3] = own;
    const [vw, vh] = sized(picture, w, h);
    const k = Math.max((width * part) / Math.max(vw, vh), width / vw, height / vh);
    const [u, v] = seen(picture, place.x, place.y);
    const keep = (at: number, all: number, room: number) =>
      Math.min(Math.max(at - room / 2, 0), Math.max(all - room, 0));
    const left = keep(u * vw * k, vw * k, width);
    const top = keep(v * vh * k, vh * k, height);
    return { w: w * k, h: h * k, vw: vw * k, vh: vh * k, left, top, x: u * vw * k - left, y: v * vh * k - top };
  });
</script>

{#if board && place && picture}
  <figure class="border-ink relative overflow-hidden rounded-md border-2" data-test="where">
    <div bind:clientWidth={width} class="relative w-full overflow-hidden bg-[#20302b]" style:height="{height}px">
      {#if box && width > 0}
        <div
          class="absolute"
          style:width="{box.vw}px"
          style:height="{box.vh}px"
          style:left="{-box.left}px"
          style:top="{-box.top}px"
        >
          {#key key}<Face
              sheet={board.sheet}
              {picture}
              page={place.page ?? 1}
              width={box.w}
              height={box.h}
              onsize={(wide, high) => (size = { of: key, wide, high })}
              ontrouble={(says) => (trouble = says)}
            />{/key}
        </div>
        <svg class="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
          <circle cx={box.x} cy={box.y} r="16" fill="none" stroke="#101a17" stroke-width="5" />
          <circle cx={box.x} cy={box.y} r="16" fill="none" stroke="#ffffff" stroke-width="2.5" />
        </svg>
        <span
          class="figure absolute rounded-sm bg-white/90 px-1.5 font-semibold whitespace-nowrap text-[#101a17]"
          style={box.x < width / 2 ? `left:${box.x + 24}px` : `right:${width - box.x + 24}px`}
          style:top="{box.y - 11}px">{place.of || place.name}{place.doubt ? ' ?' : ''}</span
        >
      {/if}
    </div>
    <figcaption class="bg-panel text-small flex items-baseline gap-2 px-2 py-0.5">
      <span class="text-soft min-w-0 flex-1 truncate"
        >{trouble ||
          `${picture.name}${place.page ? `, page ${place.page}` : ''}${picture.mirror ? ', mirrored' : ''}${place.doubt ? ': the picture was replaced, it may be elsewhere on it' : ''}`}</span
      >
      {#if href}<a use:link {href} class="underline" data-test="whole">the whole picture</a>{/if}
    </figcaption>
  </figure>
{/if}
