<script lang="ts">
  import type { TrainingDrawn } from '../api/types.gen';
  import Figure from '../inside/Figure.svelte';

  /** A circuit with what is due at its nodes, and what was read. */
  let { drawn }: { drawn: TrainingDrawn } = $props();
  const shown = $derived({
    looked: { ...drawn },
    part: '',
    node: '',
    aimNode: () => undefined,
    aimPart: () => undefined,
  });
</script>

<div class="mt-2"><Figure inside={shown} height={330} /></div>
<p class="text-small text-soft">
  At each node: what should stand there in <span class="text-expect font-semibold">green</span>, what was read in
  <span class="text-measured font-semibold">copper</span>, or with an arrow where it is off.
</p>
