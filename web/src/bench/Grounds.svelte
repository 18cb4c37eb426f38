<script lang="ts">
  import type { Ground } from '../api/types.gen';
  import type { Bench } from './bench.svelte';

  /** What has to be shown, and by what it is: before a stage is condemned, or after a repair. */
  interface Props {
    bench: Bench;
    title: string;
    label: string;
    grounds: Ground[];
    onprovoke: (place: string, act: string) => void;
    /** Left out where nothing can be done without. */
    onwaive?: ((ground: Ground) => void) | undefined;
  }
  let { bench, title, label, grounds, onprovoke, onwaive }: Props = $props();

  const marks = { shown: '✓', waived: '–', against: '✕', missing: '' };
</script>

{#if title}<h3 class="lead mt-3">{title}</h3>{/if}
<ul class="mt-1 space-y-0.5" aria-label={label}>
  {#each grounds as ground (ground.key)}
    <li class="grid grid-cols-[18px_minmax(0,1fr)_auto] items-baseline gap-x-1.5" data-proof={ground.proof}>
      <span class={['font-bold', ground.proof === 'against' ? 'text-fault' : 'text-expect']} aria-hidden="true"
        >{marks[ground.proof]}</span
      >
      {#if ground.proof === 'missing'}
        <button
          type="button"
          class="text-left underline decoration-dotted disabled:no-underline"
          disabled={ground.point === ''}
          onclick={() => (ground.quantity === 'provocation' ? onprovoke(ground.point, '') : bench.aimForGround(ground))}
          >{#if ground.safety}<span class="text-hazard mr-1" aria-hidden="true">▲</span>{/if}{ground.text}</button
        >
        {#if onwaive && bench.view?.finished === null}
          <button
            type="button"
            class="text-small text-soft underline"
            aria-label="Do without: {ground.text}"
            onclick={() => onwaive(ground)}>do without</button
          >
        {/if}
      {:else}
        <span class={ground.proof === 'against' ? 'text-fault' : 'text-soft'}
          >{ground.text}:
          <span class="text-small">{ground.proof === 'waived' ? 'waived, ' : ''}{ground.because}.</span></span
        >
      {/if}
    </li>
  {/each}
</ul>
