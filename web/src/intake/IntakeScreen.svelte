<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'intake',
    key: '1',
    name: 'Intake',
    order: 10,
    route: '/jobs/:number/intake',
    of: 'intake',
  };
</script>

<script lang="ts">
  import { Button, Kbd, Textarea } from 'flowbite-svelte';
  import { link, push } from 'svelte-spa-router';
  import { declare } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Pictures from '../shared/Pictures.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import Whose from '../shared/Whose.svelte';
  import SwapDialog from '../shared/SwapDialog.svelte';
  import MatrixTable from './MatrixTable.svelte';
  import SymptomDialog from '../symptom/SymptomDialog.svelte';
  import { practising } from '../practise/practising';
  import { Intake, marks } from './intake.svelte';

  let { params }: { params: { number: string } } = $props();

  const intake = $derived(new Intake(Number(params.number)));
  $effect(() => void intake.load());

  let first: HTMLElement | undefined = $state();
  let swapping = $state(false);
  let noticing = $state(false);

  const view = $derived(intake.view);
  const matrix = $derived(view?.matrix ?? null);
  const closed = $derived(view?.finished !== null);
  const trial = $derived(intake.at);
  const suspects = $derived((matrix?.left ?? []).map((s) => (s.rail ? `rail ${s.name}` : s.name)));

  const open = () => !closed;
  const moves: Record<string, [number, number]> = {
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    ArrowRight: [0, 1],
    ArrowLeft: [0, -1],
  };
  const commands = declare({
    along: {
      keys: Object.keys(moves),
      shown: '↑ ↓ ← →',
      title: 'along what can be tried',
      act: (key) => intake.move(...(moves[key] ?? [0, 0])),
    },
    mark: {
      keys: marks.map((m) => m.key),
      title: 'it works, is faint, works partly, comes and goes, nothing comes',
      when: () => open() && !practising,
      act: (key) => intake.mark(marks.find((m) => m.key === key)?.word ?? ''),
    },
    try: {
      keys: ['t'],
      title: practising ? 'try it: the set answers' : '',
      when: () => open() && practising,
      act: () => intake.mark('ok'),
    },
    unmark: { keys: ['Backspace'], title: 'take the mark back', when: open, act: () => intake.mark('') },
    best: { keys: ['b'], title: 'to what tells most', act: () => intake.toBest() },
    swap: {
      keys: ['u'],
      title: 'try it with a known good unit swapped in',
      when: open,
      act: () => (swapping = true),
    },
    notice: {
      keys: ['s', 'S'],
      shown: 's',
      title: 'what the set shows by itself: on its screen, by its sound, by its lamps',
      act: () => (noticing = true),
    },
    write: {
      keys: ['e'],
      title: 'write into the notes; Esc leaves them',
      when: open,
      act: () => first?.querySelector('textarea')?.focus(),
    },
    on: { keys: ['n'], title: 'on to making it safe', act: () => push(`/jobs/${params.number}/safe`) },
  });
</script>

<svelte:window onfocus={() => void intake.load()} />

{#if intake.missing}
  <Nowhere title="This job cannot be shown" text={intake.missing} />
{:else if view}
  <JobFrame head={view} here="Intake" {commands} again={() => void intake.load()}>
    <main
      class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,21fr)_minmax(0,43fr)] lg:overflow-hidden"
    >
      <section class="border-line flex min-h-0 min-w-0 flex-col p-[12px_18px] lg:border-r" bind:this={first}>
        {#if intake.trouble}
          <p class="border-fault text-fault mb-2 border-l-4 pl-3 font-semibold" role="alert">{intake.trouble}</p>
        {/if}
        <Scroll
          ><div class="flex flex-col gap-2">
            <h2 class="lead">As it came in</h2>
            <div class="flex flex-wrap gap-1.5" role="group" aria-label="Behind it">
              {#each view.pasts as past (past.key)}
                <button
                  type="button"
                  class={[
                    'rounded-md border-2 px-2 py-0.5',
                    past.on ? 'border-ink font-semibold' : 'border-line text-soft',
                  ]}
                  aria-pressed={past.on}
                  disabled={closed}
                  onclick={() => void intake.toggle(past.key)}>{past.on ? '✓ ' : ''}{past.name}</button
                >
              {/each}
            </div>
            {#each view.pasts.filter((p) => p.on) as past (past.key)}
              <p class="text-small"><b>{past.name}</b> points at {past.points}.</p>
            {/each}
            {#each view.fields as field (field.key)}
              <label class="text-small text-soft">
                {field.name}
                <Textarea
                  class="bg-panel dark:bg-panel text-ink mt-0.5 block w-full py-1 text-base"
                  rows={field.key === 'works' ? 2 : 1}
                  placeholder={field.hint}
                  disabled={closed}
                  bind:value={
                    () => intake.drafts[field.key] ?? field.text, (text: string) => (intake.drafts[field.key] = text)
                  }
                  onblur={() => void intake.note(field.key)}
                  onkeydown={(e: KeyboardEvent) => {
                    if (e.key === 'Escape') (e.currentTarget as HTMLTextAreaElement).blur();
                  }}
                />
              </label>
            {/each}
            {#if !practising}
              <h2 class="lead mt-1">Whose it is</h2>
              <Whose fields={view.whose} drafts={intake.drafts} onkeep={(key) => void intake.note(key)} />
            {/if}
            <Pictures job={view.number} ids={view.pictures} {closed} onchange={() => void intake.load()} />
          </div></Scroll
        >
      </section>

      <section class="flex min-h-0 min-w-0 flex-col gap-2 p-[12px_18px] lg:overflow-y-auto">
        {#each view.earlier as e (e.number)}
          <p class="border-measured border-l-4 pl-3 text-pretty" data-test="earlier">
            <b>{e.says}</b>
            <a use:link class="underline" href="/jobs/{e.number}/handback">Look at it</a>
          </p>
        {/each}
        <h2 class="lead flex flex-wrap items-baseline gap-x-4">
          With no probe at all
          <button type="button" class="font-normal" onclick={() => (noticing = true)}
            ><Key of="notice" /> <span class="underline decoration-dotted">what it shows by itself</span></button
          >
        </h2>
        {#if view.symptoms.some((s) => !s.struck && !s.earlier)}
          <p data-test="noticed">
            <b>It shows:</b>
            {view.symptoms
              .filter((s) => !s.struck && !s.earlier)
              .map((s) => s.says)
              .join('; ')}.
          </p>
        {/if}
        {#if matrix && !closed}
          {#if matrix.clash.length > 0}
            <div class="border-fault border-l-4 pl-3" data-test="clash">
              {#each matrix.clash as line, i (i)}<p class={i === 0 ? 'text-fault font-semibold' : ''}>{line}</p>{/each}
            </div>
          {:else if matrix.best}
            <p class="text-say font-semibold text-pretty" data-test="try">{matrix.best.sentence}</p>
            <p class="text-soft -mt-1">{matrix.best.why}.</p>
          {:else if matrix.left.length > 0}
            {#if suspects.length === 1}
              <p class="text-say font-semibold text-pretty" data-test="try">Only {suspects[0] ?? ''} is left.</p>
            {:else}
              <p class="text-say font-semibold text-pretty" data-test="try">
                {view?.probe
                  ? view.probe.sentence.map((s) => s.text).join('')
                  : `${suspects.length} are left, and now it takes a probe.`}
              </p>
              {#if view?.probe}
                <p class="text-soft -mt-1">
                  {suspects.length} are left, and no trial from outside parts them: on the bench, once the set is safe.
                </p>
              {/if}
            {/if}
          {/if}
        {/if}
        <div class="min-h-0 flex-none overflow-auto lg:max-h-[52%]"><MatrixTable {intake} {closed} /></div>
        {#if trial && matrix}
          <div class="border-line bg-panel rounded-md border px-3 py-2">
            <p>
              <b class="figure">{intake.rows[intake.row]?.entry}</b>
              {intake.rows[intake.row]?.mode} at
              <b class="figure">{trial.exit}</b>{#if trial.mark !== ''}<b
                  >: {marks.find((m) => m.word === trial.mark)?.long ?? trial.mark}</b
                >{/if}
            </p>
            <p class={['text-small', practising && matrix.left.length === 0 && 'hidden']}>
              {#if trial.clears.length === 0}
                It can tell nothing more.
              {:else if trial.clears.length === 1 && trial.leaves.length === 1}
                If it works, {trial.clears[0]} is cleared; if nothing comes, {trial.leaves[0]} it is.
              {:else if trial.clears.join() === trial.leaves.join()}
                If it works, these are cleared; if nothing comes, it is one of them: {trial.clears.join(', ')}.
              {:else}
                If it works, cleared: {trial.clears.join(', ')}.
                {trial.leaves.length > 0 ? `If nothing comes, left: ${trial.leaves.join(', ')}.` : ''}
              {/if}
            </p>
            {#if !closed}
              <div class="mt-1.5 flex flex-wrap gap-2">
                {#if practising}
                  <Button onclick={() => void intake.mark('ok')}><Key of="try" />Try it</Button>
                {/if}
                {#each practising ? [] : marks as m (m.key)}
                  <Button color="alternative" onclick={() => void intake.mark(m.word)}
                    ><Kbd>{m.key}</Kbd> {m.says}</Button
                  >
                {/each}
                <Button color="alternative" onclick={() => (swapping = true)}><Key of="swap" /> swap a unit</Button>
              </div>
            {/if}
          </div>
        {/if}
        {#if matrix && !(practising && matrix.left.length === 0)}
          <p data-test="left">
            <b>Suspects, {matrix.left.length} of {matrix.blocks}:</b>
            {suspects.join(', ') || 'none'}
          </p>
        {/if}
        {#if view.offers.length > 0}
          <h2 class="lead">Usual faults of this model</h2>
          <ul class="space-y-0.5" aria-label="Usual faults">
            {#each view.offers as offer (offer.stage + offer.what)}
              <li class={offer.fits ? '' : 'text-soft'}>
                {#if offer.fits}<b class="text-measured">fits</b>{/if}
                <b>{offer.stage}</b>: {offer.what}{offer.check ? `; ${offer.check}` : ''}.
                <span class="text-small">{offer.says}</span>
              </li>
            {/each}
          </ul>
        {/if}
        {#if !closed}
          <p class="mt-auto">
            <a use:link href="/jobs/{view.number}/safe" class="text-measured underline">On to making it safe</a>
            <Key of="on" />
          </p>
        {/if}
      </section>
    </main>
  </JobFrame>
  {#if noticing}
    <SymptomDialog number={view.number} bind:open={noticing} onnoted={() => void intake.load()} />
  {/if}
  <SwapDialog
    stages={view.stages}
    bind:open={swapping}
    action="Add the row"
    onchosen={(stages) => void intake.swap(stages)}
  />
{/if}
