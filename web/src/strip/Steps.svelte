<script lang="ts">
  import type { StepView } from '../api/types.gen';
  import { when } from '../shared/format';
  import Placed from '../board/Placed.svelte';
  import Pictures from '../shared/Pictures.svelte';

  /** The steps apart, the last one first, with their pictures. */
  interface Props {
    steps: StepView[];
    number: number;
    sheet: number;
    closed: boolean;
    /** How to take a picture of each, by its id. */
    pictures: Record<string, { choose: () => void }>;
    onstrike: (id: string) => void;
    onchange: () => void;
  }
  let { steps, number, sheet, closed, pictures = $bindable(), onstrike, onchange }: Props = $props();
</script>

<ol class="min-h-0 flex-1 lg:overflow-y-auto" aria-label="Steps">
  {#each steps as step, i (step.id)}
    <li class={['border-rule border-t py-1.5 first:border-0', step.struck && 'text-soft']}>
      <div class="grid grid-cols-[28px_minmax(0,1fr)_auto_auto] items-baseline gap-2">
        <span class="figure text-soft">{steps.length - i}</span>
        <span class={step.struck ? 'line-through' : ''}>
          {step.says}
          {#if step.mind}<b class="block"><span class="text-hazard" aria-hidden="true">▲</span> {step.mind}</b>{/if}
        </span>
        <span class="figure text-small text-soft">{when(step.taken)}</span>
        {#if !step.struck && !closed}
          <button
            type="button"
            class="text-soft hover:text-fault px-1"
            aria-label="Strike out step {step.says}"
            onclick={() => onstrike(step.id)}>✕</button
          >
        {/if}
      </div>
      {#if !step.struck}
        <Placed class="mt-1 ml-9 max-w-[300px]" {sheet} text={step.says} height={84} />
        <div class="mt-1 pl-9">
          <Pictures
            bind:this={pictures[step.id]}
            job={number}
            step={step.id}
            ids={step.pictures ?? []}
            {closed}
            {onchange}
          />
        </div>
      {/if}
    </li>
  {:else}
    <li class="text-soft py-1">
      Nothing undone yet. Press the key of what you undo first, write one line, Enter. Which way round a plug goes and
      which screw is the odd one is worth a picture.
    </li>
  {/each}
</ol>
