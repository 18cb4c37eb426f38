<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { AdjustKept, AdjustView } from '../api/types.gen';
  import Modal from '../shared/Modal.svelte';
  import type { Adjusting } from './adjusting.svelte';

  /** What stands in the set's own menu: as found, as it is now, and what has to be put back. */
  interface Props {
    it: Adjusting;
    view: AdjustView;
    closed: boolean;
    open: boolean;
  }
  let { it, view, closed, open = $bindable() }: Props = $props();

  const hint = ['HDMI 1:', 'sub-contrast = 14', 'red gain = 128', 'Component 576:', 'sub-contrast = 17'].join('\n');
  let text = $state('');
  let changing: Record<string, string> = $state({});
  const key = (k: AdjustKept) => `${k.of}/${k.item}`;
  const moved = $derived(view.menu.filter((k) => k.moved).length);

  async function change(k: AdjustKept) {
    const value = (changing[key(k)] ?? '').trim();
    if (value === '') return;
    const how = value === k.found ? ('back' as const) : ('changed' as const);
    if (await it.setting({ item: k.item, of: k.of, value, how })) changing[key(k)] = '';
  }
</script>

<Modal title="The set’s own menu" bind:open size="lg">
  <div class="text-ink flex flex-col gap-3">
    <p class="text-weight font-semibold text-pretty" data-test="menu-says">
      {view.menu.length === 0
        ? 'Write down what stands in it before anything is changed.'
        : moved === 0
          ? 'Everything stands as it was found.'
          : `${String(moved)} of ${String(view.menu.length)} stand otherwise than they were found.`}
    </p>
    {#if view.menu.length > 0}
      <div class="max-h-[42vh] overflow-y-auto">
        <table class="w-full text-left">
          <thead class="text-small text-soft"
            ><tr
              ><th class="font-normal">Item</th><th class="font-normal">For</th><th class="font-normal">Found</th><th
                class="font-normal">Now</th
              ><th></th></tr
            ></thead
          >
          <tbody>
            {#each view.menu as k (key(k))}
              <tr class="border-rule border-t">
                <td class="py-1 pr-2">{k.item}</td>
                <td class="text-soft pr-2">{k.of}</td>
                <td class="figure pr-2">{k.found}</td>
                <td class={['figure pr-2', k.moved && 'text-fault font-semibold']}>{k.now}{k.moved ? ' ▲' : ''}</td>
                <td class="py-0.5">
                  {#if !closed}
                    <form
                      class="flex justify-end gap-1.5"
                      onsubmit={(e) => {
                        e.preventDefault();
                        void change(k);
                      }}
                    >
                      <input
                        class="border-line bg-panel figure w-28 rounded-md border px-2 py-0.5"
                        aria-label="{k.item} is changed to"
                        placeholder="changed to"
                        bind:value={changing[key(k)]}
                      />
                      {#if k.moved}
                        <Button
                          type="button"
                          size="xs"
                          color="alternative"
                          onclick={() => void it.setting({ item: k.item, of: k.of, value: k.found, how: 'back' })}
                          >Put back</Button
                        >
                      {/if}
                    </form>
                  {/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
    {/if}
    {#if !closed}
      <form
        class="flex flex-col gap-2"
        onsubmit={async (e) => {
          e.preventDefault();
          if (await it.menu(text)) text = '';
        }}
      >
        <label
          >What stands there<textarea
            class="border-line bg-panel figure mt-1 h-28 w-full rounded-md border px-3 py-1"
            placeholder={hint}
            bind:value={text}></textarea></label
        >
        <p class="text-small text-soft">
          One a line. A line that ends in a colon names the input or the resolution that the next ones hold for.
        </p>
        {#if it.kept.trouble}<p class="text-fault font-semibold" role="alert">{it.kept.trouble}</p>{/if}
        <div class="flex gap-2">
          <Button type="submit" size="sm">Write it down</Button>
          <Button type="button" size="sm" color="alternative" onclick={() => (open = false)}>Close</Button>
        </div>
      </form>
    {/if}
  </div>
</Modal>
