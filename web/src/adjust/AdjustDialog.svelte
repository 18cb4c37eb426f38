<script lang="ts">
  import { untrack } from 'svelte';
  import { api } from '../api/client';
  import type { Adjustment, AdjustView } from '../api/types.gen';
  import { listOf } from '../shared/list';
  import ModelDialog from '../shared/ModelDialog.svelte';

  /** An adjustment of the model: a new one, or the workshop's own way in the place of the manual's. */
  interface Props {
    view: AdjustView;
    /** The one whose way is changed; empty: a new one. */
    name: string;
    open: boolean;
    onkept: (name: string) => Promise<void>;
  }
  let { view, name, open = $bindable(), onkept }: Props = $props();

  const was: Adjustment | undefined = untrack(() => view.written.find((a) => a.name === name));
  const old = {
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
    ...was,
    conditions: (was?.conditions ?? []).join('; '),
    after: (was?.after ?? []).join('; '),
  };
  type Field = Exclude<keyof typeof old, 'quantity' | 'manual'>;
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
  const reason: [Field, string, string] = [
    'why',
    'Why not as the manual has it',
    'its way overloads the stage; kept beside what the manual says',
  ];
</script>

<ModelDialog
  title={name === '' ? 'Another adjustment' : `The workshop’s own way: ${name}`}
  {old}
  {fields}
  wide={name === '' ? [] : [reason]}
  kinds={view.kinds}
  bind:open
  save={async (typed) => {
    await api.keepAdjustment(view.sheetId, {
      ...was,
      revision: view.revision,
      was: name,
      ...typed,
      conditions: listOf(typed.conditions),
      after: listOf(typed.after),
    });
    await onkept(typed.name.trim());
  }}
/>
