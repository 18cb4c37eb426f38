<script lang="ts">
  import type { TrainingReview } from '../api/types.gen';
  import { clock } from './words';

  /** Minutes on readings as two lines of steps, one below the other: as it went, and the program's own way. */
  let { review }: { review: TrainingReview } = $props();

  const own = $derived(review.taken.map((t) => ({ minutes: t.minutes, lost: t.costly })));
  const best = $derived(review.best.flatMap((p) => p.steps.map((s) => ({ minutes: s.minutes, lost: false }))));
  const most = $derived(
    Math.max(
      own.reduce((a, t) => a + t.minutes, 0),
      best.reduce((a, t) => a + t.minutes, 0),
      1,
    ),
  );
  const lines = $derived([
    { name: 'as it went', steps: own },
    { name: "the program's way", steps: best },
  ]);
</script>

<section aria-label="Minutes on readings">
  <h2 class="lead">Minutes on readings</h2>
  <div class="mt-1 grid max-w-4xl grid-cols-[130px_minmax(0,1fr)_70px] items-center gap-x-3 gap-y-1.5">
    {#each lines as line (line.name)}
      <span class="text-soft text-right">{line.name}</span>
      <span class="flex h-6 items-stretch gap-px">
        {#each line.steps as step, i (i)}
          <span
            class={[
              'block min-w-[3px] rounded-[2px]',
              step.lost ? 'hatch' : line.name === 'as it went' ? 'bg-measured' : 'bg-expect',
            ]}
            style:width="{(100 * step.minutes) / most}%"
            title="{String(i + 1)}: {clock(step.minutes)}"
          ></span>
        {/each}
      </span>
      <span class="figure">{clock(line.steps.reduce((a, t) => a + t.minutes, 0))}</span>
    {/each}
  </div>
  {#if own.some((t) => t.lost)}
    <p class="text-small text-soft mt-1">Hatched: minutes were lost by what was read there.</p>
  {/if}
</section>

<style>
  .hatch {
    background: repeating-linear-gradient(135deg, var(--fault) 0 3px, transparent 3px 6px);
  }
</style>
