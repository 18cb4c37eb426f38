<script lang="ts">
  import type { StripAssembly, StripBack } from '../api/types.gen';

  /** The way back together, counted out against in. */
  interface Props {
    assembly: StripAssembly;
    /** The step under the cursor. */
    at: number;
    /** On a narrow screen. */
    shown: boolean;
    onback: (step: StripBack, count: number) => void;
    onless: (step: StripBack) => void;
  }
  let { assembly, at = $bindable(), shown, onback, onless }: Props = $props();

  // The step under the cursor stays in sight.
  $effect(() => document.querySelector(`[data-back="${at}"]`)?.scrollIntoView({ block: 'nearest' }));
</script>

<section
  class={['min-h-0 min-w-0 flex-col gap-2 p-[12px_18px] lg:flex', shown ? 'flex' : 'hidden']}
  aria-label="Together again"
>
  <h2 class="lead max-lg:hidden">Together again</h2>
  <p class={['text-say font-semibold text-pretty', assembly.over.length > 0 && 'text-fault']} data-test="assembly">
    {assembly.says}
  </p>
  <ol class="min-h-0 flex-1 lg:overflow-y-auto" aria-label="Back in">
    {#each assembly.steps as b, i (b.step.id)}
      <li
        data-back={i}
        class={[
          'grid grid-cols-[minmax(0,1fr)_auto] items-center gap-3 rounded-md border-2 p-1.5',
          i === at ? 'border-ink' : 'border-transparent',
        ]}
      >
        <div class={b.done ? 'text-soft' : ''}>
          {b.says}
          {#if b.step.mind}<b class="block"><span class="text-hazard" aria-hidden="true">▲</span> {b.step.mind}</b>{/if}
        </div>
        <div class="flex items-center gap-1.5">
          {#if b.step.count > 1}
            <button
              type="button"
              class="border-line h-11 w-9 rounded-md border-2"
              aria-label="One less of {b.says}"
              onclick={() => onless(b)}>−</button
            >
          {/if}
          <button
            type="button"
            class={[
              'flex h-11 min-w-20 items-center justify-center gap-1.5 rounded-md border-2 px-2',
              b.touched && !b.done && b.in > 0 ? 'border-fault text-fault font-bold' : 'border-line',
            ]}
            aria-pressed={b.done}
            aria-label="{b.says}: {b.in} of {b.step.count} back in"
            onclick={() => {
              at = i;
              onback(b, b.done ? 0 : b.step.count);
            }}
          >
            {#if b.done}
              <svg width="16" height="14" aria-hidden="true"
                ><path d="M2 7l4 5 9-11" fill="none" class="stroke-expect" stroke-width="2.4" /></svg
              >
            {/if}
            <span class="figure">{b.in}/{b.step.count}</span>
          </button>
        </div>
      </li>
    {/each}
  </ol>
  {#if assembly.tallies.length > 0}
    <table class="text-small w-full">
      <thead>
        <tr class="text-soft text-left"
          ><th class="font-normal">Counted</th><th class="w-12 text-right font-normal">out</th><th
            class="w-12 text-right font-normal">in</th
          ></tr
        >
      </thead>
      <tbody>
        {#each assembly.tallies as t (t.kind + t.what)}
          <tr class="border-rule border-t"
            ><td>{t.what}</td><td class="figure text-right">{t.out}</td><td class="figure text-right">{t.in}</td></tr
          >
        {/each}
      </tbody>
    </table>
  {/if}
</section>
