<script lang="ts">
  import { api } from '../api/client';
  import type { PinPicture } from '../api/types.gen';
  import { PdfPage, saidOf } from './pdf';
  import { styled } from './turn';

  /** A picture, or a page of a manual, as it is looked at; it fills a box that has its shape. */
  interface Props {
    sheet: number;
    picture: Omit<PinPicture, 'pins'>;
    page?: number;
    /** Of the file, in the pixels of the screen. */
    width: number;
    height: number;
    /** Its own size, once it is known. */
    onsize?: (width: number, height: number) => void;
    ontrouble?: (says: string) => void;
  }
  let { sheet, picture, page = 1, width, height, onsize, ontrouble }: Props = $props();

  let canvas: HTMLCanvasElement | undefined = $state();
  const pdf = $derived(picture.type === 'application/pdf');
  const url = $derived(api.boardPicture(sheet, picture.id, { changes: String(picture.changes ?? 0) }));
  const sharp = 2400; // pixels across, for a page of a drawing to be read zoomed in

  $effect(() => {
    if (!pdf || !canvas) return;
    const [on, from, number] = [canvas, url, page];
    let gone = false;
    PdfPage.of(from, number)
      .then(async (it) => {
        if (gone) return;
        onsize?.(it.width, it.height);
        await it.draw(on, sharp);
        on.dataset.drawn = String(number);
      })
      .catch((error: unknown) => {
        if (!gone) ontrouble?.(saidOf(error));
      });
    return () => (gone = true);
  });
</script>

<div
  class="absolute top-1/2 left-1/2"
  style:width="{width}px"
  style:height="{height}px"
  style:transform="translate(-50%, -50%) {styled(picture)}"
>
  {#if pdf}
    {#key `${url} ${page}`}<canvas bind:this={canvas} class="h-full w-full bg-white"></canvas>{/key}
  {:else}
    <img
      src={url}
      alt={picture.name}
      class="h-full w-full select-none"
      draggable="false"
      onload={(e) => {
        const it = e.currentTarget as HTMLImageElement;
        onsize?.(it.naturalWidth, it.naturalHeight);
      }}
      onerror={() => ontrouble?.('This picture cannot be shown. Replace it by another.')}
    />
  {/if}
</div>
