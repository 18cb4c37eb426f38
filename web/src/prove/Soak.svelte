<script lang="ts">
  import { untrack } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { Button } from 'flowbite-svelte';
  import { api } from '../api/client';
  import { declare, typing } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import Heat from './Heat.svelte';
  import Now from './Now.svelte';
  import PlanForm from './PlanForm.svelte';
  import { Proving } from './proving.svelte';
  import Strips from './Strips.svelte';

  /** The long run of a set: its plan, what it logs, what is said of it. */
  let { number }: { number: number } = $props();

  const it = $derived(new Proving(number));
  const view = $derived(it.view);
  const closed = $derived(view?.finished !== null);
  let field: HTMLInputElement | undefined = $state();
  let noting: HTMLInputElement | undefined = $state();

  $effect(() => {
    const now = it;
    return untrack(() => now.begin());
  });
  $effect(() => {
    if (it.making) untrack(() => it.make());
  });

  $effect(() => {
    if (it.due !== undefined) untrack(() => it.follow());
  });

  const running = () => view?.running === true && !closed;
  const shown = () => view?.begun === true && !it.making;
  const commands = declare({
    begin: {
      keys: ['b'],
      title: 'begin as it is planned',
      when: () => !closed && it.making,
      act: () => void it.start(),
    },
    again: {
      keys: ['n'],
      title: 'another soak',
      when: () => !closed && shown() && !running(),
      act: () => (it.again = true),
    },
    ...typing(
      () => field,
      () => running() && it.typed !== undefined,
      'type what is due; Enter keeps it',
      'type a word',
    ),
    stop: {
      keys: ['x'],
      title: 'stop the drive, and log on',
      when: () => running() && view?.driven === true,
      act: () => void it.do('stop'),
    },
    on: {
      keys: ['c'],
      title: 'let the drive go on',
      when: () => running() && view?.driven === false,
      act: () => void it.do('on'),
    },
    end: { keys: ['e'], title: 'end the soak', when: running, act: () => void it.do('end') },
    play: {
      keys: ['v'],
      title: 'play its signal by the computer’s sound',
      when: () => running() && it.due !== '' && !it.sounding,
      act: () => it.play(),
    },
    note: { keys: ['t'], title: 'note something', when: running, act: () => noting?.focus() },
    closing: {
      keys: ['l'],
      title: 'what is measured and tried at the very end',
      act: () => void push(`/jobs/${String(number)}/prove/closing`),
    },
    // While something is played z mutes it, on every screen.
    closer: { keys: ['z', 'Z'], shown: 'z', title: 'closer in time', when: shown, act: () => it.closer() },
    wider: { keys: ['u'], title: 'more of it', when: shown, act: () => it.wider() },
    move: {
      keys: ['ArrowLeft', 'ArrowRight'],
      shown: '← →',
      title: 'earlier, later',
      when: shown,
      act: (key) => it.move(key === 'ArrowRight' ? 1 : -1),
    },
  });
</script>

<svelte:window onfocus={() => void it.load()} />

{#if it.kept.missing}
  <Nowhere title="This job cannot be shown" text={it.kept.missing} />
{:else if view}
  <JobFrame head={view} here="Prove" {commands} again={() => void it.load()}>
    {#if it.making}
      <main class="bg-panel flex min-h-0 min-w-0 flex-col p-[12px_18px] lg:overflow-hidden" data-test="prove">
        {#if closed}
          <p class="text-say font-semibold">No soak was made.</p>
        {:else if it.plan}
          <Scroll on="panel"><PlanForm {it} {view} plan={it.plan} /></Scroll>
        {/if}
      </main>
    {:else}
      <main
        class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_minmax(0,380px)] lg:overflow-hidden"
        data-test="prove"
      >
        <section
          class="bg-panel border-line flex min-h-0 min-w-0 flex-col p-[10px_18px] max-lg:order-2 max-lg:border-t lg:border-r"
        >
          <Scroll on="panel">
            <Heat {it} {view} />
            <Strips {it} {view} />
            <div class="mt-2 flex flex-wrap items-center gap-2">
              <Button size="xs" color="alternative" onclick={() => it.closer()}><Key of="closer" />Closer</Button>
              <Button size="xs" color="alternative" onclick={() => it.wider()}><Key of="wider" />More of it</Button>
              <a
                class="text-soft border-line hover:text-ink rounded-md border px-2 py-0.5"
                href={api.soakTable(view.number, view.id)}
                download>What was logged, as a table</a
              >
              {#if !view.running && !closed}
                <Button size="xs" color="alternative" onclick={() => (it.again = true)}
                  ><Key of="again" />Another soak</Button
                >
              {/if}
            </div>
            <p class="text-small text-soft mt-1">
              Ribbons: what is allowed. Every point lies between the least and the greatest of its stretch; nothing is
              drawn where nothing was read.
            </p>
          </Scroll>
        </section>
        <section class="flex min-h-0 min-w-0 flex-col p-[12px_16px] max-lg:order-1">
          <Scroll><Now {it} {view} {closed} bind:field bind:noting /></Scroll>
        </section>
      </main>
    {/if}
  </JobFrame>
{/if}
