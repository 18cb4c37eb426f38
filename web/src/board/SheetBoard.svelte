<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api } from '../api/client';
  import { declare } from '../shared/commands';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Page from '../shared/Page.svelte';
  import type Large from './Large.svelte';
  import Pictured from './Pictured.svelte';
  import PlacePanel from './PlacePanel.svelte';
  import { Pictures } from './board.svelte';
  import { pictureKeys } from './keys';

  /** The pictures of a sheet, without a job. */
  let { params }: { params: { id: string } } = $props();

  const pictures = $derived.by(() => {
    const of = Number(params.id);
    return new Pictures(() => api.board(of), false);
  });
  let large: Large | undefined = $state();
  let desk: Pictured | undefined = $state();
  let aim = $state('');

  $effect(() => void pictures.load());

  const commands = declare(
    pictureKeys(
      () => pictures,
      () => large,
      () => desk,
    ),
  );
</script>

{#if pictures.missing}
  <Nowhere title="This sheet cannot be shown" text={pictures.missing} />
{:else if pictures.board}
  {@const board = pictures.board}
  <Page title="{board.set}: pictures" here="Sheets" {commands}>
    {#snippet actions()}
      <Button color="alternative" href="./api/sheets/{board.sheet}/file.zip" download
        >Sheet and pictures as one file</Button
      >
      <Button color="alternative" href="#/sheets/{board.sheet}">The sheet</Button>
    {/snippet}
    <div class="grid h-full min-h-0 lg:grid-cols-[minmax(0,1fr)_400px] lg:grid-rows-[minmax(0,1fr)]">
      <Pictured
        bind:this={desk}
        bind:large
        {pictures}
        invites={{ sheet: board.sheet }}
        {aim}
        onpin={(name) => (aim = name)}
      />
      <div class="border-line flex min-h-0 min-w-0 flex-col lg:border-l">
        {#if pictures.placing}
          <PlacePanel {pictures} onreplace={() => desk?.choose(true)} onlarger={(by) => large?.larger(by)} />
        {:else}
          <div class="p-[14px_18px]">
            <p class="text-soft">
              What is pinned here is shown on the bench of every job of this set: where to probe, and how each place
              stands.
            </p>
            <Button class="mt-3" type="button" disabled={!pictures.picture} onclick={() => (pictures.placing = true)}
              >Mark places <Key of="place" /></Button
            >
          </div>
        {/if}
      </div>
    </div>
  </Page>
{/if}
