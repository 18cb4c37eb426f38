<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Select, Textarea } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import { viewsOf } from '../shared/views';
  import type { Ground, Judged } from '../api/types.gen';
  import { levelText, type Bench } from './bench.svelte';

  interface Props {
    bench: Bench;
    injecting: boolean;
    finishing: boolean;
    striking: Judged | null;
    waiving?: Ground | null;
  }
  let {
    bench,
    injecting = $bindable(),
    finishing = $bindable(),
    striking = $bindable(),
    waiving = $bindable(null),
  }: Props = $props();

  let at = $state('');
  let touch = $state(false); // a finger or the tip of a probe, no generator
  let level = $state('');
  let frequency = $state('');
  let outcome = $state('');
  let why: Record<string, string> = $state({}); // what is open still, and why it can stay so
  const still = $derived((bench.view?.stillOpen ?? []).filter((o) => o.waived === ''));
  const views = $derived(bench.view ? viewsOf(bench.view) : []);
  /** The address of a view, or of a part of one: prove/closing. */
  const placeOf = (view: string) => {
    const [id, ...part] = view.split('/');
    return [views.find((v) => v.id === id)?.href ?? '/', ...part].join('/');
  };
  let stage = $state('');
  let reason = $state('');
  let wrong = $state('');

  const close = () => {
    injecting = finishing = false;
    striking = null;
    waiving = null;
    wrong = '';
  };
  // A dialog that has faded away leaves alone what was opened meanwhile.
  async function done(work: Promise<boolean>) {
    if (await work) close();
    else wrong = bench.trouble;
  }
  // Each dialog opens with what stands then; a refresh behind it changes nothing of what is being entered.
  $effect(() => {
    if (injecting) untrack(fillInjection);
  });
  $effect(() => {
    if (finishing) untrack(fillOutcome);
  });
  /** Where it can have been: every stage of the set, every rail and control. */
  const places = $derived.by(() => {
    const f = bench.findings;
    return [...new Set([...(f?.map ?? []), ...(f?.rails ?? []), ...(f?.controls ?? [])].map((x) => x.name))];
  });
  /** A part that was condemned is what it was. */
  function fillOutcome() {
    const parts = bench.view?.condemned ?? [];
    const done = (bench.view?.repairs ?? []).filter((r) => r.repair && !r.struck);
    stage = done[0]?.repair?.stage || parts[0]?.stage || bench.findings?.stage || bench.findings?.line || '';
    const said = parts.map((p) => `${p.part} in ${p.stage}: ${p.what}.`);
    const left = bench.view?.notDone ? [`Not repaired: ${bench.view.notDone}.`] : [];
    outcome ||= [...said, ...done.map((r) => `${r.says}.`), ...left].join(' ');
    why = {};
  }
  function fillInjection() {
    const now = bench.view?.injected;
    at = now?.at ?? '';
    touch = now?.touch ?? false;
    level = touch ? '' : levelText(now ?? null);
    frequency = now?.hz ? `${now.hz} Hz` : '';
  }
</script>

{#snippet foot(action: string)}
  {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
  <div class="mt-1 flex justify-end gap-3">
    <Button color="alternative" type="button" onclick={close}>Cancel</Button>
    <Button type="submit" disabled={bench.busy}>{action}</Button>
  </div>
{/snippet}

<Modal title="What is fed in" bind:open={injecting} size="sm" onclose={() => (wrong = '')}>
  <form
    class="text-ink flex flex-col gap-3"
    onsubmit={(e) => {
      e.preventDefault();
      const generator = at && !touch;
      void done(bench.set({ at, level: generator ? level : at ? 'touch' : '', frequency: generator ? frequency : '' }));
    }}
  >
    <label>
      At
      <Select placeholder="" class="mt-1" bind:value={at}>
        <option value="">the entry, with the sheet's own signal</option>
        {#each bench.points.slice(0, -1) as point (point.name)}
          <option value={point.name}>{point.name}{point.note ? `, ${point.note}` : ''}</option>
        {/each}
      </Select>
    </label>
    {#if at}
      <label class="flex items-center gap-2"
        ><input type="checkbox" bind:checked={touch} />a touch with a finger or the tip, no generator</label
      >
    {/if}
    {#if at && touch}
      <p class="text-small text-soft">
        What is heard at the exit is then a word: ok, weak or none. The nearer to the exit the touch, the less gain is
        left, and weak is right. One hand, a dry board, and only where the voltage is low.
      </p>
    {:else if at}
      <label>
        Level
        <Input class="figure mt-1" bind:value={level} placeholder="as the sheet has it there" />
      </label>
      <label>
        Frequency
        <Input class="figure mt-1" bind:value={frequency} placeholder="as the sheet has it there" />
      </label>
    {/if}
    <p class="text-small text-soft">
      Expected levels follow what is really fed in. Use a coupling capacitor rated for the voltage at that point, and
      start at a low level. Never clip a grounded lead to a live chassis; local codes and licensed practice come first.
    </p>
    {@render foot('Set')}
  </form>
</Modal>

<Modal title="Finish the job" bind:open={finishing} size={still.length > 0 ? 'md' : 'sm'} onclose={() => (wrong = '')}>
  <form
    class="text-ink flex flex-col gap-3"
    onsubmit={(e) => {
      e.preventDefault();
      const without = still.flatMap((o) =>
        why[o.key]?.trim() ? [{ key: o.key, text: o.text, why: why[o.key] ?? '' }] : [],
      );
      void done(bench.finish({ outcome, stage, without }));
    }}
  >
    <label>
      What it was, and what was done
      <Textarea class="bg-panel dark:bg-panel mt-1 w-full text-base" rows={3} bind:value={outcome} />
    </label>
    <label>
      Found in
      <Select placeholder="" class="mt-1" bind:value={stage}>
        <option value="">no one stage</option>
        {#each places as name (name)}
          <option value={name}>{name}</option>
        {/each}
      </Select>
    </label>
    {#if still.length > 0}
      <fieldset class="border-hazard flex flex-col gap-2 border-l-4 pl-3" data-test="still-open">
        <legend class="sr-only">Still open</legend>
        <p class="font-semibold">Still open. Settle it, or say in a word why it can stay so:</p>
        {#each still as o (o.key)}
          <label
            >{o.text}.
            {#if o.key.startsWith('in ') || o.key.startsWith('lifted ')}
              <button
                type="button"
                class="text-measured underline"
                onclick={() =>
                  void bench.remove(
                    o.key.startsWith('in ') ? { entry: o.key.slice(3) } : { subject: o.key.slice('lifted '.length) },
                  )}>It is {o.key.startsWith('in ') ? 'out' : 'back'}</button
              >
            {:else}
              <a class="text-measured underline" href="#{placeOf(o.view)}" onclick={close}>Settle it</a>
            {/if}
            <Input class="mt-1" bind:value={why[o.key]} placeholder="why it can stay so" />
          </label>
        {/each}
      </fieldset>
    {/if}
    {@render foot('Finish')}
  </form>
</Modal>

<Modal title="Strike out a reading" open={striking !== null} size="sm" onclose={() => (striking = null)}>
  <form
    class="text-ink flex flex-col gap-3"
    onsubmit={(e) => {
      e.preventDefault();
      void done(bench.strike(striking?.reading.id ?? '', reason)).then(() => (reason = ''));
    }}
  >
    <p>
      <span class="figure">{striking?.reading.point}, {striking?.reading.text}</span> counts no more, but stays in the log.
    </p>
    <label>
      Why (may stay empty)
      <Input class="mt-1" bind:value={reason} placeholder="slipped off the pin" />
    </label>
    {@render foot('Strike out')}
  </form>
</Modal>

<Modal title="Do without" open={waiving !== null} size="sm" onclose={() => (waiving = null)}>
  <form
    class="text-ink flex flex-col gap-3"
    onsubmit={(e) => {
      e.preventDefault();
      void done(bench.waive(waiving?.key ?? '', reason)).then(() => (reason = ''));
    }}
  >
    <p>Not shown: <b>{waiving?.text}</b></p>
    <label>
      Why it can be done without
      <Input class="mt-1" bind:value={reason} placeholder="potted, cannot be lifted" />
    </label>
    {@render foot('Do without')}
  </form>
</Modal>
