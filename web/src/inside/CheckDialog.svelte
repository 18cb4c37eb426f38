<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Input, Select } from 'flowbite-svelte';
  import Modal from '../shared/Modal.svelte';
  import { api, told } from '../api/client';
  import { engineering } from '../shared/format';
  import type { PartVerdict } from '../api/types.gen';
  import type { Inside } from './inside.svelte';

  /** A part is judged by what meters show of it. */
  let { inside, open = $bindable() }: { inside: Inside; open: boolean } = $props();

  const checks = $derived(inside.view?.checks ?? []);
  let part = $state(untrack(() => inside.part));
  const known = $derived(inside.looked?.parts.find((p) => p.name === part.trim()));
  let kind = $state(untrack(() => inside.chosen?.checkFor || 'transistor'));
  let given: Record<string, string> = $state(untrack(marked));
  let verdict: PartVerdict | null = $state.raw(null);
  let wrong = $state('');
  let typed = $state(false); // what meters showed
  const check = $derived(checks.find((c) => c.name === kind));

  /** A part that is named has the check that fits it: by the circuit, or by the letters its name begins with. */
  function named() {
    if (typed) return;
    const letters = /^[A-Z]+/.exec(part.trim().toUpperCase())?.[0] ?? '';
    const fits = known?.checkFor || checks.find((c) => c.letters.includes(letters))?.name;
    if (fits) kind = fits;
    given = marked();
  }
  /** What is known of the part already. */
  function marked(): Record<string, string> {
    if (known?.kind !== kind || !['resistor', 'capacitor'].includes(kind)) return {};
    return { value: known.value };
  }
  /** In circuit, what is parallel to a resistor is known from the circuit. */
  function choose(name: string, choice: string) {
    given[name] = choice;
    const parallel = known?.parallel;
    if (name === 'where' && given.where === 'in circuit' && kind === 'resistor' && parallel && !given.parallel)
      given.parallel = engineering(parallel, 'Ω');
  }
  const filled = $derived(Object.fromEntries(Object.entries(given).filter(([, text]) => text.trim() !== '')));
  const ready = $derived(check?.fields.every((f) => !f.needed || (given[f.name] ?? '').trim() !== '') ?? false);

  // The verdict is there as it is typed.
  $effect(() => {
    const asked = { kind, given: filled, job: inside.number, stage: inside.looked?.stage ?? '', part: part.trim() };
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
    if (await inside.note({ check: { part: part.trim(), kind, given: filled } })) {
      if (known) inside.aimPart(part.trim());
      open = false;
    } else wrong = inside.trouble;
  }
</script>

<Modal title="Check a part" bind:open size="lg">
  <form class="text-ink flex flex-col gap-3" {onsubmit}>
    <div class="grid grid-cols-2 gap-3">
      <label>Part<Input class="mt-1" bind:value={part} placeholder="Q204" required oninput={named} /></label>
      <label
        >Kind of check
        <Select placeholder="" class="mt-1" bind:value={kind} onchange={() => (given = marked())}>
          {#each checks as c (c.name)}<option value={c.name}>{c.title}</option>{/each}
        </Select></label
      >
    </div>
    {#if check}
      <p class="font-semibold"><span class="text-hazard" aria-hidden="true">▲</span> {check.caution}</p>
      <div class="grid grid-cols-2 gap-x-3 gap-y-2 sm:grid-cols-3" oninput={() => (typed = true)}>
        {#each check.fields as f (check.name + f.name)}
          <label class={f.name === 'readings' || f.name === 'inside' ? 'col-span-full' : ''}>
            <span>{f.title}</span>
            {#if f.choices}
              <Select
                placeholder=""
                class="mt-1"
                value={given[f.name] ?? ''}
                onchange={(e) => choose(f.name, (e.currentTarget as HTMLSelectElement).value)}
              >
                <option value="">{f.needed ? 'choose' : 'not said'}</option>
                {#each f.choices as c (c)}<option value={c}>{c}</option>{/each}
              </Select>
            {:else}
              <Input
                class="figure mt-1"
                bind:value={given[f.name]}
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
        {#each verdict.why as w (w)}<p class="text-small">{w}</p>{/each}
        {#each verdict.limits as w (w)}<p class="text-small text-soft">But: {w}</p>{/each}
        {#each verdict.sure as w (w)}<p class="text-small"><b>To be sure:</b> {w}</p>{/each}
      </div>
    {/if}
    <div class="flex gap-2">
      <Button type="submit" disabled={!verdict || part.trim() === '' || inside.busy}>Keep it</Button>
      <Button type="button" color="alternative" onclick={() => (open = false)}>Close</Button>
    </div>
  </form>
</Modal>
