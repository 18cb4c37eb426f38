<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { SoakPlan, SoakView } from '../api/types.gen';
  import Key from '../shared/Key.svelte';
  import type { Proving } from './proving.svelte';
  import { clock } from './time';

  /** The plan of a soak before it begins: what is done how long, what is logged and how far it may go. */
  let { it, view, plan }: { it: Proving; view: SoakView; plan: SoakPlan } = $props();

  const total = $derived(plan.steps.reduce((sum, s) => sum + (Number.isFinite(s.minutes) ? s.minutes : 0), 0));
  const usual = { level: '200 mV', from: '40 Hz', to: '1 kHz', sweep: 90 };
</script>

<form
  class="flex flex-col gap-3"
  onsubmit={(e) => {
    e.preventDefault();
    void it.start();
  }}
>
  <div class="flex flex-wrap items-center justify-between gap-3">
    <p class="text-say font-semibold text-pretty" data-test="headline">
      {clock(total * 60)} hours of proving, as is usual for such a set. Change what is not so.
    </p>
    <span class="flex flex-wrap gap-2">
      <Button color="alternative" href="#/jobs/{view.number}/prove/closing"
        ><Key of="closing" />Closing measurements</Button
      >
      <Button type="submit">Begin <Key of="begin" /></Button>
    </span>
  </div>
  <p class="border-hazard border-l-4 pl-3 font-semibold">
    It runs hot and open for hours: never alone in the house, nothing that burns beside it, a fuse of the right size, a
    dummy load that bears it, the lid on where the set is meant to have it. Local codes and licensed practice come
    first.
  </p>
  {#if it.kept.trouble}
    <p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{it.kept.trouble}</p>
  {/if}
  <h2 class="lead">What is done</h2>
  <div class="overflow-x-auto">
    <table class="w-full min-w-[900px] table-fixed text-left">
      <colgroup
        >{#each [24, 12, 9, 11, 11, 11, 9, 9, 4] as w, i (i)}<col style:width="{w}%" />{/each}</colgroup
      >
      <thead class="text-small text-soft"
        ><tr
          ><th class="font-normal">Step</th><th class="font-normal">Does</th><th class="font-normal">Minutes</th><th
            class="font-normal">Fed in</th
          ><th class="font-normal">from</th><th class="font-normal">to</th><th class="font-normal">in, s</th><th
            class="font-normal">silent, s</th
          ><th></th></tr
        ></thead
      >
      <tbody>
        {#each plan.steps as step, i (i)}
          <tr>
            <td class="pr-1"><input class="cell" aria-label="Step {i + 1}" bind:value={step.name} /></td>
            <td class="pr-1"
              ><select class="cell" aria-label="Step {i + 1} does" bind:value={step.do}
                >{#each view.dos as d (d)}<option value={d}>{d}</option>{/each}</select
              ></td
            >
            <td class="pr-1"
              ><input
                class="cell figure"
                type="number"
                min="0.1"
                step="any"
                required
                aria-label="Step {i + 1}, minutes"
                bind:value={step.minutes}
              /></td
            >
            {#if step.signal}
              <td class="pr-1"
                ><input
                  class="cell figure"
                  aria-label="Level"
                  placeholder="nothing"
                  bind:value={step.signal.level}
                /></td
              >
              <td class="pr-1"><input class="cell figure" aria-label="From" bind:value={step.signal.from} /></td>
              <td class="pr-1"><input class="cell figure" aria-label="To" bind:value={step.signal.to} /></td>
              <td class="pr-1"
                ><input
                  class="cell figure"
                  type="number"
                  min="0"
                  aria-label="Sweep"
                  bind:value={step.signal.sweep}
                /></td
              >
              <td class="pr-1"
                ><input class="cell figure" type="number" min="0" aria-label="Rest" bind:value={step.signal.rest} /></td
              >
            {:else}
              <td colspan="5"
                ><button
                  type="button"
                  class="text-small text-soft underline"
                  onclick={() => (step.signal = { ...usual })}>feed a signal in</button
                ></td
              >
            {/if}
            <td
              ><button
                type="button"
                class="text-soft hover:text-fault px-1"
                aria-label="Leave out step {i + 1}"
                onclick={() => plan.steps.splice(i, 1)}>✕</button
              ></td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <button
    type="button"
    class="text-small text-soft self-start underline"
    onclick={() => plan.steps.push({ name: '', do: 'drive', minutes: 30 })}>another step</button
  >
  <h2 class="lead">What is logged, and how far it may go</h2>
  <div class="overflow-x-auto">
    <table class="w-full min-w-[1000px] table-fixed text-left">
      <colgroup
        >{#each [15, 13, 12, 14, 5, 8, 8, 13, 6, 7, 3] as w, i (i)}<col style:width="{w}%" />{/each}</colgroup
      >
      <thead class="text-small text-soft"
        ><tr
          ><th class="font-normal">Name</th><th class="font-normal">What</th><th class="font-normal">Where</th><th
            class="font-normal">Read by</th
          ><th class="font-normal">Input</th><th class="font-normal">At most</th><th class="font-normal">At least</th
          ><th class="font-normal">Twin</th><th class="font-normal">Apart</th><th class="font-normal">In 10 min</th><th
          ></th></tr
        ></thead
      >
      <tbody>
        {#each plan.traces as t, i (i)}
          <tr>
            <td class="pr-1"><input class="cell" aria-label="Trace {i + 1}" bind:value={t.name} /></td>
            <td class="pr-1"
              ><select class="cell" aria-label="What {t.name} is" bind:value={t.what}
                >{#each view.whats as w (w)}<option value={w}>{w}</option>{/each}</select
              ></td
            >
            <td class="pr-1"><input class="cell" aria-label="Where" bind:value={t.where} /></td>
            <td class="pr-1"
              ><select
                class="cell"
                aria-label="Read by"
                value={t.instrument ?? ''}
                onchange={(e) => (t.instrument = e.currentTarget.value)}
                ><option value="">typed</option>{#each view.loggers as l (l.id)}<option value={l.id}>{l.name}</option
                  >{/each}</select
              ></td
            >
            <td class="pr-1"
              ><input class="cell figure" type="number" min="0" aria-label="Input" bind:value={t.input} /></td
            >
            <td class="pr-1"><input class="cell figure" aria-label="At most" bind:value={t.most} /></td>
            <td class="pr-1"><input class="cell figure" aria-label="At least" bind:value={t.least} /></td>
            <td class="pr-1"
              ><select
                class="cell"
                aria-label="Twin"
                value={t.twin ?? ''}
                onchange={(e) => (t.twin = e.currentTarget.value)}
                ><option value=""></option>{#each plan.traces.filter((x) => x.name !== t.name) as x (x.name)}<option
                    value={x.name}>{x.name}</option
                  >{/each}</select
              ></td
            >
            <td class="pr-1"><input class="cell figure" aria-label="Apart" bind:value={t.apart} /></td>
            <td class="pr-1"><input class="cell figure" aria-label="In ten minutes" bind:value={t.rate} /></td>
            <td
              ><button
                type="button"
                class="text-soft hover:text-fault px-1"
                aria-label="Leave out {t.name}"
                onclick={() => plan.traces.splice(i, 1)}>✕</button
              ></td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <button
    type="button"
    class="text-small text-soft self-start underline"
    onclick={() => plan.traces.push({ name: '', what: 'temperature', most: '70 °C' })}>another trace</button
  >
  <div class="flex flex-wrap items-end gap-4">
    <label class="text-small text-soft"
      >Instruments every, s<input class="cell figure" type="number" min="1" max="3600" bind:value={plan.every} /></label
    >
    <label class="text-small text-soft"
      >Typed every, min<input class="cell figure" type="number" min="1" max="1440" bind:value={plan.remind} /></label
    >
    {#if plan.steps.some((s) => s.signal)}
      <label class="text-small text-soft"
        >Fed in by<select class="cell" bind:value={plan.by}
          ><option value={undefined}>the generator</option><option value="sound">this computer’s sound</option></select
        ></label
      >
    {/if}
    {#if it.simulated && plan.traces.length > 0 && plan.by !== 'sound'}
      <label class="text-small text-soft"
        >Simulated time<select class="cell" bind:value={plan.speed}
          ><option value={undefined}>as fast as real</option>{#each [10, 60, 300, 600] as s (s)}<option value={s}
              >{s} times as fast</option
            >{/each}</select
        ></label
      >
    {/if}
  </div>
</form>

<style>
  .cell {
    width: 100%;
    border: 1px solid var(--line);
    border-radius: 6px;
    background: var(--panel);
    padding: 2px 6px;
  }
</style>
