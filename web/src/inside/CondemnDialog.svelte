<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Textarea } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import type { Inside } from './inside.svelte';

  /** The part at fault, what it has, and on what grounds. */
  interface Props {
    inside: Inside;
    open: boolean;
    oncondemned: () => void;
  }
  let { inside, open = $bindable(), oncondemned }: Props = $props();

  /** What is known of a part: its own grounds, and the bench's against the stage. */
  function known(name: string) {
    const own = inside.looked?.grounds.find((g) => g.part === name);
    const why = [...(own?.why ?? []), ...(inside.looked?.bench ?? [])];
    return { what: own?.what ?? '', why: why.join('\n'), found: own?.wrong ? ('wrong' as const) : ('bad' as const) };
  }
  function leading(): string {
    const likely = [...(inside.looked?.parts ?? [])].sort((a, b) => b.weight - a.weight)[0];
    return inside.looked?.grounds[0]?.part ?? (likely && likely.weight > 0 ? likely.name : '');
  }
  // The part that is looked at, or else the likeliest.
  let part = $state(untrack(() => inside.part || leading()));
  let offered = $state.raw(untrack(() => known(part)));
  let { what, why, found } = $state(untrack(() => ({ ...offered })));
  let wrong = $state('');
  const names = $derived([...new Set([...(inside.looked?.parts ?? []).map((p) => p.name)])]);

  /** Another part brings its own grounds, where nothing was written over those of the one before. */
  function choose() {
    const next = known(part.trim());
    if (what === offered.what) what = next.what;
    if (why === offered.why) why = next.why;
    if (found === offered.found) found = next.found;
    offered = next;
  }

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
    <label>Part<Input class="mt-1" bind:value={part} list="condemnable" required oninput={choose} /></label>
    <datalist id="condemnable"
      >{#each names as name (name)}<option value={name}></option>{/each}</datalist
    >
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
