<script lang="ts">
  import type { TrainingFace } from '../api/types.gen';
  import { engineering } from '../shared/format';

  /** What is shown of what is aimed at, to be read off: a trace over squares, or a figure. */
  let { face }: { face: TrainingFace } = $props();

  const { across, high } = $derived(face);
  const side = 26; // of a square, in pixels
  const path = $derived(
    face.trace
      .map((v, i) => {
        const x = ((i * across * side) / (face.trace.length - 1)).toFixed(1);
        return `${x} ${(side * Math.min(Math.max(high / 2 - v, 0), high)).toFixed(1)}`;
      })
      .join('L'),
  );
  const lines = (n: number) => Array.from({ length: n - 1 }, (_, i) => i + 1);
</script>

<figure class="mt-1.5" data-test="face">
  {#if face.trace.length > 0}
    <svg
      viewBox="0 0 {across * side} {high * side}"
      class="bg-panel border-line block max-h-[250px] w-full rounded-md border"
      role="img"
      aria-label="A trace; a square is {engineering(face.volts, 'V')} high and {engineering(face.seconds, 's')} wide"
    >
      {#each lines(across) as i (i)}
        <line x1={i * side} x2={i * side} y2={high * side} class="stroke-rule" />
      {/each}
      {#each lines(high) as i (i)}
        <line y1={i * side} y2={i * side} x2={across * side} class={i === high / 2 ? 'stroke-soft' : 'stroke-rule'} />
      {/each}
      <rect width={across * side} height={high * side} class="stroke-line fill-none" />
      <path d="M{path}" class="stroke-measured fill-none" stroke-width="1.6" />
    </svg>
    <figcaption class="text-small mt-0.5">
      A square is <b class="figure">{engineering(face.volts, 'V')}</b> high and
      <b class="figure">{engineering(face.seconds, 's')}</b> wide{face.moves ? `; ${face.moves}` : ''}.
    </figcaption>
  {:else}
    <p class="figure text-say font-semibold">{face.figure}</p>
  {/if}
</figure>
