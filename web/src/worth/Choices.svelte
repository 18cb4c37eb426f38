<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { WorthView } from '../api/types.gen';
  import { percent } from '../shared/format';
  import Key from '../shared/Key.svelte';
  import type { Worth } from './worth.svelte';

  /** What can be done with the set, side by side; the person decides. */
  let { it, view, closed }: { it: Worth; view: WorthView; closed: boolean } = $props();
</script>

<table class="w-full" aria-label="Choices">
  <thead>
    <tr class="text-small text-soft text-left">
      <th class="w-4"></th>
      <th class="py-0.5 pr-3 font-normal">choice</th>
      <th class="pr-3 font-normal max-sm:hidden">time</th>
      <th class="pr-3 font-normal">{view.known ? 'costs from here' : ''}</th>
      <th class="pr-3 text-right font-normal">works</th>
      <th class="text-right font-normal" title="what it is worth times the chance, less what it costs from here"
        >{view.known && view.value > 0 ? 'leaves' : ''}</th
      >
    </tr>
  </thead>
  <tbody>
    {#each view.choices as c, i (c.choice)}
      {@const here = i === it.at}
      <tr
        class={['border-rule cursor-pointer border-t align-baseline', here && 'bg-chip']}
        aria-selected={here}
        onclick={() => (it.at = i)}
      >
        <td aria-hidden="true">{here ? '▸' : ''}</td>
        <td class="py-1 pr-3"
          ><span class={['sm:whitespace-nowrap', here && 'font-semibold']}>{c.name}</span>
          {#if view.decided === c.choice}<span class="text-small text-measured block font-semibold">decided</span
            >{/if}</td
        >
        <td class="pr-3 whitespace-nowrap max-sm:hidden">{c.minutes?.says ?? ''}</td>
        <td class="pr-3 sm:whitespace-nowrap"
          >{#if c.open}<span class="text-soft">{c.open}?</span>{:else if c.choice === 'ask'}<span class="text-soft"
              >{c.for[0] ?? c.against[0] ?? ''}</span
            >{:else}{c.cost?.says ?? ''}{/if}</td
        >
        <td class="figure pr-3 text-right whitespace-nowrap">{c.works > 0 ? `${percent(c.works)} %` : ''}</td>
        <td class={['figure text-right sm:whitespace-nowrap', c.best && 'font-semibold']}
          >{c.leavesSays}{#if c.best}<span class="text-small text-expect block font-sans font-normal">most</span
            >{/if}</td
        >
      </tr>
      {#if here}
        <tr class="bg-chip">
          <td></td>
          <td colspan="5" class="pb-2">
            <ul class="text-pretty">
              {#each c.for as text (text)}<li>
                  <span class="text-expect" aria-label="for it">+</span>&nbsp;{text}
                </li>{/each}
              {#each c.against as text (text)}<li>
                  <span class="text-fault" aria-label="against it">−</span>&nbsp;{text}
                </li>{/each}
            </ul>
            {#if !closed}
              <form
                class="mt-1.5 flex flex-wrap items-center gap-2"
                onsubmit={(e) => {
                  e.preventDefault();
                  void it.decide();
                }}
              >
                <input
                  class="border-line bg-panel text-ink min-w-0 flex-1 basis-56 rounded-md border px-2 py-1"
                  data-field="why"
                  aria-label="Why"
                  placeholder="why, for whoever asks later"
                  autocomplete="off"
                  bind:value={() => it.field('why'), (text: string) => (it.drafts['why'] = text)}
                  onkeydown={(e) => {
                    if (e.key === 'Escape') e.currentTarget.blur();
                    if (e.key === 'Enter') {
                      e.preventDefault();
                      const at = e.currentTarget;
                      void it.decide().then((done) => {
                        if (done) at.blur();
                      });
                    }
                  }}
                />
                <Button type="submit" size="sm">Decide so <Key of="decide" /></Button>
              </form>
            {/if}
          </td>
        </tr>
      {/if}
    {/each}
  </tbody>
</table>
