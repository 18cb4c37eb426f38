<script lang="ts">
  import { Button, Input, Textarea } from 'flowbite-svelte';
  import { untrack } from 'svelte';
  import { api, told } from '../api/client';
  import Modal from '../shared/Modal.svelte';
  import type { Bench } from './bench.svelte';
  import { ways, type Growth, type Way } from './grow';

  /** Changes the sheet without leaving the bench: what this set is like is found out while it is traced. */
  interface Props {
    bench: Bench;
    open: boolean;
    onchart: () => void;
  }
  let { bench, open = $bindable(), onchart }: Props = $props();

  const at = untrack(() => bench.aim || bench.next?.point || '');
  const f = untrack(() => bench.findings);
  const position = f?.points.findIndex((p) => p.name === at) ?? -1;
  const before = f?.stages[position - 1]?.name ?? '';
  const behind = f?.stages[position]?.name ?? '';
  const line = [...(f?.rails ?? []), ...(f?.controls ?? [])].find((l) => l.name === at);
  const last = untrack(() =>
    bench.log.find((j) => j.reading.point === at && !j.reading.struck && !j.reading.word && !j.reading.act),
  );
  const read = last && {
    text: last.reading.text,
    says: last.understood,
    quantity: last.reading.quantity,
    mode: last.reading.mode ?? '',
  };
  const where = { at, before, behind, read: read ?? null };
  const usual = f?.points[position]?.source === 'usual';
  const offered = ways.filter((w) => w.fits({ ...where, usual, line: line !== undefined, onRoute: position >= 0 }));

  let way = $state.raw<Way | null>(null);
  const likeliest = [...(f?.stages ?? [])].sort((a, b) => b.weight - a.weight)[0]?.name ?? '';
  let stage = $state(behind || before || likeliest);
  let name = $state('');
  let value = $state('');
  let from = $state('');
  let lines = $state('');
  let wrong = $state('');
  let added = $state.raw<string[]>([]);
  let gone = $state.raw<string[]>([]);

  const quantity = $derived(line ? 'dc' : (bench.next?.point === at ? bench.next.quantity : bench.quantity) || 'ac');

  function growth(): Growth | null {
    return way ? way.growth({ ...where, stage, name, value, from, lines, quantity }) : null;
  }
  async function preview() {
    const g = growth();
    wrong = '';
    added = gone = [];
    if (!g) return;
    try {
      const got = await api.grow(bench.number, { revision: bench.view?.revision ?? 0, ...g }, { preview: '1' });
      added = got.added;
      gone = got.gone;
    } catch (error) {
      wrong = told(error);
    }
  }
  function pick(w: Way) {
    way = w;
    wrong = '';
    added = gone = [];
    name = w.begins === 'aim' ? at : '';
    value = '';
    from = w.key === '6' ? '' : 'usual';
  }
  function chart() {
    open = false;
    onchart();
  }
  function press(event: KeyboardEvent) {
    if (way) return;
    if (event.key === 'c') chart();
    const w = offered.find((x) => x.key === event.key);
    if (!w) return;
    event.preventDefault();
    pick(w);
  }
  async function submit(event: SubmitEvent) {
    event.preventDefault();
    const g = growth();
    if (!g) return;
    if (await bench.grow(g)) open = false;
    else wrong = bench.trouble;
  }
  const focus = (node: HTMLElement) => node.querySelector<HTMLElement>('input, textarea, select')?.focus();
</script>

<svelte:window onkeydown={press} />

<Modal title={at ? `Change the sheet, at ${at}` : 'Change the sheet'} bind:open size="md">
  {#if !way}
    <ul class="text-ink flex flex-col gap-1" aria-label="What is different in this set">
      {#each offered as w (w.key)}
        <li>
          <button
            type="button"
            class="hover:bg-ground flex w-full items-baseline gap-3 rounded-md px-2 py-1.5 text-left"
            onclick={() => pick(w)}
          >
            <kbd class="border-line figure bg-panel rounded border px-1.5">{w.key}</kbd>
            <span>{w.says({ ...where, stage })}</span>
          </button>
        </li>
      {/each}
      <li>
        <button
          type="button"
          class="hover:bg-ground flex w-full items-baseline gap-3 rounded-md px-2 py-1.5 text-left"
          onclick={chart}
        >
          <kbd class="border-line figure bg-panel rounded border px-1.5">c</kbd>
          <span>What the manual says: paste or type its chart or level diagram</span>
        </button>
      </li>
    </ul>
  {:else}
    <form class="text-ink flex flex-col gap-3" onsubmit={submit} {@attach focus}>
      <p class="font-semibold">{way.says({ ...where, stage })}</p>
      {#if way.asks.includes('stage')}
        <label>
          Stage
          <select class="border-line bg-panel mt-1 h-10 w-full rounded-md border-2 py-0 pl-2" bind:value={stage}>
            {#each f?.map ?? [] as s (s.name)}<option value={s.name}>{s.name}</option>{/each}
          </select>
        </label>
      {/if}
      {#if way.asks.includes('from')}
        <label>
          What there is, as it stands in the names: L, left, 1
          <Input class="figure mt-1" bind:value={from} oninput={() => void preview()} />
        </label>
      {/if}
      {#if way.asks.includes('name')}
        <label>
          {way.named}
          <Input class="figure mt-1" bind:value={name} oninput={() => way?.key === 'a' && void preview()} />
        </label>
      {/if}
      {#if way.asks.includes('lines')}
        <label>
          Its parts in the order of the signal, one a line
          <Textarea
            class="bg-panel dark:bg-panel mt-1 w-full text-base"
            rows={4}
            bind:value={lines}
            oninput={() => void preview()}
            placeholder="coupling capacitor&#10;op-amp&#10;selector contact"
          />
        </label>
      {/if}
      {#if way.asks.includes('value')}
        <label>
          What is due
          <Input class="figure mt-1" bind:value placeholder={way.key === '6' ? '200 mV, 4.2 V' : '12 V'} />
        </label>
      {/if}
      {#if way.asks.includes('source')}
        <fieldset class="flex flex-wrap gap-x-4 gap-y-1">
          <legend class="text-soft">Where it comes from</legend>
          {#each [['', 'the manual'], ['good', 'a good set or channel'], ['usual', 'what is usual']] as [key, says] (key)}
            <label class="flex items-center gap-1.5"><input type="radio" bind:group={from} value={key} />{says}</label>
          {/each}
        </fieldset>
      {/if}
      {#if added.length > 0}<p class="text-small">New: <span class="figure">{added.join(', ')}</span></p>{/if}
      {#if gone.length > 0}<p class="text-small">Gone: <span class="figure">{gone.join(', ')}</span></p>{/if}
      {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
      <p class="text-small text-soft">What was read stays, and counts for what it becomes. z takes the change back.</p>
      <div class="flex justify-end gap-3">
        <Button color="alternative" type="button" onclick={() => (way = null)}>Back</Button>
        <Button type="submit" disabled={bench.busy}>Change the sheet</Button>
      </div>
    </form>
  {/if}
</Modal>
