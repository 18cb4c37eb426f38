<script lang="ts">
  import { untrack } from 'svelte';
  import { Button, Kbd, Select } from 'flowbite-svelte';
  import { push } from 'svelte-spa-router';
  import type { CircuitProposal } from '../api/types.gen';
  import { engineering, percent, signed, when } from '../shared/format';
  import JobFrame from '../shared/JobFrame.svelte';
  import RepairDialog from '../shared/RepairDialog.svelte';
  import { typeFirst } from '../shared/keys.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import CheckDialog from './CheckDialog.svelte';
  import CircuitDialog from './CircuitDialog.svelte';
  import CondemnDialog from './CondemnDialog.svelte';
  import Figure from './Figure.svelte';
  import { Inside, whats } from './inside.svelte';
  import ProvokeDialog from './ProvokeDialog.svelte';
  import WavePlot from './WavePlot.svelte';

  let { params }: { params: { number: string } } = $props();

  const inside = $derived(new Inside(Number(params.number)));
  let field: HTMLInputElement | undefined = $state();
  let against: HTMLSelectElement | undefined = $state();
  let checking = $state(false);
  let provoking = $state(false);
  let condemning = $state(false);
  let repairing = $state(false);
  let editing = $state(false);
  let tall = $state(800); // the window

  $effect(() => {
    const it = inside;
    untrack(() => void it.load());
  });

  const view = $derived(inside.view);
  const looked = $derived(inside.looked);
  const closed = $derived(view?.finished !== null);
  const chosen = $derived(inside.chosen);
  const own = $derived(looked?.entries.filter((e) => !e.struck && !e.earlier) ?? []);

  function onkey(event: KeyboardEvent): boolean {
    if (inside.turning) return false;
    const typing = closed || !looked?.circuit ? '' : typeFirst(event, field);
    if (typing !== '') return typing === 'open';
    switch (event.key) {
      case 'ArrowDown':
        inside.step(1);
        break;
      case 'ArrowUp':
        inside.step(-1);
        break;
      case 'ArrowRight':
        inside.along(1);
        break;
      case 'ArrowLeft':
        inside.along(-1);
        break;
      case 'q':
        inside.turn();
        break;
      case 'v':
        against?.focus();
        break;
      case 'n':
        inside.aimNext();
        break;
      case 't':
        if (closed || !looked?.circuit) return false;
        void inside.takeIt().then(() => field?.focus());
        break;
      case 'c':
        checking = !closed;
        break;
      case 'p':
        provoking = !closed;
        break;
      case 'k':
        condemning = !closed;
        break;
      case 'a':
        repairing = !closed;
        break;
      case 'e':
        editing = !closed;
        break;
      case 'x': {
        const last = own[own.length - 1];
        if (closed || !last) return false;
        void inside.strike(last.id);
        break;
      }
      default:
        return false;
    }
    return true;
  }
  const keys = [
    { keys: '0 to 9', does: 'type a reading of what is aimed at' },
    { keys: '↑ ↓', does: 'along the nodes, from the highest voltage down' },
    { keys: '← →', does: 'along the parts, as the signal passes' },
    { keys: 'q', does: 'what is read there: DC, gain, ohms' },
    { keys: 'v', does: 'DC and ohms against another node than ground' },
    { keys: 'n', does: 'aim at what tells most next' },
    { keys: 't', does: 'have the meter measure it; Enter logs' },
    { keys: 'c', does: 'check a part by its own readings' },
    { keys: 'p', does: 'provoke: tap, flex, cool, heat, wiggle, work' },
    { keys: 'k', does: 'condemn the part' },
    { keys: 'a', does: 'what was done: replaced, re-soldered, cleaned' },
    { keys: 'e', does: 'put the circuit in, or change it' },
    { keys: 'x', does: 'strike out what was noted last' },
  ];

  function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    if (inside.text.trim() !== '') void inside.log().then((done) => (done ? field?.blur() : field?.focus()));
  }
  function take(p: CircuitProposal) {
    inside.aimAt(p);
    if (p.part !== undefined) checking = true;
    else field?.focus();
  }
  const todo = $derived(inside.next[0]);
  /** What a reading takes, and how far it narrows down what may be wrong. */
  const costs = (p: CircuitProposal) =>
    [p.bits > 0 ? `narrows it to about ${Math.round(100 * 2 ** -p.bits)} %` : '', `${p.minutes} min`, p.needs]
      .filter(Boolean)
      .join(', ');
  const hertz = (x: number | undefined) => (x === undefined || x === 0 ? '–' : engineering(x, 'Hz'));
</script>

<svelte:window bind:innerHeight={tall} onfocus={() => void inside.load()} />

{#if inside.missing}
  <Nowhere title="This job cannot be shown" text={inside.missing} />
{:else if view && looked}
  <JobFrame head={view} here="Inside" {keys} {onkey} onpower={() => void inside.load()}>
    <main
      class="grid min-h-0 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_372px] lg:overflow-hidden"
      aria-busy={inside.turning}
    >
      <section class="border-line flex min-w-0 flex-col p-[10px_14px] lg:overflow-y-auto lg:border-r">
        <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
          <label class="flex items-center gap-2">
            <span class="lead">Inside</span>
            <Select
              placeholder=""
              class="w-60 py-1"
              aria-label="Stage"
              value={looked.stage}
              onchange={(e) => void inside.load((e.currentTarget as HTMLSelectElement).value)}
            >
              {#each view.stages as s (s.stage)}
                <option value={s.stage}
                  >{s.stage}{s.belief > 0.005 ? `, ${percent(s.belief)} %` : ''}{s.circuit
                    ? ''
                    : ' (no circuit)'}</option
                >
              {/each}
            </Select>
          </label>
          <Button size="xs" color="alternative" disabled={closed} onclick={() => (editing = true)}
            ><Kbd>e</Kbd>{looked.circuit ? 'Parts' : 'Put the circuit in'}</Button
          >
          {#if looked.gain}
            {@const g = looked.gain}
            <p aria-label="Gain">
              <span class="lead">Gain at {hertz(g.hz)}</span>
              {#if g.measured !== undefined}
                <b class={['text-name', g.off ? 'text-fault' : 'text-measured']}
                  >{g.off ? (g.measured > g.computed ? '▴ ' : '▾ ') : ''}<span class="figure">{signed(g.measured)}</span
                  > dB</b
                > read,
              {/if}
              <span class="text-expect"><span class="figure">{signed(g.computed)}</span> dB computed</span
              >{#if g.manual !== undefined}<span class="text-soft"
                  >, <span class="figure">{signed(g.manual)}</span> dB by the manual</span
                >{/if}
              <span class="text-small text-soft"
                >{g.low > 0 || g.high > 0
                  ? `−3 dB ${g.low > 0 ? `at ${hertz(g.low)}` : ''}${g.low > 0 && g.high > 0 ? ' and ' : ''}${g.high > 0 ? `at ${hertz(g.high)}` : ''}`
                  : ''}</span
              >
            </p>
          {/if}
        </div>
        {#if looked.doubt}
          <p class="border-hazard bg-panel text-small mt-1 rounded-md border-l-4 px-2 py-1" role="status">
            <b>{looked.doubt.says}</b>
            {#each looked.doubt.asIf.slice(0, 3) as a (a.part)}
              It would fit if {a.part} were {a.value} ({a.was} here).
            {/each}
            {#if looked.doubt.asIf.length === 0 && looked.doubt.parts.length > 0}
              Compare {looked.doubt.parts.slice(0, 5).join(', ')} with the board.
            {/if}
          </p>
        {/if}
        {#each looked.problems as p, i (i)}
          <p class="text-fault font-semibold"><b>{p.where}:</b> {p.message}</p>
        {/each}
        {#if looked.circuit}
          <div class="mt-1"><Figure {inside} height={tall - (inside.wave ? 400 : 230)} /></div>
          <p class="text-small text-soft mt-1">
            On the left a true scale of volts: <span class="text-expect font-semibold">computed</span>,
            <span class="text-measured font-semibold">read</span>, hatched where they part. Below each part its current
            and how far it is suspect.
          </p>
          {#if inside.wave}<WavePlot wave={inside.wave} />{/if}
        {:else if looked.problems.length === 0}
          <p class="mt-6 max-w-prose">
            Put in its parts: begin from a family of circuits and change the values, or paste a table. Parts can be
            checked and provoked without one.
          </p>
        {/if}
        {#if looked.follows.length > 0}
          <h2 class="lead mt-3">What it follows</h2>
          <ul aria-label="Follows">
            {#each looked.follows.slice(0, 4) as f (f.place)}
              <li class="border-rule grid grid-cols-[52px_minmax(0,1fr)] border-t py-1 first:border-0">
                <span class="figure text-weight font-semibold">{percent(f.weight)}</span>
                <span><b>{f.place}</b>, {f.cause}: {f.says}</span>
              </li>
            {/each}
          </ul>
        {/if}
      </section>

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

        {#if looked.circuit && !closed}
          <form class="mt-2" {onsubmit}>
            <label for="entry" class="lead flex flex-wrap items-baseline gap-2">
              <b class="text-ink text-name">{inside.node || inside.part}</b>
              <button type="button" class="underline decoration-dotted" onclick={() => inside.turn()}
                >{inside.whatName} <Kbd>q</Kbd></button
              >
              {#if inside.against}
                <span class="ml-auto flex items-baseline gap-1.5"
                  >against <Kbd>v</Kbd>
                  <select
                    class="border-line bg-panel text-small rounded-sm py-0 ps-1 pe-6"
                    aria-label="Against"
                    bind:this={against}
                    bind:value={inside.to}
                    onchange={() => field?.focus()}
                  >
                    <option value="">ground</option>
                    {#each looked.figure.lines.filter((l) => !l.ground && l.node !== inside.node) as l (l.node)}
                      <option value={l.node}>{l.node}</option>
                    {/each}
                  </select></span
                >
              {/if}
            </label>
            <div class="mt-1 flex gap-2">
              <input
                id="entry"
                bind:this={field}
                bind:value={inside.text}
                class="figure text-entry border-line bg-panel min-w-0 flex-1 rounded-md border-2 px-3 py-1"
                autocomplete="off"
                placeholder={inside.what === 'gain'
                  ? '28 dB'
                  : inside.what === 'shape'
                    ? 'clipped on top'
                    : inside.what === 'checked'
                      ? 'good, bad'
                      : '1.2'}
                aria-describedby="trouble"
              />
              {#if inside.what === 'shape'}
                <input
                  class="figure border-line bg-panel w-20 rounded-md border-2 px-2"
                  aria-label="driven by"
                  bind:value={inside.drive}
                />
              {/if}
              {#if inside.what === 'gain' || inside.what === 'shape'}
                <input
                  class="figure border-line bg-panel w-20 rounded-md border-2 px-2"
                  aria-label="at frequency"
                  bind:value={inside.hz}
                />
              {/if}
              <Button type="submit" disabled={inside.busy}>Log</Button>
            </div>
          </form>
        {/if}
        {#if inside.trouble}<p id="trouble" class="text-fault mt-1 font-semibold" role="alert">{inside.trouble}</p>{/if}

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
              >{chosen.bias
                ? `, ${engineering(chosen.bias, 'V')} at its ${['npn', 'pnp'].includes(chosen.kind) ? 'base' : 'gate'}`
                : ''}
            </p>
          </div>
        {/if}
        {#if !closed}
          <div class="mt-2 flex flex-wrap gap-1.5">
            <Button size="xs" class="px-2.5" color="alternative" onclick={() => (checking = true)}
              ><Kbd>c</Kbd>Check</Button
            >
            <Button size="xs" class="px-2.5" color="alternative" onclick={() => (provoking = true)}
              ><Kbd>p</Kbd>Provoke</Button
            >
            <Button size="xs" class="px-2.5" color="alternative" onclick={() => (condemning = true)}
              ><Kbd>k</Kbd>Condemn</Button
            >
            <Button size="xs" class="px-2.5" color="alternative" onclick={() => (repairing = true)}
              ><Kbd>a</Kbd>Repair</Button
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

        {#if inside.ranked.length > 0 && (looked.readings.length > 0 || own.some((e) => e.check))}
          <h2 class="lead mt-3">What would explain it</h2>
          <ul aria-label="Explanations">
            {#each inside.ranked as r, i (r.says)}
              <li class="border-rule grid grid-cols-[46px_minmax(0,1fr)] gap-x-2.5 border-t py-1 first:border-0">
                <span class="figure text-weight font-semibold">{percent(r.weight)}</span>
                <div class="min-w-0">
                  <button
                    type="button"
                    class="text-left hover:underline"
                    aria-expanded={i === inside.shown}
                    onclick={() => (inside.shown = i)}>{r.says}</button
                  >
                  {#if i > 0 && r.group === inside.ranked[0]?.group}
                    <span class="text-small text-soft block">these readings cannot tell it from the first</span>
                  {/if}
                  {#if i === inside.shown && looked.readings.length > 0}
                    <table class="text-small mt-0.5 w-full">
                      <thead
                        ><tr class="text-soft"
                          ><td></td><td class="text-right">read</td><td class="text-right">it would be</td></tr
                        ></thead
                      >
                      <tbody>
                        {#each looked.readings as reading, k (k)}
                          <tr
                            ><td class="truncate">{whats[reading.what].split(',')[0]} {reading.node ?? reading.part}</td
                            >
                            <td class="figure text-measured text-right">{reading.text}</td>
                            <td class="figure text-expect text-right">{r.shows[k]}</td></tr
                          >
                        {/each}
                      </tbody>
                    </table>
                  {/if}
                </div>
              </li>
            {/each}
          </ul>
        {/if}
        {#each looked.diagnosis?.asIf.slice(0, 3) ?? [] as a (a.part)}
          <p class="text-small border-rule border-t py-1">
            It reads as if <b>{a.part}</b> were <b class="figure">{a.value}</b>, not {a.was}.
            {#if a.fitted}A {a.nearest} may have been fitted there: read its marking.{:else}Nearest sold: {a.nearest}.{/if}
          </p>
        {/each}
        {#if looked.entries.length > 0 || looked.readings.some((r) => r.bench)}
          <h2 class="lead mt-3">Noted</h2>
          <ul class="text-small" aria-label="Noted">
            {#each looked.readings.filter((r) => r.bench) as r (r.id + r.what)}
              <li class="border-rule border-t py-0.5 first:border-0">
                {whats[r.what].split(',')[0]}
                {r.node}: <b class="figure">{r.text}</b>, from the bench
              </li>
            {/each}
            {#each looked.entries.toReversed() as e (e.id)}
              <li
                class={[
                  'border-rule border-t py-0.5',
                  (e.struck || e.earlier) && 'text-soft',
                  e.struck && 'line-through',
                ]}
              >
                {e.says} <span class="text-soft">{when(e.at)}{e.earlier ? ', before the repair' : ''}</span>
                {#if !e.struck && !closed && !e.earlier}<button
                    type="button"
                    class="underline"
                    aria-label="Strike out {e.says}"
                    onclick={() => void inside.strike(e.id)}>strike</button
                  >{/if}
              </li>
            {/each}
          </ul>
        {/if}
      </section>
    </main>
  </JobFrame>
  {#if checking}<CheckDialog {inside} bind:open={checking} />{/if}
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
