<script lang="ts">
  import { Button, Input, Select, Textarea } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { ShopView } from '../api/types.gen';
  import FileButton from '../shared/FileButton.svelte';
  import Modal from '../shared/Modal.svelte';

  /** What holds for the whole workshop. */
  interface Props {
    open: boolean;
    onkept: () => Promise<void>;
  }
  let { open = $bindable(), onkept }: Props = $props();

  let view = $state<ShopView | null>(null);
  let wrong = $state('');
  api.shop().then(
    (v) => (view = v),
    (error: unknown) => (wrong = told(error)),
  );

  async function read(file: File) {
    try {
      view = await api.readShop(file);
      await onkept();
      wrong = '';
    } catch (error) {
      wrong = told(error);
    }
  }
  async function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    if (!view) return;
    try {
      await api.keepShop({ ...view.shop, months: Number(view.shop.months) || 0 });
      await onkept();
      open = false;
    } catch (error) {
      wrong = told(error);
    }
  }
</script>

<Modal title="The workshop" bind:open size="lg">
  <form class="text-ink flex flex-col gap-3" {onsubmit}>
    {#if view}
      <label>Its name<Input class="mt-0.5" autocomplete="off" bind:value={view.shop.name} /></label>
      <label
        >Address, telephone<Textarea class="mt-0.5 block w-full py-1" rows={3} bind:value={view.shop.address} /></label
      >
      <div class="grid gap-3 sm:grid-cols-4">
        <label
          >An hour costs<Input class="mt-0.5" autocomplete="off" placeholder="48" bind:value={view.shop.rate} /></label
        >
        <label>Currency<Input class="mt-0.5" autocomplete="off" bind:value={view.shop.currency} /></label>
        <label
          >Warranty, months<Input class="mt-0.5" type="number" min="0" max="120" bind:value={view.shop.months} /></label
        >
        <label
          >Paper<Select class="mt-0.5" placeholder="" bind:value={view.shop.paper}
            >{#each view.papers as p (p)}<option value={p}>{p}</option>{/each}</Select
          ></label
        >
      </div>
      <label>Warranty on<Textarea class="mt-0.5 block w-full py-1" rows={2} bind:value={view.shop.warranty} /></label>
      <details>
        <summary class="cursor-pointer">What is usual here: minutes and prices of parts</summary>
        <p class="text-small text-soft mt-1 text-pretty">
          What a job is worth goes by this, and soon by your own finished jobs. Empty: as it stands in grey.
        </p>
        <div class="mt-2 grid grid-cols-2 gap-x-3 gap-y-1.5 sm:grid-cols-5">
          {#each view.times as t (t.step)}
            <label class="text-small"
              >{t.name}, min<Input
                class="mt-0.5"
                autocomplete="off"
                inputmode="decimal"
                placeholder={t.usual}
                bind:value={
                  () => view?.shop.times?.[t.step] ?? '',
                  (text) => view && (view.shop.times = { ...view.shop.times, [t.step]: text ?? '' })
                }
              /></label
            >
          {/each}
          {#each view.prices as c (c.class)}
            <label class="text-small flex flex-col justify-end"
              >{c.class}<Input
                class="mt-0.5"
                autocomplete="off"
                inputmode="decimal"
                placeholder={c.usual}
                bind:value={
                  () => view?.shop.prices?.[c.class] ?? '',
                  (text) => view && (view.shop.prices = { ...view.shop.prices, [c.class]: text ?? '' })
                }
              /></label
            >
          {/each}
        </div>
      </details>
      <label
        >Last line<Input
          class="mt-0.5"
          autocomplete="off"
          placeholder="Thank you for having it repaired."
          bind:value={view.shop.thanks}
        /></label
      >
    {/if}
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    <div class="flex flex-wrap gap-2">
      <Button type="submit" size="sm">Keep it</Button>
      <Button type="button" size="sm" color="alternative" onclick={() => (open = false)}>Close</Button>
      <span class="ml-auto flex gap-2">
        <Button size="sm" color="alternative" href={api.shopFile()} download>As a file</Button>
        <FileButton accept=".json" onfile={(file) => void read(file)}>From a file</FileButton>
      </span>
    </div>
  </form>
</Modal>
