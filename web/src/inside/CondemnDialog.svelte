<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Modal, Textarea } from 'flowbite-svelte';
  import type { Inside } from './inside.svelte';

  /** The part at fault, what it has, and on what grounds. */
  interface Props {
    inside: Inside;
    open: boolean;
    oncondemned: () => void;
  }
  let { inside, open = $bindable(), oncondemned }: Props = $props();

  const first = untrack(() => {
    const grounds = inside.looked?.grounds ?? [];
    return (
      grounds.find((g) => g.part === inside.part) ??
      (inside.part ? { part: inside.part, what: '', why: [] } : grounds[0]) ?? { part: '', what: '', why: [] }
    );
  });
  let part = $state(first.part);
  let what = $state(first.what);
  let found: 'bad' | 'wrong' = $state(first.what.startsWith('wrong') ? 'wrong' : 'bad');
  let why = $state(first.why.join('\n'));
  let wrong = $state('');

  async function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    const reasons = why
      .split('\n')
      .map((w) => w.trim())
      .filter((w) => w !== '');
    if (await inside.note({ condemned: { part: part.trim(), what: what.trim(), why: reasons, found } })) {
      open = false;
      oncondemned();
    } else wrong = inside.trouble;
  }
</script>

<Modal title="Condemn a part" bind:open size="sm">
  <form class="text-ink flex flex-col gap-3" {onsubmit}>
    <label>Part<Input class="mt-1" bind:value={part} required /></label>
    <fieldset class="flex flex-wrap gap-x-4" aria-label="Found">
      <label class="flex items-center gap-1.5"><input type="radio" value="bad" bind:group={found} />it has failed</label
      >
      <label class="flex items-center gap-1.5"
        ><input type="radio" value="wrong" bind:group={found} />another was fitted, or wired wrongly</label
      >
    </fieldset>
    <label>What it has<Input class="mt-1" bind:value={what} placeholder="open, leaky, welded" required /></label>
    <label
      >On these grounds, a line each<Textarea
        class="mt-1 w-full"
        rows={4}
        bind:value={why}
        placeholder="what it was checked by, or why it is renewed without"
        required
      /></label
    >
    <p class="text-small text-soft">
      Ask why it failed before power goes on again: heat, a short behind it, a wrong part fitted before.
    </p>
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    <div class="flex gap-2">
      <Button type="submit" disabled={inside.busy}>Condemn</Button>
      <Button type="button" color="alternative" onclick={() => (open = false)}>Close</Button>
    </div>
  </form>
</Modal>
