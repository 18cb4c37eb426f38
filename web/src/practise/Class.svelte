<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { push } from 'svelte-spa-router';
  import { api, told } from '../api/client';
  import type { TrainingResult as Result } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import FileButton from '../shared/FileButton.svelte';
  import { moment } from '../shared/format';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Page from '../shared/Page.svelte';
  import { clock } from './words';
  import { practising } from './practising';

  /** Results that trainees handed in as files: on this page alone, and kept nowhere. */
  let rows: Result[] = $state.raw([]);
  let trouble = $state('');

  async function take(file: File) {
    try {
      const row = await api.readResult(file);
      const same = (r: Result) => r.who === row.who && r.case === row.case;
      rows = [...rows.filter((r) => !same(r)), row];
      trouble = '';
    } catch (error) {
      trouble = `${file.name}: ${told(error)}`;
    }
  }
  const cases = $derived([...new Set(rows.map((r) => r.case))]);
  const of = (sum: string) => rows.filter((r) => r.case === sum).sort((a, b) => a.lost - b.lost);
  const commands = declare({ back: { keys: ['p'], title: 'back to the sets', act: () => push('/') } });
</script>

{#if !practising}
  <Nowhere title="That is for practice" text="Choose Practise on the shelf." />
{:else}
  <Page title="A class" here="Practise" {commands}>
    {#snippet actions()}
      <Button color="alternative" href="#/"><Key of="back" />Sets</Button>
      <FileButton accept=".json,application/json" onfile={take}>Take in a result</FileButton>
    {/snippet}
    <div class="mx-auto max-w-6xl px-[18px] py-4">
      {#if trouble}<p class="border-fault text-fault mb-2 border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
      {#if rows.length === 0}
        <h2 class="text-say font-semibold">One case for all, and a result from each.</h2>
        <ol class="mt-2 max-w-prose list-decimal space-y-1 pl-6 text-lg">
          <li>Draw a set, and save it as a file: its review has “Hand it on”. The answer is sealed in it.</li>
          <li>Each takes it in, works it, and saves what it came to under a name.</li>
          <li>Take the results in here. They stay on this page, and are kept nowhere.</li>
        </ol>
      {/if}
      {#each cases as sum (sum)}
        {@const list = of(sum)}
        <h2 class="mt-4 font-semibold">
          {list[0]?.set}
          <span class="text-soft font-normal"
            >{list[0]?.level}, the program needs {list[0]?.bestProbes} readings and
            {clock(list[0]?.bestMinutes ?? 0)}</span
          >
        </h2>
        <div class="overflow-x-auto">
          <table class="mt-1 w-full" aria-label="Results">
            <thead>
              <tr class="text-soft text-small text-left">
                <th class="font-normal">who</th><th class="font-normal">found</th><th class="font-normal">in vain</th>
                <th class="font-normal">readings</th><th class="font-normal">minutes</th><th class="font-normal"
                  >lost</th
                >
                <th class="font-normal">stopped</th><th class="font-normal">asked</th>
                <th class="font-normal">costliest decision</th><th class="font-normal">ended</th>
              </tr>
            </thead>
            <tbody>
              {#each list as r (r.who)}
                <tr class="border-rule border-t align-baseline">
                  <th class="py-1 pr-3 text-left">{r.who}</th>
                  <td class={['pr-3', r.found === r.faults ? 'text-expect font-semibold' : 'text-fault font-semibold']}
                    >{r.found} of {r.faults}</td
                  >
                  <td class="figure pr-3">{r.inVain}</td><td class="figure pr-3">{r.probes}</td>
                  <td class="figure pr-3">{clock(r.minutes)}</td><td class="figure pr-3">{clock(r.lost)}</td>
                  <td class={['figure pr-3', r.stopped > 0 && 'text-fault font-semibold']}>{r.stopped}</td>
                  <td class="figure pr-3">{r.asked}</td><td class="pr-3 text-pretty">{r.costliest || 'none'}</td>
                  <td class="text-small text-soft">{moment(r.ended)}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        </div>
      {/each}
    </div>
  </Page>
{/if}
