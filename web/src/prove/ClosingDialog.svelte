<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Select } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { Closing, ClosingView } from '../api/types.gen';
  import Modal from '../shared/Modal.svelte';

  /** A closing measurement of the model: a new one, or how one is made and between which limits it is right. */
  interface Props {
    view: ClosingView;
    /** The one that is changed; empty: a new one. */
    name: string;
    open: boolean;
    onkept: (name: string) => Promise<void>;
  }
  let { view, name, open = $bindable(), onkept }: Props = $props();

  const old: Closing | undefined = untrack(() => view.written.find((a) => a.name === name));
  let typed = $state({
    ...{
      name: '',
      kind: '',
      at: '',
      other: '',
      from: '',
      mode: '',
      level: '',
      load: '',
      least: '',
      most: '',
      note: '',
    },
    ...untrack(() => old),
    conditions: untrack(() => (old?.conditions ?? []).join('; ')),
    frequencies: untrack(() => (old?.frequencies ?? []).join('; ')),
  });
  let wrong = $state('');
  let busy = $state(false);

  const fields: [Exclude<keyof typeof typed, 'kind'>, string, string][] = [
    ['name', 'What is measured or tried', 'hum, left'],
    ['least', 'At least', '20 W'],
    ['most', 'At most', '3 mV'],
    ['at', 'Read at', 'an exit or a point'],
    ['other', 'and beside, at', 'the other channel’s exit'],
    ['from', 'Fed in at', 'the entry'],
    ['level', 'with', 'as the sheet has it'],
    ['frequencies', 'at', '50 Hz; 1 kHz; 15 kHz'],
    ['load', 'Load', '8 Ω'],
    ['mode', 'Mode', ''],
    ['conditions', 'With', 'no signal; warm'],
    ['note', 'Note', ''],
  ];
  const list = (text: string) =>
    text
      .split(';')
      .map((s) => s.trim())
      .filter(Boolean);

  async function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    wrong = '';
    try {
      await api.keepClosing(view.sheetId, {
        revision: view.revision,
        was: name,
        ...typed,
        conditions: list(typed.conditions),
        frequencies: list(typed.frequencies),
      });
      await onkept(typed.name.trim());
      open = false;
    } catch (error) {
      wrong = told(error);
    } finally {
      busy = false;
    }
  }
</script>

<Modal title={name === '' ? 'Another closing measurement' : `In this model: ${name}`} bind:open size="xl">
  <form class="text-ink flex flex-col gap-3" {onsubmit}>
    <div class="grid gap-x-3 gap-y-2 sm:grid-cols-2 lg:grid-cols-3">
      {#each fields as [field, label, hint] (field)}
        <label class="min-w-0"
          >{label}<Input class="mt-0.5" autocomplete="off" placeholder={hint} bind:value={typed[field]} /></label
        >
      {/each}
      <label class="min-w-0"
        >Kind<Select class="mt-0.5" placeholder="" bind:value={typed.kind}>
          {#each ['', ...view.kinds] as k (k)}<option value={k}>{k}</option>{/each}
        </Select></label
      >
    </div>
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    <div class="flex gap-2">
      <Button type="submit" size="sm" disabled={busy}>Keep it with the model</Button>
      <Button type="button" size="sm" color="alternative" onclick={() => (open = false)}>Close</Button>
    </div>
  </form>
</Modal>
