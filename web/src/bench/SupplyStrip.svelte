<script lang="ts">
  import Key from '../shared/Key.svelte';
  import { Button, Select } from 'flowbite-svelte';
  import type { LineFinding } from '../api/types.gen';
  import type { Bench } from './bench.svelte';

  let { bench, oninject }: { bench: Bench; oninject: () => void } = $props();

  const rails = $derived(bench.findings?.rails ?? []);
  const controls = $derived(bench.findings?.controls ?? []);
  // What does not fit is a scroll away: how many there are on either side stands at its end, and what is aimed at is
  // always in sight.
  let strip: HTMLElement | undefined = $state();
  const sign = 62; // pixels that a sign covers
  let hidden = $state({ before: 0, behind: 0 });
  function look() {
    const box = strip?.getBoundingClientRect();
    if (!strip || !box) return;
    const all = [...strip.querySelectorAll('button')].map((b) => b.getBoundingClientRect());
    const before = all.map((b) => box.left - b.left);
    const behind = all.map((b) => b.right - box.right);
    // The signs lie over the strip, so that its width does not depend on them; what they cover counts as hidden.
    const count = (outside: number[]) => (outside.some((x) => x > 4) ? outside.filter((x) => x > -sign).length : 0);
    hidden = { before: count(before), behind: count(behind) };
  }
  $effect(() => {
    void bench.aim;
    strip?.querySelector('[aria-pressed="true"]')?.scrollIntoView({ inline: 'center', block: 'nearest' });
    look();
  });
  $effect(() => {
    if (!strip) return;
    const seen = new ResizeObserver(() => requestAnimationFrame(look));
    seen.observe(strip);
    for (const child of strip.children) seen.observe(child);
    return () => seen.disconnect();
  });
  const turn = (way: number) => strip?.scrollBy({ left: way * strip.clientWidth * 0.8 });

  const isBad = (verdict: string) => !['', 'within', 'unjudged'].includes(verdict);
</script>

{#snippet lines(title: string, kind: string, list: LineFinding[])}
  {#if list.length > 0}<span class="text-small">{title}</span>{/if}
  {#each list as line (line.name)}
    {@const bad = isBad(line.verdict) || isBad(line.moving) || line.rippling === 'hum'}
    <button
      type="button"
      class={[
        'flex flex-none items-baseline gap-2 rounded-md border-2 px-2 py-0.5',
        line.name === bench.aim ? 'border-ink' : 'hover:border-line border-transparent',
      ]}
      aria-label="Aim at {kind} {line.name}"
      aria-pressed={line.name === bench.aim}
      title={[line.note, line.does, line.moves && `${line.moves} with ${line.by}`].filter(Boolean).join('; ')}
      onclick={() => bench.aimFor(line.name)}
    >
      <b class="text-ink font-semibold">{line.name}</b>
      {#if line.read === '' && line.ripple === '' && line.moved === ''}
        <span class={line.was ? 'text-small' : ''}>{line.was ? `before ${line.was}` : 'not read'}</span>
      {:else}
        {#if line.read !== ''}
          <span class={['figure', isBad(line.verdict) && 'text-fault font-bold']}
            >{isBad(line.verdict) ? (line.verdict === 'high' ? '▴ ' : '▾ ') : ''}{line.read}</span
          >
        {/if}
        {#if isBad(line.verdict)}<span class="text-fault">{line.verdict} {line.off}</span>{/if}
        {#if line.moved !== ''}
          <span class={['figure text-small', isBad(line.moving) && 'text-fault font-bold']}
            >{isBad(line.moving) ? '▾ ' : '→ '}{line.moved}</span
          >
        {/if}
        {#if line.ripple !== ''}
          <span class={['figure text-small', line.rippling === 'hum' && 'text-fault font-bold']}
            >{line.rippling === 'hum' ? '≋ ' : '~ '}{line.ripple}</span
          >
        {/if}
        {#if line.note && !bad}<span>waits for the start</span>{/if}
      {/if}
    </button>
  {/each}
{/snippet}

<div class="text-soft flex min-h-[46px] flex-wrap items-center px-[18px] whitespace-nowrap lg:flex-nowrap">
  <div class="relative flex min-w-0 flex-1 basis-full items-center lg:basis-0">
    {#if hidden.before > 0}<button
        type="button"
        class="text-small bg-ground absolute inset-y-0 left-0 z-10 pr-2 font-semibold"
        aria-label="{hidden.before} more to the left"
        onclick={() => turn(-1)}>‹ {hidden.before}</button
      >{/if}
    <div
      class="flex min-w-0 flex-1 [scrollbar-width:none] items-center gap-x-4 overflow-x-auto p-1"
      bind:this={strip}
      onscroll={look}
    >
      {@render lines('Supplies', 'rail', rails)}
      {@render lines('Controls', 'control', controls)}
    </div>
    {#if hidden.behind > 0}<button
        type="button"
        class="text-small bg-ground absolute inset-y-0 right-0 z-10 pr-2 pl-2 font-semibold"
        aria-label="{hidden.behind} more to the right"
        onclick={() => turn(1)}>{hidden.behind} more ›</button
      >{/if}
  </div>
  <div class="flex max-w-full min-w-0 flex-none items-center gap-2 overflow-x-auto py-1 lg:max-w-[55%]">
    <label class="text-small flex items-center gap-2">
      With
      <Select
        placeholder=""
        class="w-44 flex-none"
        aria-label="Reading with"
        value={bench.view?.instrument}
        disabled={bench.view?.finished !== null}
        onchange={(e) => bench.set({ instrument: e.currentTarget.value })}
      >
        {#each bench.view?.instruments ?? [] as instrument (instrument.key)}
          <option value={instrument.key}>{instrument.name}</option>
        {/each}
      </Select>
    </label>
    {#if bench.points.length > 0}
      <Button color="alternative" type="button" onclick={oninject} disabled={bench.view?.finished !== null}>
        <Key of="inject" />
        <span class="text-small">Feeding in</span>
        <b class="figure text-ink font-semibold">{bench.view?.injecting}</b>
      </Button>
    {/if}
  </div>
</div>
