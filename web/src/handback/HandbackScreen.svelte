<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'handback',
    key: 'h',
    name: 'Hand back',
    order: 90,
    route: '/jobs/:number/handback',
    of: 'report',
  };
</script>

<script lang="ts">
  import { tick, untrack } from 'svelte';
  import { Button, Textarea } from 'flowbite-svelte';
  import { api } from '../api/client';
  import { declare } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import Whose from '../shared/Whose.svelte';
  import { Handback } from './handback.svelte';
  import ShopDialog from './ShopDialog.svelte';

  let { params }: { params: { number: string } } = $props();

  const it = $derived(new Handback(Number(params.number)));
  const view = $derived(it.kept.view);
  let paper: HTMLIFrameElement | undefined = $state();
  let field: HTMLElement | undefined = $state();
  let shop = $state(false);

  $effect(() => {
    const now = it;
    untrack(() => void now.load());
  });

  const address = $derived(`${api.reportFile(Number(params.number))}?${String(it.drawn)}`);
  const text = (e: Event) => (e.currentTarget as HTMLTextAreaElement).value;
  async function write() {
    await tick();
    const area = field?.querySelector('textarea');
    area?.focus();
    area?.setSelectionRange(area.value.length, area.value.length);
  }
  const commands = declare({
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the sections',
      act: (key) => it.step(key === 'ArrowDown' ? 1 : -1),
    },
    write: { keys: ['e', 'Enter'], shown: 'e', title: 'write into it; Esc leaves it', act: () => void write() },
    out: {
      keys: ['x'],
      title: 'leave the section out, or take it in again',
      when: () => it.at !== undefined,
      act: () => it.at && void it.leaveOut(it.at),
    },
    made: {
      keys: ['m'],
      title: 'as the record makes it',
      when: () => it.at?.edited === true,
      act: () => it.at && void it.asMade(it.at),
    },
    print: { keys: ['p'], title: 'print it, or keep it as PDF', act: () => paper?.contentWindow?.print() },
    shop: { keys: ['w'], title: 'the workshop: head, rate, warranty, paper', act: () => (shop = true) },
  });
</script>

<svelte:window onfocus={() => void it.load()} />

{#if it.kept.missing}
  <Nowhere title="This job cannot be shown" text={it.kept.missing} />
{:else if view}
  <JobFrame head={view} here="Hand back" {commands} again={() => void it.load()}>
    <main
      class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_minmax(0,440px)] lg:overflow-hidden"
      data-test="handback"
    >
      <section
        class="border-line flex min-h-0 min-w-0 flex-col p-[12px_18px] max-lg:order-2 max-lg:border-t lg:border-r"
      >
        <iframe
          bind:this={paper}
          src={address}
          title="The report as it is printed"
          class="border-line min-h-[70vh] w-full flex-1 rounded-md border bg-white lg:min-h-0"
        ></iframe>
      </section>
      <section class="bg-panel flex min-h-0 min-w-0 flex-col p-[12px_16px] max-lg:order-1">
        <div class="mb-2 flex flex-wrap gap-2">
          <Button size="sm" onclick={() => paper?.contentWindow?.print()}>Print, or PDF <Key of="print" /></Button>
          <Button size="sm" color="alternative" href={api.reportFile(view.number)} download="report {view.number}.html"
            >Keep as HTML</Button
          >
          <Button size="sm" color="alternative" href={api.recordFile(view.number)} target="_blank"
            >The whole record</Button
          >
          <Button size="sm" color="alternative" href={api.labelFile(view.number)} target="_blank">A label</Button>
          <Button size="sm" color="alternative" onclick={() => (shop = true)}><Key of="shop" />The workshop</Button>
        </div>
        {#if it.kept.trouble}
          <p class="border-fault text-fault mb-2 border-l-4 pl-3 font-semibold" role="alert">{it.kept.trouble}</p>
        {/if}
        <Scroll on="panel">
          <h2 class="lead">What it says</h2>
          <ul aria-label="Sections" bind:this={field}>
            {#each it.sections as s (s.key)}
              {@const here = s.key === it.at?.key}
              <li class="border-rule border-t py-1.5">
                <button
                  type="button"
                  class={['flex w-full items-baseline gap-2 text-left', here && 'font-semibold']}
                  aria-pressed={here}
                  onclick={() => (it.key = s.key)}
                >
                  <span class="w-3 flex-none" aria-hidden="true">{here ? '▸' : ''}</span>
                  <span class={['min-w-0 flex-1', s.leftOut && 'line-through']}>{s.title}</span>
                  <span class="text-small text-soft"
                    >{s.leftOut
                      ? 'left out'
                      : s.edited
                        ? 'as you wrote it'
                        : s.key === 'pictures'
                          ? view.chosen.length > 0
                            ? String(view.chosen.length)
                            : 'none'
                          : s.text === '' && !(s.key === 'figures' && view.report.figures.length > 0)
                            ? 'empty'
                            : ''}</span
                  >
                </button>
                {#if here && s.key === 'pictures'}
                  <div class="mt-1 flex flex-wrap gap-2 pl-5">
                    {#each view.pictures as id (id)}
                      <button
                        type="button"
                        class={['rounded-md border-2', view.chosen.includes(id) ? 'border-measured' : 'border-line']}
                        aria-pressed={view.chosen.includes(id)}
                        onclick={() => void it.choose(id)}
                        ><img
                          class="h-16 w-20 rounded object-cover"
                          src={api.preview(view.number, id)}
                          alt=""
                        /></button
                      >
                    {/each}
                    {#each view.plots as p (p.id)}
                      <button
                        type="button"
                        class={[
                          'w-44 rounded-md border-2 text-left',
                          view.chosen.includes(p.id) ? 'border-measured' : 'border-line',
                        ]}
                        aria-pressed={view.chosen.includes(p.id)}
                        onclick={() => void it.choose(p.id)}
                        ><img class="w-full rounded bg-white" src={api.plot(view.number, p.id)} alt="" /><span
                          class="text-small block px-1.5 pb-0.5">{p.name}</span
                        ></button
                      >
                    {/each}
                    {#if view.pictures.length + view.plots.length === 0}<p class="text-soft">
                        The job has no pictures.
                      </p>{/if}
                  </div>
                {:else if here}
                  <div class="mt-1 pl-5">
                    <Textarea
                      class="bg-panel dark:bg-panel text-ink block w-full py-1 text-base"
                      rows={Math.min(9, 2 + Math.ceil((it.drafts[s.key] ?? s.text).length / 46))}
                      placeholder={s.hint}
                      aria-label={s.title}
                      value={it.drafts[s.key] ?? s.text}
                      oninput={(e: Event) => (it.drafts[s.key] = text(e))}
                      onblur={() => void it.write(s)}
                      onkeydown={(e: KeyboardEvent) => {
                        if (e.key === 'Escape') (e.currentTarget as HTMLTextAreaElement).blur();
                      }}
                    />
                    <p class="mt-1 flex flex-wrap gap-2">
                      <Button size="xs" color="alternative" onclick={() => void it.leaveOut(s)}
                        ><Key of="out" />{s.leftOut ? 'Take it in' : 'Leave it out'}</Button
                      >
                      {#if s.edited}<Button size="xs" color="alternative" onclick={() => void it.asMade(s)}
                          ><Key of="made" />As the record has it</Button
                        >{/if}
                    </p>
                  </div>
                {/if}
              </li>
            {/each}
          </ul>
          <h2 class="lead mt-4">Whose it is</h2>
          <Whose fields={view.whose} drafts={it.whose} onkeep={(key) => void it.noteWhose(key)} />
        </Scroll>
      </section>
    </main>
  </JobFrame>
  {#if shop}<ShopDialog bind:open={shop} onkept={() => it.load()} />{/if}
{/if}
