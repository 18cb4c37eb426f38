<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Kbd } from 'flowbite-svelte';
  import { api, newId, now } from '../api/client';
  import type { NotedSymptom, SymptomChoice, SymptomsView } from '../api/types.gen';
  import { Kept } from '../shared/kept.svelte';
  import Modal from '../shared/Modal.svelte';
  import Tabs from '../shared/Tabs.svelte';
  import Drawing from './Drawing.svelte';

  /** What the set shows by itself, chosen by a key from small drawings. */
  interface Props {
    number: number;
    open: boolean;
    /** Something was noted, or struck out. */
    onnoted: () => void;
  }
  let { number, open = $bindable(), onnoted }: Props = $props();

  type Sense = SymptomChoice['sense'];
  type When = SymptomsView['whens'][number]['when'];
  const senses: { of: Sense; says: string }[] = [
    { of: 'seen', says: 'Seen on the screen' },
    { of: 'heard', says: 'Heard' },
    { of: 'lit', says: 'Lamps' },
  ];
  const kept = new Kept<SymptomsView>(() => api.symptoms(number));
  let sense: Sense = $state('heard');
  let begun = false;
  let chosen = $state('');
  let when: When[] = $state([]);
  let count = $state(0);

  $effect(() => {
    if (!open) return;
    untrack(() => {
      chosen = '';
      void kept.load().then(() => {
        if (kept.view && !begun) sense = kept.view.first;
        begun = true;
      });
    });
  });

  const view = $derived(kept.view);
  const closed = $derived(view?.finished !== null);
  const offered = $derived((view?.choices ?? []).filter((c) => c.sense === sense));
  const choice = $derived(offered.find((c) => c.key === chosen));
  const letter = (i: number) => 'abcdefghijklmnopqrstuvwxyz'[i] ?? '';
  const percent = (x: number) => `${Math.round(x * 100)} %`;

  function choose(key: string) {
    chosen = chosen === key ? '' : key;
    when = [];
    count = 0;
  }
  async function note() {
    if (!choice || closed) return;
    const entry = { id: newId(), at: now(), key: choice.key, when: [...when], ...(count > 0 ? { count } : {}) };
    if (await kept.keep(() => api.noteSymptom(number, entry))) {
      chosen = '';
      onnoted();
    }
  }
  async function strike(s: NotedSymptom) {
    if (await kept.keep(() => api.strikeSymptom(number, s.id, {}))) onnoted();
  }
  function toggle(w: When) {
    when = when.includes(w) ? when.filter((x) => x !== w) : [...when, w];
  }
  function onkeydown(e: KeyboardEvent) {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const at = senses.findIndex((s) => s.of === sense);
    const digit = Number(e.key);
    const whens = view?.whens ?? [];
    if (e.key === 'ArrowRight' || e.key === 'ArrowLeft') {
      sense = senses[(at + (e.key === 'ArrowRight' ? 1 : senses.length - 1)) % senses.length]?.of ?? sense;
      chosen = '';
    } else if (choice && e.key === 'Enter' && !(e.target instanceof HTMLButtonElement && e.target.dataset.own))
      void note();
    else if (choice && digit >= 1 && sense === 'lit')
      count = digit; // more than nine are typed into the field
    else if (choice && digit >= 1 && whens[digit - 1]) toggle(whens[digit - 1]!.when);
    else {
      const found = offered.find((_, i) => letter(i) === e.key);
      if (!found) return;
      choose(found.key);
    }
    e.preventDefault();
    e.stopPropagation();
  }
</script>

<Modal title="What it shows by itself" bind:open size="lg" {onkeydown}>
  <div class="text-ink">
    {#if kept.trouble}<p class="text-fault font-semibold" role="alert">{kept.trouble}</p>{/if}
    <Tabs tabs={senses} bind:at={sense} onturn={() => (chosen = '')}>
      <span class="text-soft text-small"><Kbd>←</Kbd> <Kbd>→</Kbd></span>
    </Tabs>
    <div class="mt-2 grid grid-cols-3 gap-1.5 sm:grid-cols-6" aria-label="What is noticed">
      {#each offered as c, i (c.key)}
        <button
          type="button"
          class={[
            'text-small flex flex-col items-center rounded-md border-2 p-1 text-center leading-tight',
            chosen === c.key ? 'border-measured font-semibold' : 'border-line',
            c.pointsAt.length === 0 && 'text-soft',
          ]}
          aria-pressed={chosen === c.key}
          onclick={() => choose(c.key)}
        >
          <span class="flex w-full items-start justify-between"
            ><Kbd>{letter(i)}</Kbd><Drawing of={c.key} screen={c.sense === 'seen'} /><span class="w-5"></span></span
          >
          {c.name}
        </button>
      {/each}
    </div>
    {#if choice}
      <div
        class="bg-chip mt-2 rounded-md px-3 py-2"
        data-test="symptom"
        {@attach (node) => {
          void choice.key;
          node.scrollIntoView({ block: 'nearest' });
        }}
      >
        <p>
          <b>{choice.name}.</b>
          {choice.shows ? `${choice.shows[0]?.toUpperCase()}${choice.shows.slice(1)}.` : ''}
        </p>
        {#if choice.pointsAt.length > 0}
          <p class="text-small">
            Of their faults so many show it:
            {#each choice.pointsAt.slice(0, 6) as p, i (p.block)}{i > 0 ? ', ' : ''}<b>{p.block}</b>
              {percent(p.share)}{/each}{choice.pointsAt.length > 6 ? ` and ${choice.pointsAt.length - 6} more` : ''}.
          </p>
        {:else}
          <p class="text-small">It points at nothing that the sheet has: it is kept in the record.</p>
        {/if}
        {#if choice.look.length > 0}<p class="text-small">Look too: {choice.look.join('; ')}.</p>{/if}
        <div class="mt-1.5 flex flex-wrap items-center gap-1.5">
          {#if choice.sense === 'lit'}
            <label class="flex items-center gap-1.5"
              >blinks <input
                type="number"
                min="0"
                max="99"
                class="figure bg-panel border-line w-20 rounded-md border-2 px-2 py-0.5"
                aria-label="How often it blinks"
                bind:value={count}
                onkeydown={(e) => {
                  if (e.key !== 'Enter') e.stopPropagation();
                }}
              /> times, where it was counted</label
            >
          {:else}
            {#each view?.whens ?? [] as w, i (w.when)}
              <button
                type="button"
                class={[
                  'rounded-md border-2 px-2 py-0.5',
                  when.includes(w.when) ? 'border-ink font-semibold' : 'border-line',
                ]}
                aria-pressed={when.includes(w.when)}
                onclick={() => toggle(w.when)}><Kbd>{i + 1}</Kbd> {w.says}</button
              >
            {/each}
          {/if}
          <Button type="button" class="ml-auto" disabled={closed} onclick={() => void note()}
            >Note it <Kbd class="text-inherit">Enter</Kbd></Button
          >
        </div>
      </div>
    {/if}
    {#if (view?.noted.length ?? 0) > 0}
      <h2 class="lead mt-3">Noted</h2>
      <ul aria-label="Noted">
        {#each view?.noted.toReversed() ?? [] as s (s.id)}
          <li
            class={[
              'border-rule flex items-baseline gap-2 border-t py-1 first:border-0',
              (s.struck || s.earlier) && 'text-soft',
            ]}
          >
            <span class={['min-w-0 flex-1', s.struck && 'line-through']}
              >{s.says}{s.earlier ? ', before the repair' : ''}</span
            >
            {#if !s.struck && !closed}
              <button
                type="button"
                class="text-soft hover:text-fault"
                data-own="yes"
                aria-label="Strike out {s.says}"
                onclick={() => void strike(s)}>✕</button
              >
            {/if}
          </li>
        {/each}
      </ul>
    {/if}
  </div>
</Modal>
