<script lang="ts" generics="Field extends string">
  import { untrack } from 'svelte';
  import { Button, Input, Select } from 'flowbite-svelte';
  import { told } from '../api/client';
  import Modal from './Modal.svelte';

  /** Something that is kept with a model, field by field, with one of several kinds. Lists are typed with ; between. */
  interface Props {
    title: string;
    /** What stands in the fields at first. */
    old: Record<Field | 'kind', string>;
    /** Name, label and hint of each. */
    fields: [Field, string, string][];
    /** Fields that go over the whole width, below the others. */
    wide?: [Field, string, string][];
    kinds: string[];
    open: boolean;
    save: (typed: Record<Field | 'kind', string>) => Promise<void>;
  }
  let { title, old, fields, wide = [], kinds, open = $bindable(), save }: Props = $props();

  let typed: Record<string, string> = $state(untrack(() => ({ ...old })));
  let wrong = $state('');
  let busy = $state(false);

  async function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    wrong = '';
    try {
      await save($state.snapshot(typed) as Record<Field | 'kind', string>);
      open = false;
    } catch (error) {
      wrong = told(error);
    } finally {
      busy = false;
    }
  }
</script>

<Modal {title} bind:open size="xl">
  <form class="text-ink flex flex-col gap-3" {onsubmit}>
    <div class="grid gap-x-3 gap-y-2 sm:grid-cols-2 lg:grid-cols-3">
      {#each fields as [field, label, hint] (field)}
        <label class="min-w-0"
          >{label}<Input class="mt-0.5" autocomplete="off" placeholder={hint} bind:value={typed[field]} /></label
        >
      {/each}
      <label class="min-w-0"
        >Kind<Select class="mt-0.5" placeholder="" bind:value={typed['kind']}>
          {#each ['', ...kinds] as k (k)}<option value={k}>{k}</option>{/each}
        </Select></label
      >
    </div>
    {#each wide as [field, label, hint] (field)}
      <label>{label}<Input class="mt-0.5" autocomplete="off" placeholder={hint} bind:value={typed[field]} /></label>
    {/each}
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    <div class="flex gap-2">
      <Button type="submit" size="sm" disabled={busy}>Keep it with the model</Button>
      <Button type="button" size="sm" color="alternative" onclick={() => (open = false)}>Close</Button>
    </div>
  </form>
</Modal>
