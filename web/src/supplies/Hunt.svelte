<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import type { SupplyHunt } from '../api/types.gen';
  import type { Bench } from '../bench/bench.svelte';

  /** The search for a short on a rail: what hangs on it, what to lift, millivolts along the copper. */
  let { hunt, bench, rail }: { hunt: SupplyHunt; bench: Bench; rail: string } = $props();

  const feels = [
    ['warm', 'grows warm'],
    ['cold', 'stays cold'],
  ] as const;
  let amps = $state(1);
  let feed = $state('');
  let adding = $state('');

  async function add(event: SubmitEvent) {
    event.preventDefault();
    const names = adding
      .split(/[;,]/)
      .map((n) => n.trim())
      .filter((n) => n !== '');
    if (names.length > 0 && (await bench.hang(rail, names))) adding = '';
  }

  function lift(names: string[]) {
    bench.lift(names);
    bench.aimFor(rail, 'resistance');
  }
  function toggle(name: string) {
    bench.lift(bench.without.includes(name) ? bench.without.filter((n) => n !== name) : [...bench.without, name]);
    bench.aimFor(rail, 'resistance');
  }
  function read(place: string) {
    bench.feed = { at: feed || (hunt.places[0]?.name ?? ''), amps };
    bench.aimFor(place);
  }
</script>

<div class="border-line bg-panel mt-2 rounded-md border px-3 py-2" data-test="hunt">
  <h3 class="lead">The short on {rail}</h3>
  {#if hunt.warm}<p class="text-name text-fault font-bold" data-test="warm">{hunt.warm}</p>{/if}
  {#if hunt.found}
    <p class="text-name text-fault font-bold" data-test="found">{hunt.found.sentence}</p>
  {/if}
  {#if hunt.lift}
    {@const proposal = hunt.lift}
    <p class="text-name font-semibold" data-test="lift">{proposal.sentence}</p>
    <p class="text-small text-soft">{proposal.why}; about {proposal.minutes} min.</p>
    <Button color="alternative" class="mt-1" onclick={() => lift(proposal.names)}
      >{proposal.names.join(', ')} is out: read the rail</Button
    >
  {:else}
    <p class="font-semibold">{hunt.says}</p>
  {/if}
  <p class="mt-1.5 flex flex-wrap gap-1.5" role="group" aria-label="What hangs on it">
    {#each hunt.hangs as hanging (hanging.name)}
      <button
        type="button"
        class={[
          'text-small rounded-sm border px-1.5 py-0.5',
          bench.without.includes(hanging.name)
            ? 'border-ink font-bold'
            : hanging.left
              ? 'border-fault border-dashed'
              : 'border-line text-soft line-through',
        ]}
        aria-pressed={bench.without.includes(hanging.name)}
        title={[hanging.place && `at ${hanging.place}`, hanging.behind && `behind ${hanging.behind}`]
          .filter(Boolean)
          .join(', ')}
        onclick={() => toggle(hanging.name)}>{hanging.name}{hanging.felt ? ` ${hanging.felt}` : ''}</button
      >
    {/each}
  </p>
  <form class="mt-1.5 flex flex-wrap items-center gap-2" onsubmit={add}>
    <label class="text-small text-soft flex items-center gap-2"
      >Hangs there too
      <input
        class="figure border-line bg-panel text-ink w-56 rounded-md border px-2 py-0.5"
        placeholder="C81, Q12"
        autocomplete="off"
        bind:value={adding}
      /></label
    >
    <button type="submit" class="text-small underline" disabled={bench.busy}>add to the sheet</button>
  </form>
  <h3 class="lead mt-2">Or by what grows warm, set off</h3>
  <p class="text-small">
    <span class="text-hazard" aria-hidden="true">▲</span> Discharged first. Feed a limited current into the rail from outside,
    no more volts than 2, and feel with the back of a finger or read in °C: what is shorted takes it all. What has a few milliohms
    only stays cold; then millivolts tell.
  </p>
  <div class="mt-1 flex flex-wrap items-center gap-1.5" role="group" aria-label="What grows warm">
    <label class="text-small text-soft"
      >Amperes
      <select class="border-line bg-panel text-ink rounded-md py-0.5" bind:value={amps}>
        {#each [0.1, 0.5, 1, 2, 5] as current (current)}<option value={current}>{current} A</option>{/each}
      </select></label
    >
    {#each hunt.hangs.filter((h) => h.left) as hanging (hanging.name)}
      <span class="border-line text-small flex items-center gap-1.5 rounded-sm border px-1.5 py-0.5"
        ><b>{hanging.name}</b>
        {#each feels as [felt, said] (felt)}
          <button
            type="button"
            class="underline"
            aria-label="{hanging.name} {said}"
            disabled={bench.busy}
            onclick={() => void bench.felt(rail, hanging.name, felt, amps)}>{felt}</button
          >
        {/each}
      </span>
    {/each}
  </div>
  {#if hunt.places.length > 1}
    <h3 class="lead mt-2">Or by millivolts along the copper, set off</h3>
    <p class="text-small">
      Feed a limited current in from outside, 1 A at no more than 1 V, and read each place against ground. The voltage
      stops falling where the current leaves.
    </p>
    <div class="mt-1 flex flex-wrap items-end gap-3">
      <label class="text-small text-soft"
        >Fed in at
        <select class="border-line bg-panel text-ink block rounded-md py-1 text-base" bind:value={feed}>
          {#each hunt.places as place, i (place.name)}<option value={i === 0 ? '' : place.name}>{place.label}</option
            >{/each}
        </select></label
      >
      <label class="text-small text-soft"
        >Amperes
        <select class="border-line bg-panel text-ink block rounded-md py-1 text-base" bind:value={amps}>
          {#each [0.1, 0.5, 1, 2, 5] as current (current)}<option value={current}>{current} A</option>{/each}
        </select></label
      >
      {#each hunt.places as place (place.name)}
        <button
          type="button"
          class={['rounded-md border-2 px-2 py-0.5 text-left', bench.aim === place.name ? 'border-ink' : 'border-line']}
          aria-label="Aim at {place.label}"
          onclick={() => read(place.name)}
        >
          <span class="figure block font-semibold">{place.label}</span>
          <span class="figure text-small text-soft">{place.read || 'not read'}</span>
        </button>
      {/each}
    </div>
    {#if hunt.doubt}<p class="text-small mt-1 font-semibold">{hunt.doubt}</p>{/if}
  {/if}
</div>
