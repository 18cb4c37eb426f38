<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Select } from 'flowbite-svelte';
  import Grid from '../shared/Grid.svelte';
  import Modal from '../shared/Modal.svelte';
  import { api, told } from '../api/client';
  import type { CircuitAnswer } from '../api/types.gen';
  import { engineering } from '../shared/format';
  import { filled, pad } from '../shared/rows';
  import type { Inside } from './inside.svelte';

  /** The stage's parts as a table: begun from a family, typed, or pasted. */
  let { inside, open = $bindable() }: { inside: Inside; open: boolean } = $props();

  const columns = $derived(inside.view?.columns ?? []);
  const asKept = () => {
    const out = (inside.view?.circuit ?? []).map((r) => [...r]);
    pad(out, columns.length);
    return out;
  };
  let rows: string[][] = $state(untrack(asKept));
  let family = $state('');
  let answer: CircuitAnswer | null = $state.raw(null);
  let wrong = $state('');
  // What it comes to is there as it is typed.
  $effect(() => {
    const asked = filled(rows).map((r) => [...r]);
    const stop = new AbortController();
    if (asked.length === 0) {
      answer = null;
      return;
    }
    const timer = setTimeout(() => {
      api.solveCircuit({ rows: asked }, stop.signal).then(
        (a) => ((answer = a), (wrong = '')),
        (error: unknown) => void (stop.signal.aborted || (wrong = told(error))),
      );
    }, 150);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  });

  async function begin() {
    if (await inside.keep([], family)) rows = asKept();
    else wrong = inside.trouble;
  }
  async function keep() {
    if (await inside.keep(filled(rows).map((r) => [...r]))) open = false;
    else wrong = inside.trouble;
  }
  const problems = (row: number, column: string) =>
    column !== 'part'
      ? []
      : (answer?.problems ?? [])
          .filter((p) => p.where === rows[row]?.[0])
          .map((p) => ({ severity: 'error', message: p.message }));
</script>

<Modal title="The circuit of {inside.looked?.stage}" bind:open size="xl">
  <div class="text-ink flex flex-col gap-2">
    <div class="flex flex-wrap items-end gap-2">
      <label
        >Begin from
        <Select placeholder="" class="mt-1 w-64" bind:value={family}>
          <option value="">a family of circuits</option>
          {#each inside.view?.families ?? [] as f (f)}<option value={f}>{f}</option>{/each}
        </Select></label
      >
      <Button color="alternative" disabled={family === '' || inside.busy} onclick={begin}
        >{rows.length > 1 ? 'Put it in instead' : 'Put it in'}</Button
      >
      <p class="text-small text-soft min-w-60 flex-1">
        Nodes in the order of the kind, with ; between: the sheet's points by their names, others as you like, and
        ground. Ctrl V pastes a table.
      </p>
    </div>
    <div class="flex max-h-[46vh] gap-4">
      <Grid {columns} bind:rows {problems} class="overflow-auto lg:shrink-0" onedit={() => undefined} />
      <ul class="text-small text-soft hidden overflow-y-auto lg:block" aria-label="Kinds">
        {#each inside.view?.kinds ?? [] as k (k)}<li>
            <b class="text-ink">{k.split(':')[0]}</b>: {k.split(':')[1]}
          </li>{/each}
      </ul>
    </div>
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    {#if answer && answer.problems.length > 0}
      <ul role="status">
        {#each answer.problems as p, i (i)}<li class="text-fault"><b>{p.where}:</b> {p.message}</li>{/each}
      </ul>
    {:else if answer?.rest}
      <p class="figure text-small text-expect" role="status" data-test="stands">
        {Object.entries(answer.rest.volts)
          .map(([node, v]) => `${node} ${Math.abs(v) < 5e-4 ? '0 V' : engineering(v, 'V')}`)
          .join('   ')}{answer.swing > 0 ? `   swings at ${engineering(answer.swing, 'Hz')}` : ''}
      </p>
    {/if}
    <div class="flex gap-2">
      <Button disabled={inside.busy} onclick={keep}>Keep it in the sheet</Button>
      <Button color="alternative" onclick={() => (open = false)}>Close</Button>
    </div>
  </div>
</Modal>
