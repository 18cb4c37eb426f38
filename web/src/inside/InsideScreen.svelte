<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'inside',
    key: '7',
    name: 'Inside',
    order: 70,
    route: '/jobs/:number/inside',
    of: 'inside',
  };
</script>

<script lang="ts">
  import { untrack } from 'svelte';
  import { Button } from 'flowbite-svelte';
  import { push } from 'svelte-spa-router';
  import type { CircuitProposal } from '../api/types.gen';
  import { engineering } from '../shared/format';
  import { practising } from '../practise/practising';
  import JobFrame from '../shared/JobFrame.svelte';
  import RepairDialog from '../shared/RepairDialog.svelte';
  import Placed from '../board/Placed.svelte';
  import { declare, typing } from '../shared/commands';
  import Key from '../shared/Key.svelte';
  import { checking as loose } from '../shared/keys.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import CheckDialog from './CheckDialog.svelte';
  import CircuitDialog from './CircuitDialog.svelte';
  import CondemnDialog from './CondemnDialog.svelte';
  import Computed from './Computed.svelte';
  import Entry from './Entry.svelte';
  import Explained from './Explained.svelte';
  import { Inside } from './inside.svelte';
  import ProvokeDialog from './ProvokeDialog.svelte';

  let { params }: { params: { number: string } } = $props();

  const inside = $derived(new Inside(Number(params.number)));
  let field: HTMLInputElement | undefined = $state();
  let against: HTMLSelectElement | undefined = $state();
  let checking = $state(false);
  let provoking = $state(false);
  let condemning = $state(false);
  let repairing = $state(false);
  let editing = $state(false);

  let typed = $state({ part: '', kind: '', given: {} as Record<string, string> });
  function check() {
    typed = { part: inside.part, kind: inside.chosen?.checkFor || 'transistor', given: {} };
    checking = true;
  }

  $effect(() => {
    const it = inside;
    void loose.kept; // a check that was kept from outside belongs to what is seen here
    untrack(() => void it.load());
  });

  const view = $derived(inside.view);
  const looked = $derived(inside.looked);
  const closed = $derived(view?.finished !== null);
  const chosen = $derived(inside.chosen);
  const own = $derived(looked?.entries.filter((e) => !e.struck && !e.earlier) ?? []);

  const open = () => !closed && !inside.turning;
  const solved = () => open() && Boolean(looked?.circuit);
  const commands = declare({
    // While another stage is being fetched nothing here means anything.
    wait: {
      keys: ['ArrowDown', 'ArrowUp', 'ArrowRight', 'ArrowLeft', 'q', 'v', 'n'],
      title: '',
      when: () => inside.turning,
      act: () => false,
    },
    ...typing(() => field, solved, 'type a reading of what is aimed at'),
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the nodes, from the highest voltage down',
      act: (key) => inside.step(key === 'ArrowDown' ? 1 : -1),
    },
    parts: {
      keys: ['ArrowRight', 'ArrowLeft'],
      shown: '← →',
      title: 'along the parts, as the signal passes',
      act: (key) => inside.along(key === 'ArrowRight' ? 1 : -1),
    },
    what: { keys: ['q'], title: 'what is read there: DC, gain, ohms', act: () => inside.turn() },
    against: { keys: ['v'], title: 'DC and ohms against another node than ground', act: () => against?.focus() },
    next: { keys: ['n'], title: 'aim at what tells most next', act: () => inside.aimNext() },
    take: {
      keys: ['t'],
      title: practising ? 'take it: the set answers' : 'have the meter measure it; Enter logs',
      when: solved,
      act: () => inside.takeIt().then(() => (practising ? field?.blur() : field?.focus())),
    },
    check: { keys: ['c'], title: 'check a part by its own readings', when: open, act: check },
    provoke: {
      keys: ['p'],
      title: 'provoke: tap, flex, cool, heat, wiggle, work',
      when: open,
      act: () => (provoking = true),
    },
    condemn: { keys: ['k'], title: 'condemn the part', when: open, act: () => (condemning = true) },
    repair: {
      keys: ['a'],
      title: 'what was done: replaced, re-soldered, cleaned',
      when: open,
      act: () => (repairing = true),
    },
    edit: { keys: ['e'], title: 'put the circuit in, or change it', when: open, act: () => (editing = true) },
    strike: {
      keys: ['x'],
      title: 'strike out what was noted last',
      when: () => open() && own.length > 0,
      act: () => inside.strike(own.at(-1)?.id ?? ''),
    },
  });

  function take(p: CircuitProposal) {
    inside.aimAt(p);
    if (p.part !== undefined) check();
    else field?.focus();
  }
  const todo = $derived(inside.next[0]);
  /** What a reading takes, and how far it narrows down what may be wrong. */
  const costs = (p: CircuitProposal) =>
    [p.bits > 0 ? `narrows it to about ${Math.round(100 * 2 ** -p.bits)} %` : '', `${p.minutes} min`, p.needs]
      .filter(Boolean)
      .join(', ');
</script>

<svelte:window onfocus={() => void inside.load()} />

{#if inside.missing}
  <Nowhere title="This job cannot be shown" text={inside.missing} />
{:else if view && looked}
  <JobFrame head={view} here="Inside" {commands} again={() => void inside.load()}>
    <main
      class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_372px] lg:overflow-hidden"
      aria-busy={inside.turning}
    >
      <Computed {inside} {view} {looked} {closed} onedit={() => (editing = true)} />
      <section class="flex min-h-0 min-w-0 flex-col p-[10px_16px] max-lg:order-first lg:overflow-y-auto">
        <p class="lead lg:hidden">Inside {looked.stage}</p>
        {#if looked.condemned}
          <p class="border-fault bg-wash mb-2 rounded-md border-2 px-2 py-1" data-test="condemned">
            <b>{looked.condemned.part} condemned: {looked.condemned.what}.</b>
            <span class="text-small block">{looked.condemned.why.join('; ')}</span>
          </p>
        {/if}
        {#if todo && !closed}
          <h2 class="lead">{todo.bits === 0 ? 'To be sure' : 'Next'}</h2>
          <button
            type="button"
            class="text-say text-left font-semibold text-pretty hover:underline"
            data-test="inside-next"
            onclick={() => take(todo)}>{todo.sentence}</button
          >
          <p class="text-small text-soft">{costs(todo)}</p>
          {#if todo.needs !== 'power' && todo.needs !== 'signal'}
            <p class="text-small">
              <span class="text-hazard" aria-hidden="true">▲</span> Set off, mains plug out, reservoirs shown empty first.
            </p>
          {/if}
        {/if}
        {#if !todo || todo.sentence !== looked.says}
          <p
            class={['font-semibold text-pretty', todo && !closed ? 'text-name mt-2' : 'text-say']}
            data-test="inside-says"
          >
            {looked.says}
          </p>
        {/if}

        {#if looked.circuit && !closed}<Entry {inside} {looked} bind:field bind:against />{/if}
        {#if inside.trouble}<p id="trouble" class="text-fault mt-1 font-semibold" role="alert">{inside.trouble}</p>{/if}

        <Placed
          class="mt-2"
          sheet={view.sheetId}
          names={[inside.part || inside.node]}
          href="/jobs/{view.number}/pictures"
        />
        {#if chosen}
          <div class="bg-chip mt-2 rounded-md px-2 py-1.5" aria-label="Part {chosen.name}">
            <p>
              <b>{chosen.name}</b>
              {chosen.kind}
              {chosen.value}{chosen.in ? `, in ${chosen.in}` : ''}
              {#if looked.renewed.includes(chosen.name)}<span class="text-expect font-semibold">renewed</span>{/if}
            </p>
            <p class="figure text-small">
              {engineering(chosen.volts, 'V')}
              {engineering(chosen.amps, 'A')}
              <span class={chosen.tooWarm ? 'text-fault font-bold' : ''}
                >{engineering(chosen.watts, 'W')}{chosen.rated ? ` of ${engineering(chosen.rated, 'W')}` : ''}</span
              >{chosen.bias ? `, ${engineering(chosen.bias, 'V')} at its ${chosen.biasAt}` : ''}
            </p>
          </div>
        {/if}
        {#if !closed}
          <div class="mt-2 flex flex-wrap gap-1.5">
            <Button size="xs" class="px-2.5" color="alternative" onclick={check}><Key of="check" />Check</Button>
            <Button size="xs" class="px-2.5" color="alternative" onclick={() => (provoking = true)}
              ><Key of="provoke" />Provoke</Button
            >
            <Button size="xs" class="px-2.5" color="alternative" onclick={() => (condemning = true)}
              ><Key of="condemn" />Condemn</Button
            >
            <Button size="xs" class="px-2.5" color="alternative" onclick={() => (repairing = true)}
              ><Key of="repair" />Repair</Button
            >
          </div>
        {/if}

        {#if inside.next.length > 1}
          <h2 class="lead mt-3">Or</h2>
          <ol aria-label="Next">
            {#each inside.next.slice(1, 4) as p (p.sentence)}
              <li class="border-rule border-t first:border-0">
                <button type="button" class="w-full py-1 text-left hover:underline" onclick={() => take(p)}
                  >{p.sentence} <span class="text-small text-soft font-normal">{costs(p)}</span></button
                >
              </li>
            {/each}
          </ol>
        {/if}

        <Explained {inside} {looked} {closed} />
      </section>
    </main>
  </JobFrame>
  {#if checking}<CheckDialog {inside} bind:open={checking} bind:typed />{/if}
  {#if provoking}<ProvokeDialog {inside} bind:open={provoking} />{/if}
  {#if condemning}<CondemnDialog {inside} bind:open={condemning} oncondemned={() => (repairing = true)} />{/if}
  <RepairDialog
    number={inside.number}
    bind:open={repairing}
    stage={looked.stage}
    part={inside.part}
    onnoted={() => void push(`/jobs/${params.number}`)}
  />
  {#if editing}<CircuitDialog {inside} bind:open={editing} />{/if}
{/if}
