<script lang="ts">
  import { untrack } from 'svelte';
  import { api } from '../api/client';
  import type { Closing, ClosingView } from '../api/types.gen';
  import { listOf } from '../shared/list';
  import ModelDialog from '../shared/ModelDialog.svelte';

  /** A closing measurement of the model: a new one, or how one is made and between which limits it is right. */
  interface Props {
    view: ClosingView;
    /** The one that is changed; empty: a new one. */
    name: string;
    open: boolean;
    onkept: (name: string) => Promise<void>;
  }
  let { view, name, open = $bindable(), onkept }: Props = $props();

  const was: Closing | undefined = untrack(() => view.items.find((a) => a.name === name)?.written ?? undefined);
  const old = {
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
    ...was,
    conditions: (was?.conditions ?? []).join('; '),
    frequencies: (was?.frequencies ?? []).join('; '),
  };
  const fields: [keyof typeof old & string, string, string][] = [
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
</script>

<ModelDialog
  title={name === '' ? 'Another closing measurement' : `In this model: ${name}`}
  {old}
  {fields}
  kinds={view.kinds}
  bind:open
  save={async (typed) => {
    await api.keepClosing(view.sheetId, {
      revision: view.revision,
      was: name,
      ...typed,
      conditions: listOf(typed.conditions),
      frequencies: listOf(typed.frequencies),
    });
    await onkept(typed.name.trim());
  }}
/>
