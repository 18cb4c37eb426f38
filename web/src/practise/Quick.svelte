<script lang="ts">
  import { Button, Kbd } from 'flowbite-svelte';
  import { push } from 'svelte-spa-router';
  import { api, newId, told } from '../api/client';
  import type { Graded, QuickView, TrainingSkill } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Page from '../shared/Page.svelte';
  import Circuit from './Circuit.svelte';
  import LastOnes from './LastOnes.svelte';
  import Traces from './Traces.svelte';
  import { practising } from './practising';

  let view = $state.raw<QuickView | null>(null);
  let graded = $state.raw<Graded | null>(null);
  let chosen = $state(-1);
  let trouble = $state('');
  let began = 0;
  let id = newId();
  let kind = $state(''); // alone; empty: whichever comes next

  async function ask() {
    try {
      view = await api.quick({ kind });
      graded = null;
      chosen = -1;
      trouble = '';
      began = performance.now();
      id = newId();
    } catch (error) {
      trouble = told(error);
    }
  }
  if (practising) void ask();

  async function choose(i: number) {
    const quick = view?.quick;
    if (!quick || graded || i >= quick.choices.length) return;
    chosen = i;
    try {
      graded = await api.answerQuick({
        id,
        kind: quick.kind,
        seed: quick.seed,
        choice: i,
        seconds: Math.round((performance.now() - began) / 1000),
      });
      trouble = '';
    } catch (error) {
      chosen = -1;
      trouble = told(error);
    }
  }
  const skills = $derived<TrainingSkill[]>(graded?.skills ?? view?.skills ?? []);
  const kinds = $derived(skills.map((s) => s.kind));
  const commands = declare({
    choose: {
      keys: ['1', '2', '3', '4'],
      shown: '1 to 4',
      title: 'the answer',
      act: (key) => choose(Number(key) - 1),
    },
    next: { keys: ['n'], title: 'the next one', when: () => graded !== null, act: () => ask() },
    kind: {
      keys: ['k'],
      title: 'of one kind alone, or of all',
      act: () => {
        const all: string[] = ['', ...kinds];
        kind = all[(all.indexOf(kind) + 1) % all.length] ?? '';
        return ask();
      },
    },
    back: { keys: ['p'], title: 'back to the sets', act: () => push('/') },
  });
  const looks = (i: number) =>
    graded === null
      ? 'border-line'
      : i === graded.right
        ? 'border-expect'
        : i === chosen
          ? 'border-fault'
          : 'border-line text-soft';
  const plain = $derived(view?.quick && view.quick.circuit === null ? view.quick.facts : []);
  const dues = $derived(plain.some((f) => f.due !== ''));
</script>

{#if !practising}
  <Nowhere title="That is for practice" text="Choose Practise on the shelf." />
{:else}
  <Page title="A quick one" here="Practise" {commands}>
    {#snippet actions()}
      <Button color="alternative" href="#/"><Key of="back" />Sets</Button>
    {/snippet}
    <div class="grid gap-x-6 gap-y-4 px-[18px] py-3 lg:grid-cols-[minmax(0,1fr)_210px]">
      <section class="min-w-0">
        {#if trouble}
          <p class="border-fault text-fault mb-2 border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>
        {/if}
        {#if view?.quick}
          {@const quick = view.quick}
          <h2 class="text-say font-semibold text-pretty" data-test="ask">{quick.ask}</h2>
          {#if quick.circuit}
            <Circuit drawn={quick.circuit} />
          {:else if quick.traces.length > 0}
            <Traces traces={quick.traces} />
          {:else}
            <table class="mt-2">
              {#if dues}
                <thead
                  ><tr class="text-soft text-left"
                    ><th></th><th class="pr-6 font-normal">should be</th><th class="font-normal">is</th></tr
                  ></thead
                >
              {/if}
              <tbody>
                {#each plain as fact (fact.name)}
                  <tr class="border-rule border-t first:border-0">
                    <th class="py-0.5 pr-6 text-left font-normal">{fact.name}</th>
                    {#if dues}<td class="figure text-expect pr-6">{fact.due}</td>{/if}
                    <td class={['figure font-semibold', fact.off && 'text-fault']}>{fact.reads}</td>
                  </tr>
                {/each}
              </tbody>
            </table>
          {/if}
          <ol class="mt-2 grid max-w-5xl gap-1.5 sm:grid-cols-2" aria-label="Choices">
            {#each quick.choices as choice, i (choice)}
              <li>
                <button
                  type="button"
                  class={[
                    'bg-panel flex h-full w-full items-center gap-3 rounded-md border-2 px-3 py-2 text-left',
                    looks(i),
                  ]}
                  disabled={graded !== null}
                  onclick={() => void choose(i)}
                  ><Kbd>{i + 1}</Kbd><span class="font-semibold">{choice}</span>
                  {#if graded && i === graded.right}<span class="text-expect ml-auto font-semibold">✓ right</span
                    >{:else if graded && i === chosen}<span class="text-fault ml-auto font-semibold">✕ not it</span
                    >{/if}</button
                >
              </li>
            {/each}
          </ol>
          {#if graded}
            <div class="border-expect mt-2 max-w-5xl border-l-4 pl-3" role="status" data-test="why">
              {#each graded.why as line, i (i)}<p class={i === 0 ? 'font-semibold' : ''}>{line}</p>{/each}
            </div>
            <p class="mt-3"><Button onclick={() => void ask()}>The next one <Key of="next" /></Button></p>
          {/if}
        {/if}
      </section>
      <section>
        <h2 class="lead">How you stand</h2>
        <ul class="mt-1" aria-label="Skills">
          {#each skills as s (s.kind)}
            <li class={['border-rule border-t py-1 first:border-0', kind !== '' && kind !== s.kind && 'text-soft']}>
              <span class="flex justify-between gap-2"
                ><span>{s.kind}</span><span class="figure"
                  >{s.of === 0 ? 'not yet' : `${String(s.right)} of ${String(s.of)}`}</span
                ></span
              >
              <LastOnes last={s.last} />
            </li>
          {/each}
        </ul>
        <p class="text-small text-soft mt-2 text-pretty">
          A kind that was missed comes again after 1 other; one answered right after 3, then 9, 27, 81.
        </p>
        <p class="text-small mt-1">
          <button type="button" class="underline decoration-dotted" onclick={() => commands.kind.act()}
            ><Key of="kind" /> {kind === '' ? 'all kinds' : `only ${kind}`}</button
          >
        </p>
      </section>
    </div>
  </Page>
{/if}
