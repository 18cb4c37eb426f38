<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { LogLine, SoakView } from '../api/types.gen';
  import { drawn, isBad } from './line';
  import type { Proving } from './proving.svelte';

  /** What else is logged: a strip each, before what is allowed. */
  let { it, view }: { it: Proving; view: SoakView } = $props();

  let width = $state(860);
  const height = 30;
  const rows = $derived(
    view.state.traces.flatMap((t, i) => {
      const line = it.log.traces[i];
      return t.what !== 'temperature' && line ? [{ t, line }] : [];
    }),
  );
  const strip = $derived(Math.max(120, width - 150 - 190));
  const x = $derived(scaleLinear([it.left, it.right], [0, strip]));
  function strung(line: LogLine, least: number | null, most: number | null) {
    const all = [...line.least, ...line.greatest];
    let low = Math.min(...all);
    let high = Math.max(...all);
    // The ribbon is in sight where what is read comes near it.
    const near = Math.max(high - low, Math.abs(high) * 0.3, 1e-12);
    if (most !== null && most - high < 2 * near) high = Math.max(high, most);
    if (least !== null && low - least < 2 * near) low = Math.min(low, least);
    const spare = (high - low || Math.abs(high) || 1) * 0.12;
    const y = scaleLinear([low - spare, high + spare], [height - 1, 1]);
    const top = most === null ? 0 : Math.max(0, Math.min(height, y(most)));
    const foot = least === null ? height : Math.max(0, Math.min(height, y(least)));
    return { path: drawn(line, x, y), top, foot };
  }
</script>

<div bind:clientWidth={width} role="group" aria-label="What else is logged">
  {#each rows as { t, line } (t.name)}
    {@const d = strung(line, t.least, t.most)}
    <div class="flex items-center gap-2 py-0.5" title={t.limits.join(', ')}>
      <span class="w-[142px] flex-none truncate">{t.name}</span>
      <svg width={strip} {height} class="bg-panel flex-none" aria-hidden="true">
        <rect
          x="0"
          y={d.top}
          width={x(Math.min(view.state.t, it.right))}
          height={Math.max(0, d.foot - d.top)}
          class="fill-ribbon"
        />
        <path d={d.path} class="stroke-measured fill-measured" stroke-width="1.5" />
      </svg>
      <span class={['figure font-semibold whitespace-nowrap', isBad(t) ? 'text-fault' : 'text-ink']}
        >{t.text || '–'}{isBad(t) ? ' ▲' : ''}</span
      >
      {#if t.verdict === 'silent'}<span class="text-fault text-small">silent</span>{/if}
    </div>
  {/each}
</div>
