<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input } from 'flowbite-svelte';
  import type { AdjustView } from '../api/types.gen';
  import Modal from '../shared/Modal.svelte';
  import type { Adjusting } from './adjusting.svelte';

  /** What the set takes while it idles, and whether its cabinet gets rid of that heat. */
  interface Props {
    it: Adjusting;
    view: AdjustView;
    closed: boolean;
    open: boolean;
  }
  let { it, view, closed, open = $bindable() }: Props = $props();

  const idling = $derived(view.idling);
  const none = { watts: '', inside: '', room: '', warmest: '', allowed: '', iron: '', copper: '' };
  let typed = $state({ ...none, ...untrack(() => idling?.heat) });
  const fields: [keyof typeof none, string, string][] = [
    ['watts', 'From the mains, idle', '24 W'],
    ['inside', 'Inside, warmed up', '46 °C'],
    ['room', 'The room now', '22 °C'],
    ['warmest', 'Warmest room it may stand in', '35 °C understood'],
    ['allowed', 'Allowed inside', '60 °C understood'],
    ['iron', 'Transformer’s loss without load', '5 W understood'],
    ['copper', 'and of what goes through it', '8 % understood'],
  ];
</script>

<Modal title="Idle watts and the cabinet" bind:open size="lg">
  <form
    class="text-ink flex flex-col gap-3"
    onsubmit={(e) => {
      e.preventDefault();
      void it.heat(typed);
    }}
  >
    {#if idling?.says}<p class="text-weight font-semibold text-pretty" data-test="idle">{idling.says}</p>{/if}
    {#if idling && idling.expected.of.length > 0}
      <p class="text-small text-soft">Counted: {idling.expected.of.join('; ')}; losses of the transformer beside it.</p>
    {:else if !idling?.says}
      <p class="text-soft">
        The sheet gives neither loads of its rails nor idle currents with their resistor and rail: nothing is expected.
      </p>
    {/if}
    {#if idling?.cabinet}
      <p class={['font-semibold text-pretty', idling.cabinet.spare < 0 && 'text-fault']} data-test="cabinet">
        {#if idling.cabinet.spare < 0}<span aria-hidden="true">▲</span>{/if}
        {idling.cabinet.says}
      </p>
    {:else if idling?.doubt}
      <p class="text-soft">{idling.doubt}</p>
    {/if}
    <fieldset disabled={closed} class="grid gap-2 sm:grid-cols-2">
      {#each fields as [name, label, hint] (name)}
        <label
          >{label}<Input class="figure mt-0.5" autocomplete="off" placeholder={hint} bind:value={typed[name]} /></label
        >
      {/each}
    </fieldset>
    {#if it.kept.trouble}<p class="text-fault font-semibold" role="alert">{it.kept.trouble}</p>{/if}
    <div class="flex gap-2">
      {#if !closed}<Button type="submit" size="sm">Keep and judge it</Button>{/if}
      <Button type="button" size="sm" color="alternative" onclick={() => (open = false)}>Close</Button>
    </div>
  </form>
</Modal>
