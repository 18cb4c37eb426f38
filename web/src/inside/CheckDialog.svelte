<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Select } from 'flowbite-svelte';
  import { practising } from '../practise/practising';
  import Modal from '../shared/Modal.svelte';
  import { api, told } from '../api/client';
  import { engineering } from '../shared/format';
  import type { PartCheck, PartVerdict } from '../api/types.gen';
  import type { Inside } from './inside.svelte';

  /**
   * A part is judged by what meters show of it. Typed is what is shown of it; without a job nothing is kept, and
   * within one but outside of a stage's view its stage is chosen.
   */
  interface Props {
    inside: Inside;
    open: boolean;
    typed: { part: string; kind: string; given: Record<string, string> };
    free?: boolean;
    onkept?: () => void;
  }
  let { inside, open = $bindable(), typed = $bindable(), free = false, onkept }: Props = $props();

  let all: PartCheck[] = $state.raw([]);
  const checks = $derived(inside.view?.checks ?? all);
  const known = $derived(inside.looked?.parts.find((p) => p.name === typed.part.trim()));
  let verdict: PartVerdict | null = $state.raw(null);
  let wrong = $state('');
  let measured = $state(untrack(() => Object.keys(typed.given).length > 0)); // something that meters showed
  const check = $derived(checks.find((c) => c.name === typed.kind));
  /** With no job there is nothing to keep it in. */
  const job = $derived(inside.number > 0);

  $effect(() => {
    if (inside.number === 0)
      api.parts().then(
        (p) => (all = p.checks),
        (error: unknown) => (wrong = told(error)),
      );
  });

  /** A part that is named has the check that fits it: by the circuit, or by the letters its name begins with. */
  function named() {
    if (measured) return;
    const letters = /^[A-Z]+/.exec(typed.part.trim().toUpperCase())?.[0] ?? '';
    const fits = known?.checkFor || checks.find((c) => c.letters.includes(letters))?.name;
    if (fits) typed.kind = fits;
    again();
  }
  /** Another part or kind: only what is known of the part is there already. */
  function again() {
    typed.given =
      known?.kind === typed.kind && ['resistor', 'capacitor'].includes(known.kind) ? { value: known.value } : {};
  }
  untrack(() => {
    if (!free) again();
  });
  /** In circuit, what is parallel to a resistor is known from the circuit. */
  function choose(name: string, choice: string) {
    typed.given[name] = choice;
    const parallel = known?.parallel;
    if (name === 'where' && choice === 'in circuit' && typed.kind === 'resistor' && parallel && !typed.given.parallel)
      typed.given.parallel = engineering(parallel, 'Ω');
  }
  const filled = $derived(Object.fromEntries(Object.entries(typed.given).filter(([, text]) => text.trim() !== '')));
  const ready = $derived(check?.fields.every((f) => !f.needed || (typed.given[f.name] ?? '').trim() !== '') ?? false);

  // The verdict is there as it is typed.
  $effect(() => {
    const asked = {
      kind: typed.kind,
      given: filled,
      job: inside.number,
      stage: inside.looked?.stage ?? '',
      part: typed.part.trim(),
    };
    const stop = new AbortController();
    if (!ready) {
      verdict = null;
      wrong = '';
      return;
    }
    api.checkPart(asked, stop.signal).then(
      (v) => {
        verdict = v;
        wrong = '';
      },
      (error: unknown) => {
        if (stop.signal.aborted) return;
        verdict = null;
        wrong = told(error);
      },
    );
    return () => stop.abort();
  });
  const words = { good: '✓ Good', bad: '✕ Bad', 'not sure': '? Not sure' };

  async function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    if (!job || (!verdict && !practising) || typed.part.trim() === '') return;
    if (await inside.note({ check: { part: typed.part.trim(), kind: typed.kind, given: filled } })) {
      if (known) inside.aimPart(typed.part.trim());
      onkept?.();
      open = false;
    } else wrong = inside.trouble;
  }
</script>

<Modal title="Check a part" bind:open size="lg">
  <form class="text-ink flex flex-col gap-3" {onsubmit}>
    <div class="grid grid-cols-2 gap-3">
      {#if job}
        <label>Part<Input class="mt-1" bind:value={typed.part} placeholder="Q204" oninput={named} /></label>
      {/if}
      {#if job && free}
        <label
          >Stage
          <Select
            placeholder=""
            class="mt-1"
            value={inside.looked?.stage ?? ''}
            onchange={(e) => void inside.load((e.currentTarget as HTMLSelectElement).value)}
          >
            {#each inside.view?.stages ?? [] as s (s.stage)}<option value={s.stage}>{s.stage}</option>{/each}
          </Select></label
        >
      {/if}
      <label
        >Kind of check
        <Select placeholder="" class="mt-1" bind:value={typed.kind} onchange={again}>
          {#each checks as c (c.name)}<option value={c.name}>{c.title}</option>{/each}
        </Select></label
      >
    </div>
    {#if check}
      <p class="font-semibold"><span class="text-hazard" aria-hidden="true">▲</span> {check.caution}</p>
      {#if practising && job}<p class="text-soft">Out of its circuit, with the set off: the meter answers.</p>{/if}
      <div
        class={['grid grid-cols-2 gap-x-3 gap-y-2 sm:grid-cols-3', practising && job && 'hidden']}
        oninput={() => (measured = true)}
      >
        {#each check.fields as f (check.name + f.name)}
          <label class={f.name === 'readings' || f.name === 'inside' ? 'col-span-full' : ''}>
            <span>{f.title}</span>
            {#if f.choices}
              <Select
                placeholder=""
                class="mt-1"
                value={typed.given[f.name] ?? ''}
                onchange={(e) => choose(f.name, (e.currentTarget as HTMLSelectElement).value)}
              >
                <option value="">{f.needed ? 'choose' : 'not said'}</option>
                {#each f.choices as c (c)}<option value={c}>{c}</option>{/each}
              </Select>
            {:else}
              <Input
                class="figure mt-1"
                bind:value={typed.given[f.name]}
                placeholder={f.hint}
                title={f.hint}
                autocomplete="off"
              />
            {/if}
          </label>
        {/each}
      </div>
    {/if}
    {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
    {#if verdict}
      <div
        class={[
          'rounded-md border-2 px-3 py-2',
          verdict.judgement === 'bad'
            ? 'border-fault bg-wash'
            : verdict.judgement === 'good'
              ? 'border-expect'
              : 'border-line',
        ]}
        role="status"
        data-test="verdict"
      >
        <p class="text-weight font-bold">
          <span
            class={verdict.judgement === 'bad'
              ? 'text-fault'
              : verdict.judgement === 'good'
                ? 'text-expect'
                : 'text-soft'}>{words[verdict.judgement]}:</span
          >
          {verdict.what}
        </p>
        {#each verdict.why.filter((w) => w !== verdict?.what) as w (w)}<p class="text-small">{w}</p>{/each}
        {#each verdict.limits as w (w)}<p class="text-small text-soft">But: {w}</p>{/each}
        {#each verdict.sure as w (w)}<p class="text-small"><b>To be sure:</b> {w}</p>{/each}
      </div>
    {/if}
    <div class="flex flex-wrap items-baseline gap-2">
      {#if job}
        <Button
          type="submit"
          disabled={(!verdict && !practising) || typed.part.trim() === '' || inside.busy || inside.turning}
        >
          {practising ? 'Measure it' : free ? `Keep it in No. ${inside.number}` : 'Keep it'}
        </Button>
      {/if}
      <Button type="button" color="alternative" onclick={() => (open = false)}>Close</Button>
      {#if !job}
        <span class="text-small text-soft">To keep it, go into a job and press ! there: what is typed stays.</span>
      {:else if free && verdict && typed.part.trim() === ''}
        <span class="text-small text-soft">Name the part to keep it.</span>
      {/if}
    </div>
  </form>
</Modal>
