<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Select } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { Adjustment, AdjustView } from '../api/types.gen';
  import Modal from '../shared/Modal.svelte';

  /** An adjustment of the model: a new one, or the workshop's own way in the place of the manual's. */
  interface Props {
    view: AdjustView;
    /** The one whose way is changed; empty: a new one. */
    name: string;
    open: boolean;
    onkept: (name: string) => Promise<void>;
  }
  let { view, name, open = $bindable(), onkept }: Props = $props();

  const old: Adjustment | undefined = untrack(() => view.written.find((a) => a.name === name));
  let typed = $state({
    ...{
      name: '',
      kind: '',
      turn: '',
      measure: '',
      target: '',
      tolerance: '',
      warm: '',
      ohms: '',
      volts: '',
      turns: '',
    },
    ...{ beware: '', stage: '', twin: '', why: '' },
    ...untrack(() => old),
    conditions: untrack(() => (old?.conditions ?? []).join('; ')),
    after: untrack(() => (old?.after ?? []).join('; ')),
  });
  let wrong = $state('');
  let busy = $state(false);

  type Field = Exclude<keyof typeof typed, 'kind' | 'quantity' | 'manual'>;
  const fields: [Field, string, string][] = [
    ['name', 'What is adjusted', 'idle current, left'],
    ['turn', 'What is turned', 'VR301'],
    ['measure', 'Measured', 'across R313; TP7 to TP8; picture'],
    ['target', 'Set to', '12 mV; least; most; by eye'],
    ['tolerance', 'give or take', '2 mV'],
    ['conditions', 'With', 'no signal; no load'],
    ['warm', 'On before, minutes', '15'],
    ['after', 'After', 'adjustments that move it'],
    ['ohms', 'Read across, ohms', '0R22'],
    ['volts', 'It heats at', '+32 V, or 32 V'],
    ['turns', 'Turns from stop to stop', '0.75 understood'],
    ['stage', 'In the stage', 'whose circuit computes it'],
    ['twin', 'The other channel’s', 'idle current, right'],
    ['beware', 'Beware', 'of the stop at the right: it shorts the bias'],
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
      await api.keepAdjustment(view.sheetId, {
        revision: view.revision,
        was: name,
        ...typed,
        conditions: list(typed.conditions),
        after: list(typed.after),
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

<Modal title={name === '' ? 'Another adjustment' : `The workshop’s own way: ${name}`} bind:open size="xl">
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
    {#if name !== ''}
      <label
        >Why not as the manual has it<Input
          class="mt-0.5"
          autocomplete="off"
          placeholder="its way overloads the stage; kept beside what the manual says"
          bind:value={typed.why}
        /></label
      >
    {/if}
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    <div class="flex gap-2">
      <Button type="submit" size="sm" disabled={busy}>Keep it with the model</Button>
      <Button type="button" size="sm" color="alternative" onclick={() => (open = false)}>Close</Button>
    </div>
  </form>
</Modal>
