<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'worth',
    key: 'v',
    aside: true,
    name: 'Worth it',
    order: 790,
    route: '/jobs/:number/worth',
  };
</script>

<script lang="ts">
  import { untrack } from 'svelte';
  import { link } from 'svelte-spa-router';
  import { declare } from '../shared/commands';
  import { day, percent, worked } from '../shared/format';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import Choices from './Choices.svelte';
  import Field from './Field.svelte';
  import Owner from './Owner.svelte';
  import Scale from './Scale.svelte';
  import { Worth } from './worth.svelte';

  let { params }: { params: { number: string } } = $props();

  const it = $derived(new Worth(Number(params.number)));
  const view = $derived(it.kept.view);
  const closed = $derived(view?.finished !== null);
  /** What a hindrance leaves of the chances. */
  const leaves = (s: { found: number; had: number; lasts: number }) =>
    [
      ['found', s.found],
      ['had', s.had],
      ['lasts', s.lasts],
    ]
      .filter(([, times]) => times !== 1)
      .map(([name, times]) => `${String(name)} ×${String(times)}`)
      .join(', ');
  let page: HTMLElement | undefined = $state();

  $effect(() => {
    const now = it;
    untrack(() => void now.load());
  });

  const focus = (name: string) => page?.querySelector<HTMLElement>(`[data-field="${name}"]`)?.focus();
  const open = () => !closed;
  const commands = declare({
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the choices',
      act: (key) => it.step(key === 'ArrowDown' ? 1 : -1),
    },
    decide: {
      keys: ['Enter'],
      title: 'decide for the choice at hand: write why; Enter keeps it',
      when: open,
      act: () => focus('why'),
    },
    value: { keys: ['u'], title: 'what the set is worth', when: open, act: () => focus('value') },
    limit: { keys: ['l'], title: "the owner's limit", when: open, act: () => focus('limit') },
    board: { keys: ['b'], title: 'what a board costs', when: open, act: () => focus('board') },
    another: { keys: ['t'], title: 'what another set costs', when: open, act: () => focus('another') },
    against: { keys: ['x'], title: 'what was seen and speaks against it', when: open, act: () => focus('seen') },
    rate: {
      keys: ['r'],
      title: 'what an hour of work costs',
      when: () => view?.rate === '',
      act: () => focus('rate'),
    },
    estimate: {
      keys: ['e'],
      title: 'the estimate for the owner, or the answer',
      when: open,
      act: () => focus(view?.waits ? 'most' : 'low'),
    },
  });
</script>

<svelte:window onfocus={() => void it.load()} />

{#if it.kept.missing}
  <Nowhere title="This job cannot be shown" text={it.kept.missing} />
{:else if view}
  <JobFrame head={view} here="Worth it" {commands} again={() => void it.load()}>
    <main
      bind:this={page}
      class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_minmax(0,372px)] lg:overflow-hidden"
      data-test="worth"
    >
      <section class="border-line flex min-h-0 min-w-0 flex-col p-[14px_18px] max-lg:border-b lg:border-r">
        <Scroll>
          <p class="text-say font-semibold text-pretty" data-test="says">{view.says}</p>
          {#if view.limits}<p
              class={['mt-1 text-pretty', view.over >= 0.1 ? 'text-fault font-semibold' : 'text-soft']}
              data-test="limits"
            >
              {#if view.over >= 0.1}<span aria-hidden="true">▲</span>&nbsp;{/if}{view.limits}
            </p>{/if}
          {#if !closed && (view.decided === 'leave' || view.decided === 'another')}<p class="mt-1 text-pretty">
              It goes back as it is: <a use:link class="underline" href="/jobs/{view.number}"
                >to the bench, to finish the job</a
              >
            </p>{/if}
          {#if it.kept.trouble}<p class="border-fault text-fault mt-1 border-l-4 pl-3 font-semibold" role="alert">
              {it.kept.trouble}
            </p>{/if}
          <div class="mt-2"><Scale {view} /></div>
          <p class="text-small text-soft text-pretty">
            Four of five such jobs end within the band; {view.basis}.
          </p>
          {#if view.rate === ''}
            <label class="mt-2 flex flex-wrap items-center gap-2 font-semibold"
              >What does an hour of work cost? <Key of="rate" /><input
                class="border-line bg-panel text-ink figure w-28 rounded-md border px-2 py-0.5 font-normal"
                data-field="rate"
                autocomplete="off"
                inputmode="decimal"
                bind:value={() => it.field('rate'), (text: string) => (it.drafts['rate'] = text)}
                onblur={() => void it.keepRate()}
                onkeydown={(e) => {
                  if (e.key === 'Escape' || e.key === 'Enter') e.currentTarget.blur();
                }}
              /><span class="text-soft font-normal">then it is told in money</span></label
            >
          {/if}
          <h2 class="lead mt-4">What can be done</h2>
          <Choices {it} {view} {closed} />
          <Owner {it} {view} {closed} />
        </Scroll>
      </section>
      <section class="bg-panel flex min-h-0 min-w-0 flex-col p-[14px_16px]">
        <Scroll on="panel">
          <h2 class="lead">What it hangs on</h2>
          <div class="grid grid-cols-2 gap-x-3 gap-y-1.5">
            <Field {it} name="value" label="The set is worth" key="value" {closed} />
            <Field {it} name="limit" label="Its owner allows" key="limit" {closed} />
            <Field {it} name="board" label="A board costs" key="board" {closed} />
            <Field {it} name="another" label="Another set costs" key="another" {closed} />
          </div>
          <table class="mt-3 w-full" aria-label="Chances">
            <tbody>
              {#each view.chances as c (c.key)}
                <tr class="border-rule border-t align-top first:border-0">
                  <td class="py-1 pr-2">{c.name}<span class="text-small text-soft block text-pretty">{c.why}</span></td>
                  <td class={['figure py-1 text-right whitespace-nowrap', c.is < 0.7 && 'text-fault font-semibold']}
                    >{percent(c.is)} %</td
                  >
                </tr>
              {/each}
            </tbody>
          </table>
          <fieldset class="mt-3" disabled={closed}>
            <legend class="lead flex items-center gap-2"
              >What was seen and speaks against it <Key of="against" /></legend
            >
            <div class="grid grid-cols-1 gap-y-0.5">
              {#each view.seen as s, i (s.key)}
                <label class="flex items-baseline gap-2"
                  ><input
                    type="checkbox"
                    class="flex-none self-center"
                    data-field={i === 0 ? 'seen' : undefined}
                    checked={s.is}
                    onchange={() => void it.note({ seen: { key: s.key, not: s.is } })}
                  /><span class={['min-w-0 flex-1', s.is && 'text-fault font-semibold']}>{s.name}</span><span
                    class="text-small text-soft">{leaves(s)}</span
                  ></label
                >
              {/each}
            </div>
          </fieldset>
          {#if view.given.length > 0}
            <h2 class="lead mt-4">Said and decided</h2>
            <ul aria-label="Said and decided">
              {#each view.given as g (g.id)}
                <li class="border-rule flex gap-2 border-t py-1 first:border-0">
                  <span class="min-w-0 flex-1 text-pretty"
                    >{g.says}<span class="text-small text-soft block">{day(g.at)}</span></span
                  >
                  {#if !closed}<button
                      type="button"
                      class="text-soft hover:text-fault px-1"
                      aria-label="Strike out {g.says}"
                      onclick={() => void it.strike(g.id)}>✕</button
                    >{/if}
                </li>
              {/each}
            </ul>
          {/if}
          {#if view.steps.length > 0}
            <h2 class="lead mt-4">Time so far</h2>
            <p class="text-pretty">
              {view.steps.map((s) => `${s.name} ${worked(s.minutes)}`).join(', ')}
            </p>
          {/if}
          {#if view.suspects.length > 1}
            <h2 class="lead mt-4">What it may be</h2>
            <p class="text-pretty">{view.suspects.map((s) => `${s.name} ${percent(s.share)} %`).join(', ')}</p>
          {/if}
        </Scroll>
      </section>
    </main>
  </JobFrame>
{/if}
