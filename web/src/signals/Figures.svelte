<script lang="ts">
  import type { Figure } from '../api/types.gen';

  /** Measures of a waveform, with how sure each is and how it was had. */
  interface Props {
    list: Figure[];
    label: string;
    /** Takes a figure as the reading; left out where nothing can be logged. */
    onsay?: ((text: string) => void) | undefined;
    at: string;
    /** Methods stand in a column of their own, or show when asked for. */
    wide?: boolean;
  }
  let { list, label, onsay, at, wide = false }: Props = $props();

  /** How sure a figure is, against itself. */
  function sure(f: Figure): string {
    if (f.sure <= 0 || f.value === 0) return '';
    const ppm = (f.sure / Math.abs(f.value)) * 1e6;
    if (ppm >= 1e6) return '';
    if (ppm >= 1000) return `±${Number((ppm / 1e4).toPrecision(1))} %`;
    return `±${ppm >= 10 ? Math.round(ppm) : Number(ppm.toPrecision(1))} ppm`;
  }
</script>

<table class="w-full" aria-label={label}>
  <tbody>
    {#each list as figure (figure.key)}
      <tr class="border-rule border-t align-baseline" title={figure.how}>
        <td class="py-0.5 pr-2">{figure.name}</td>
        <td class="figure pr-2 text-right font-semibold whitespace-nowrap">{figure.text}</td>
        <td class="figure text-small text-soft pr-2 whitespace-nowrap">{sure(figure)}</td>
        {#if wide}<td class="text-small text-soft pr-2">{figure.how}</td>{/if}
        <td class="text-right">
          {#if figure.reading && onsay}
            <button
              type="button"
              class="text-measured underline"
              aria-label="Read {figure.name} at {at}"
              onclick={() => onsay(figure.reading)}>{wide ? `read at ${at}` : 'read'}</button
            >
          {/if}
        </td>
      </tr>
    {/each}
  </tbody>
</table>
