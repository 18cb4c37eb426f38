<script lang="ts">
  import { Button, Kbd, Select } from 'flowbite-svelte';
  import type { Bench } from './bench.svelte';

  let { bench, oninject }: { bench: Bench; oninject: () => void } = $props();

  const rails = $derived(bench.findings?.rails ?? []);
  const isBad = (verdict: string) => !['', 'within', 'unjudged'].includes(verdict);
</script>

<div class="text-soft flex min-h-[46px] flex-wrap items-center px-[18px] whitespace-nowrap lg:flex-nowrap">
  <div class="flex min-w-0 flex-1 items-center gap-x-4 overflow-x-auto p-1">
    {#if rails.length > 0}<span class="text-small">Supplies</span>{/if}
    {#each rails as rail (rail.name)}
      {@const bad = isBad(rail.verdict) || rail.rippling === 'hum'}
      <button
        type="button"
        class={[
          'flex flex-none items-baseline gap-2 rounded-md border-2 px-2 py-0.5',
          rail.name === bench.aim ? 'border-ink' : 'hover:border-line border-transparent',
        ]}
        aria-label="Aim at rail {rail.name}"
        aria-pressed={rail.name === bench.aim}
        title={rail.note}
        onclick={() => bench.aimFor(rail.name)}
      >
        <b class="text-ink font-semibold">{rail.name}</b>
        {#if rail.read === '' && rail.ripple === ''}
          <span>not read</span>
        {:else}
          {#if rail.read !== ''}
            <span class={['figure', isBad(rail.verdict) && 'text-fault font-bold']}
              >{isBad(rail.verdict) ? (rail.verdict === 'high' ? '▴ ' : '▾ ') : ''}{rail.read}</span
            >
          {/if}
          {#if isBad(rail.verdict)}<span class="text-fault">{rail.verdict} {rail.off}</span>{/if}
          {#if rail.ripple !== ''}
            <span class={['figure text-small', rail.rippling === 'hum' && 'text-fault font-bold']}
              >{rail.rippling === 'hum' ? '≋ ' : '~ '}{rail.ripple}</span
            >
          {/if}
          {#if rail.note && !bad}<span>waits for the start</span>{/if}
        {/if}
      </button>
    {/each}
  </div>
  <div class="flex max-w-full flex-none items-center gap-2 overflow-x-auto py-1">
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
    <Button color="alternative" type="button" onclick={oninject} disabled={bench.view?.finished !== null}>
      <Kbd>i</Kbd>
      <span class="text-small">Feeding in</span>
      <b class="figure text-ink font-semibold">{bench.view?.injecting}</b>
    </Button>
  </div>
</div>
