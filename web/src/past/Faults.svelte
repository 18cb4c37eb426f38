<script lang="ts">
  import { link } from 'svelte-spa-router';
  import type { PastPage } from '../api/types.gen';

  /** What failed, the most often first: here as a solid bar, elsewhere as a hatched one. */
  let { page }: { page: PastPage } = $props();

  const most = $derived(Math.max(1, ...page.faults.map((f) => f.times + f.lent)));
  const minutes = (m: number) => (m < 90 ? `${Math.round(m).toString()} min` : `${(m / 60).toFixed(1)} h`);
</script>

<ul aria-label="What failed">
  {#each page.faults as f, i (i)}
    <li class="border-rule grid grid-cols-[minmax(0,1fr)_170px] gap-x-4 border-t py-1.5 first:border-0">
      <span class="min-w-0 text-pretty"
        ><b>{f.part === '' ? f.block : f.part}</b>{f.part === '' ? '' : ` in ${f.block}`}{f.what
          ? `, ${f.what}`
          : ''}{#if f.back > 0}
          <span class="text-fault font-semibold">came back {f.back === 1 ? 'once' : `${f.back.toString()} times`}</span
          >{/if}
        {#if f.after.length > 0}<span class="text-small text-soft block">after “{f.after.join('”, “')}”</span>{/if}
        {#if f.mistaken.length > 0}<span class="text-small text-soft block"
            >taken first for {f.mistaken.join('; ')}</span
          >{/if}</span
      >
      <span>
        <svg width="150" height="12" aria-hidden="true">
          <defs>
            <pattern id="lent" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"
              ><rect width="2" height="5" class="fill-measured" /></pattern
            >
          </defs>
          <rect width={(f.times / most) * 148} height="10" y="1" class="fill-measured" />
          <rect
            x={(f.times / most) * 148}
            width={(f.lent / most) * 148}
            height="9"
            y="1.5"
            fill="url(#lent)"
            class="stroke-measured"
          />
        </svg>
        <span class="text-small text-soft block"
          >{f.times > 0 ? `${f.times.toString()} here` : ''}{f.times > 0 && f.lent > 0 ? ', ' : ''}{f.lent > 0
            ? `${f.lent.toString()} elsewhere`
            : ''}{f.minutes > 0 ? `, ${minutes(f.minutes)}` : ''}{#each f.jobs.slice(0, 3) as n (n)}&nbsp;<a
              use:link
              class="underline"
              href="/jobs/{n}">{n}</a
            >{/each}</span
        >
      </span>
    </li>
  {/each}
</ul>
