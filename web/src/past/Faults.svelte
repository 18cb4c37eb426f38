<script lang="ts">
  import { link } from 'svelte-spa-router';
  import type { PastPage } from '../api/types.gen';
  import { worked } from '../shared/format';

  /** What failed, the most often first: here as a solid bar, elsewhere as a hatched one. */
  let { page }: { page: PastPage } = $props();

  const most = $derived(Math.max(1, ...page.faults.map((f) => f.times + f.lent)));
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
        <span class="flex h-2.5 items-stretch" aria-hidden="true">
          <span class="bg-measured" style:width="{(f.times / most) * 100}%"></span>
          <span class={['elsewhere border-measured', f.lent > 0 && 'border']} style:width="{(f.lent / most) * 100}%"
          ></span>
        </span>
        <span class="text-small text-soft block"
          >{f.times > 0 ? `${f.times.toString()} here` : ''}{f.times > 0 && f.lent > 0 ? ', ' : ''}{f.lent > 0
            ? `${f.lent.toString()} elsewhere`
            : ''}{f.minutes > 0 ? `, ${worked(f.minutes)}` : ''}{#each f.jobs.slice(0, 3) as n (n)}&nbsp;<a
              use:link
              class="underline"
              href="/jobs/{n}">{n}</a
            >{/each}</span
        >
      </span>
    </li>
  {/each}
</ul>

<style>
  .elsewhere {
    background: repeating-linear-gradient(-45deg, var(--measured) 0 2px, transparent 2px 5px);
  }
</style>
