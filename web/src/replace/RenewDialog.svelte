<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { ReplaceView } from '../api/types.gen';
  import Modal from '../shared/Modal.svelte';
  import PickOnPicture from './PickOnPicture.svelte';
  import type { Replacing } from './replace.svelte';

  /** A list of parts that are renewed, pasted or typed; of which school the work is. */
  let { it, view, open = $bindable(false) }: { it: Replacing; view: ReplaceView; open: boolean } = $props();

  const example =
    'all 30 years, at 50 °C\nC101 47u 63v electrolytic; coupling, 24 V\nC102 100u 35v electrolytic; supply line, 18 V';
  let list = $state('');
  let picking = $state(false);
  let field: HTMLTextAreaElement | undefined = $state();
  $effect(() => {
    if (field) setTimeout(() => field?.focus()); // behind the dialog's own first field
  });
  async function take() {
    if (await it.renew(list)) open = false;
  }
</script>

<Modal bind:open title="Renew many" size="lg">
  {#if it.kept.trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">
      {it.kept.trouble}
    </p>{/if}
  <form
    class="flex flex-col gap-2"
    onsubmit={(e) => {
      e.preventDefault();
      void take();
    }}
  >
    <label
      >A part a line: name, what it is, and behind a semicolon what it has to do
      <textarea
        class="figure border-ink bg-panel w-full rounded-lg border-2 px-3 py-1"
        rows={picking ? 4 : 9}
        bind:this={field}
        placeholder={example}
        bind:value={list}
        onkeydown={(e) => {
          if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
            e.preventDefault();
            void take();
          }
        }}></textarea></label
    >
    <div class="flex flex-wrap items-center gap-2">
      <Button type="submit" size="sm">Keep the list</Button>
      {#if view.circuits !== ''}
        <Button type="button" size="sm" color="alternative" onclick={() => (list = view.circuits)}
          >Those of the circuits</Button
        >
      {/if}
      <Button type="button" size="sm" color="alternative" onclick={() => (picking = !picking)}
        >{picking ? 'Without the picture' : 'By clicking on the picture'}</Button
      >
      <span class="text-small text-soft">Ctrl and Enter keep it, too.</span>
    </div>
  </form>
  {#if picking}<PickOnPicture sheet={view.sheetId} known={view.circuits} bind:list />{/if}
  <h3 class="lead">Where the trade differs</h3>
  {#each new Set(view.schools.map((s) => s.group)) as group (group)}
    <fieldset class="grid gap-1" aria-label="Of which school">
      {#each view.schools.filter((s) => s.group === group) as s (s.school)}
        <label class="flex gap-2"
          ><input
            type="radio"
            name="school {group}"
            value={s.school}
            checked={s.chosen}
            onchange={() => void it.setSchool(s.school)}
          /><span><b>{s.school}</b> <span class="text-small text-soft">{s.speaks}</span></span></label
        >
      {/each}
    </fieldset>
  {/each}
</Modal>
