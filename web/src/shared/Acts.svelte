<script lang="ts">
  import type { Action } from '../api/types.gen';

  /** What can be done to move a fault, with what to mind before it. */
  let { actions, act = $bindable() }: { actions: Action[]; act: string } = $props();
</script>

<fieldset class="grid grid-cols-2 gap-1 sm:grid-cols-3">
  <legend class="text-soft">was</legend>
  {#each actions as a (a.act)}
    <label class="flex items-center gap-2"><input type="radio" value={a.act} bind:group={act} />{a.done}</label>
  {/each}
</fieldset>
<p class="font-semibold">
  <span class="text-hazard" aria-hidden="true">▲</span>
  {actions.find((a) => a.act === act)?.caution}
</p>
