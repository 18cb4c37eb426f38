<script lang="ts">
  import { api } from '../api/client';
  import type { TrainingReplay, TrainingTaken } from '../api/types.gen';
  import { Kept } from '../shared/kept.svelte';
  import Key from '../shared/Key.svelte';
  import Sentence from '../bench/Sentence.svelte';
  import SetMap from '../bench/SetMap.svelte';
  import StepChart from '../bench/StepChart.svelte';
  import { fitting } from '../bench/map';
  import { clock } from './words';

  /** The trace gone through once more, reading by reading: the chart and the map as they stood, and what would have come next. */
  interface Props {
    number: number;
    taken: TrainingTaken[];
    /** Which reading. */
    at: number;
    ongo: (at: number) => void;
  }
  let { number, taken, at, ongo }: Props = $props();

  const reading = $derived(taken[at]);
  const kept = $derived.by(() => {
    const [of, id] = [number, reading?.id ?? ''];
    return new Kept<TrainingReplay>(() => api.replay(of, id));
  });
  $effect(() => void kept.load());
  const findings = $derived(kept.view?.findings ?? null);
  const next = $derived(findings?.next ? findings.next.at : -1);
  let width = $state(360);
  const fit = $derived(fitting(findings?.map ?? [], Math.max(width, 200), 190));
  const left = $derived(findings?.map.filter((s) => s.standing === 'suspect' || s.standing === 'faulty').length ?? 0);
</script>

{#if reading}
  <section class="min-w-0" aria-label="Once more">
    <div class="flex flex-wrap items-baseline gap-x-3 gap-y-1">
      <h2 class="lead">Once more, reading by reading</h2>
      <button
        type="button"
        class="disabled:text-soft underline decoration-dotted"
        disabled={at === 0}
        onclick={() => ongo(at - 1)}>the one before</button
      >
      <button
        type="button"
        class="disabled:text-soft underline decoration-dotted"
        disabled={at + 1 >= taken.length}
        onclick={() => ongo(at + 1)}>the next one</button
      >
      <Key of="along" />
    </div>
    <p data-test="replayed">
      <b>{at + 1} of {taken.length}</b>, at {clock(reading.by)}:
      <span class="figure font-semibold">{reading.point} {reading.reads}</span>
      {#if reading.verdict && reading.verdict !== 'unjudged'}<span class="text-soft">{reading.verdict}.</span>{/if}
      {#if findings}
        {left === 0 ? 'No stage is suspect then' : left === 1 ? 'One stage is left' : `${String(left)} stages are left`} of
        {findings.map.length}.
      {/if}
    </p>
    {#if findings}
      <div class="border-rule bg-panel mt-1 rounded-md border">
        <StepChart points={findings.points} stages={findings.stages} aim={kept.view?.at ?? -1} {next} plot={200} />
      </div>
      <div class="mt-2 grid gap-4 md:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <div>
          <p class="font-semibold text-balance">{findings.headline}</p>
          {#if findings.next}<p class="text-pretty"><Sentence spans={findings.next.sentence} /></p>{/if}
        </div>
        <div class="h-48 overflow-auto" bind:clientWidth={width}>
          <SetMap stages={findings.map} size={fit.size} scale={fit.scale} named={false} />
        </div>
      </div>
    {:else if kept.missing}<p class="text-fault font-semibold" role="alert">{kept.missing}</p>{/if}
  </section>
{/if}
