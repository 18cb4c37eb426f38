<script lang="ts">
  import Key from '../shared/Key.svelte';
  import type { Ground } from '../api/types.gen';
  import Grounds from './Grounds.svelte';
  import type { Bench } from './bench.svelte';
  import { percent } from '../shared/format';
  import Scroll from '../shared/Scroll.svelte';

  interface Props {
    bench: Bench;
    onmap: () => void;
    ongrow: () => void;
    onprovoke: (place: string, act: string) => void;
    onwaive: (ground: Ground) => void;
  }
  let { bench, onmap, ongrow, onprovoke, onwaive }: Props = $props();

  const findings = $derived(bench.findings);
  const suspects = $derived(
    (findings?.stages ?? [])
      .filter((s) => s.standing === 'suspect' || s.standing === 'faulty')
      .sort((a, b) => b.weight - a.weight), // the likeliest on top; of equals in the order of the route
  );
  // Supplies and controls may be at fault as well: their share stands with the stages'.
  const lines = $derived([
    ...(findings?.rails ?? []).map((l) => ({ name: l.name, kind: 'rail', weight: l.weight })),
    ...(findings?.controls ?? []).map((l) => ({ name: l.name, kind: 'control', weight: l.weight })),
  ]);
  const rows = $derived(
    [
      ...suspects.map((s) => ({ name: s.name, kind: '', weight: s.weight, stage: s })),
      ...(suspects.length > 0 || findings?.state === 'supply' ? lines.filter((l) => l.weight >= 0.005) : []).map(
        (l) => ({ ...l, stage: undefined }),
      ),
    ].sort((a, b) => b.weight - a.weight),
  );
  const cleared = $derived((findings?.stages ?? []).filter((s) => s.standing === 'cleared').map((s) => s.name));
  let shown: string | null = $state(null); // the stage whose reasons are open; null: the likeliest
  const open = $derived(suspects.find((s) => s.name === shown) ?? suspects[0]);
  const verifying = $derived(findings?.state === 'verifying' || findings?.state === 'repaired');
  const title = $derived.by(() => {
    if (findings?.state === 'named') return 'At fault';
    if (verifying) return 'To be right after the repair';
    const n = suspects.length;
    return n === 0 ? 'Suspects' : `Suspects, ${n} ${n === 1 ? 'stage' : 'stages'}`;
  });

  const factor = (times: number) => `×${times < 9.95 ? times.toFixed(1) : Math.round(Math.min(times, 9999))}`;
  // A set of one route has no more to show than the step chart.
  const mapped = $derived((bench.view?.routes.length ?? 0) > 1);
</script>

<section class="flex min-h-0 min-w-0 flex-col p-[14px_18px]">
  <div class="flex items-baseline gap-3">
    <h2 class="lead">{title}</h2>
    <span class="ml-auto flex flex-wrap justify-end gap-x-3">
      {#if bench.view?.finished === null}
        <button type="button" class="text-small text-soft" onclick={ongrow}
          ><Key of="grow" /> <span class="underline decoration-dotted">change the sheet</span></button
        >
      {/if}
      {#if mapped}
        <button type="button" class="text-small text-soft" onclick={onmap}
          ><Key of="map" /> <span class="underline decoration-dotted">map</span></button
        >
      {/if}
    </span>
  </div>
  <Scroll>
    {#if verifying && findings}
      <Grounds {bench} title="" label="Verified" grounds={findings.verify} {onprovoke} {onwaive} />
    {:else}
      <ul class="mt-1" aria-label="Suspects">
        {#each rows as row (row.kind + row.name)}
          <li>
            <button
              type="button"
              class={[
                'grid w-full grid-cols-[40px_64px_minmax(0,1fr)] items-center gap-x-2.5 py-0.5 text-left',
                row.stage && row.stage === open && suspects.length > 1 && 'font-semibold',
              ]}
              aria-expanded={row.stage ? row.stage === open : undefined}
              onclick={() => (row.stage ? (shown = row.name) : bench.aimFor(row.name))}
            >
              <span class="figure text-weight font-semibold" aria-label="{percent(row.weight)} per cent"
                >{percent(row.weight)}</span
              >
              <svg width="64" height="10" aria-hidden="true">
                <rect x="0.5" y="0.5" width="63" height="9" fill="none" class="stroke-line" />
                <rect width={64 * row.weight} height="10" class="fill-fault" opacity="0.8" />
              </svg>
              <span class="truncate hover:underline"
                >{#if row.kind}<span class="text-small text-soft">{row.kind}&nbsp;</span>{/if}{row.name}</span
              >
            </button>
          </li>
        {:else}
          <li class="text-soft py-1">
            {findings?.stages.length === 0
              ? 'No supply or control was read bad.'
              : findings?.stages.every((s) => s.standing === 'open')
                ? 'Which is suspect is for you to judge.'
                : 'No stage of this route is suspect.'}
          </li>
        {/each}
      </ul>
    {/if}
    {#if open}
      <div class="border-rule mt-1 border-t pt-1" aria-label="Why {open.name}">
        <p class="text-small text-soft">
          {#if suspects.length > 1}<b class="text-ink">{open.name}:&nbsp;</b>{/if}{open.reasons.join('; ')}
        </p>
        {#each open.speaks as speak, i (i)}
          <p class="text-small grid grid-cols-[84px_1fr] gap-x-1.5" data-test="speaks">
            <span class={['whitespace-nowrap', speak.for ? 'text-fault font-semibold' : 'text-expect font-semibold']}
              >{speak.for ? 'for' : 'against'} <span class="figure">{factor(speak.times)}</span></span
            >
            <span>{speak.text}</span>
          </p>
        {/each}
      </div>
    {/if}
    {#if !verifying && (findings?.verify.length ?? 0) > 0}
      <Grounds
        {bench}
        title="To be right after the repair"
        label="Verified"
        grounds={findings?.verify ?? []}
        {onprovoke}
        {onwaive}
      />
    {/if}
    {#if cleared.length > 0 && !verifying}
      <p class="border-rule text-small text-soft mt-1 border-t pt-1.5">
        <span class="text-expect font-semibold">✓ Cleared:</span>
        {cleared.join(', ')}
      </p>
    {/if}
  </Scroll>
  {#if mapped}
    <!-- Where there is room for it below the suspects. -->
    <div class="hidden flex-none [@media(min-height:920px)]:block">
      {#await import('./SetMap.svelte') then { default: SetMap }}
        {#await import('./map') then { small }}
          <button
            type="button"
            class="border-line bg-panel hover:border-ink mt-1 h-[84px] w-full rounded-md border p-1"
            aria-label="The map of the whole set"
            onclick={onmap}
          >
            <SetMap stages={findings?.map ?? []} size={small} named={false} />
          </button>
        {/await}
      {/await}
    </div>
  {/if}
</section>
