<script lang="ts">
  import { Button, Kbd } from 'flowbite-svelte';
  import { link } from 'svelte-spa-router';
  import type { Ground } from '../api/types.gen';
  import type { Bench } from './bench.svelte';

  interface Props {
    bench: Bench;
    onfinish: () => void;
    onways: () => void;
    onwaive: (ground: Ground) => void;
  }

  let { bench, onfinish, onways, onwaive }: Props = $props();

  let more = $state(false); // on a phone the facts open by a tap

  const findings = $derived(bench.findings);
  const next = $derived(bench.next);
  const view = $derived(bench.view);
  const way = $derived(findings?.ways.find((w) => w.way === view?.way));
  const offers = $derived((view?.offers ?? []).filter((o) => o.fits).slice(0, 2));
</script>

<section class="border-line min-w-0 p-[14px_18px] lg:overflow-y-auto lg:border-r" aria-live="polite">
  {#if view?.finished}
    <h2 class="lead">Finished</h2>
    <p class="text-say mt-1 font-semibold text-pretty">{view.outcome}</p>
    {#if view.stage}<p class="mt-2">Found in <b>{view.stage}</b>.</p>{/if}
    <Button color="alternative" type="button" class="mt-3" onclick={() => bench.reopen()}>Back on the bench</Button>
  {:else if findings}
    {#each offers as offer (offer.stage + offer.what)}
      <p class="border-measured mb-2 border-l-4 pl-3" data-test="offer">
        <b>Cheap check first: {offer.check || offer.what}.</b>
        {offer.stage}, {offer.what}; {offer.says}.
        {#if offer.point}
          <button type="button" class="underline decoration-dotted" onclick={() => bench.aimFor(offer.point)}
            >Aim at {offer.point}</button
          >
        {/if}
      </p>
    {/each}
    <h2 class="lead">
      {findings.state === 'named' ? 'Found' : next ? 'Next probe' : 'Where it stands'}
      {#if next && way}
        <button type="button" class="ml-2 font-normal" onclick={onways}
          ><Kbd>h</Kbd> <span class="underline decoration-dotted">{way.name}</span></button
        >
      {/if}
    </h2>
    {#if next}
      <p class="text-say mt-1 font-semibold text-pretty" data-test="next">
        {#each next.sentence as span, i (i)}<span
            class={[span.mark !== '' && 'text-measured whitespace-nowrap', span.mark === 'value' && 'figure']}
            >{span.text}</span
          >{/each}
      </p>
    {:else}
      <p
        class={['text-say mt-1 font-semibold text-pretty', findings.state === 'named' && 'text-fault']}
        data-test="headline"
      >
        {findings.headline}
      </p>
    {/if}
    {#each findings.notices as notice (notice)}
      <p class="border-fault text-fault mt-2 border-l-4 pl-3 font-semibold">{notice}</p>
    {/each}
    {#each findings.manual as error (error.text)}
      <p class="border-measured mt-2 border-l-4 pl-3" data-test="manual"><b>The sheet?</b> {error.text}</p>
    {/each}
    {#if next}
      <dl class="mt-2 grid grid-cols-[max-content_1fr] gap-x-3.5 gap-y-0.5">
        {#each next.facts as fact (fact.label)}
          {@const mind = fact.label === 'Mind'}
          <dt class={[mind ? 'text-ink font-semibold' : 'text-soft', !mind && !more && 'max-lg:hidden']}>
            {fact.label}
          </dt>
          <dd class={[mind && 'font-semibold', !mind && !more && 'max-lg:hidden']}>
            {#if mind}<span class="text-hazard mr-1" aria-hidden="true">▲</span>{/if}{fact.text}
          </dd>
        {/each}
      </dl>
      <button type="button" class="text-measured mt-1 underline lg:hidden" onclick={() => (more = !more)}>
        {more ? 'Less' : 'How, with what, and why here'}
      </button>
    {/if}
    {#if next && ['conflict', 'clean', 'source'].includes(findings.state)}
      <p class="mt-2 font-semibold">{findings.headline}</p>
    {/if}
    {#if next === null || ['conflict', 'clean'].includes(findings.state)}
      <ul class="mt-2 space-y-1">
        {#each findings.reasons as reason (reason)}<li>{reason}</li>{/each}
      </ul>
    {/if}
    {#if findings.goTo && view?.finished === null}
      <Button
        type="button"
        class="mt-3"
        onclick={() => bench.set({ route: findings.goTo, at: '', level: '', frequency: '' })}
        >Go on with {view.routes.find((r) => r.key === findings.goTo)?.name ?? 'that route'}</Button
      >
    {/if}
    {#if findings.grounds.length > 0}
      <h3 class="lead mt-3">{findings.condemned ? 'On these grounds' : 'To be shown before it is condemned'}</h3>
      <ul class="mt-1 space-y-0.5" aria-label="Grounds">
        {#each findings.grounds as ground (ground.key)}
          <li class="grid grid-cols-[18px_minmax(0,1fr)_auto] items-baseline gap-x-1.5">
            <span
              class={ground.proof === 'against' ? 'text-fault font-bold' : 'text-expect font-bold'}
              aria-hidden="true">{{ shown: '✓', waived: '–', against: '✕', missing: '' }[ground.proof]}</span
            >
            {#if ground.proof === 'missing'}
              <button
                type="button"
                class="text-left underline decoration-dotted disabled:no-underline"
                disabled={ground.point === ''}
                onclick={() => bench.aimForGround(ground)}>{ground.text}</button
              >
              {#if findings.stage && view?.finished === null}
                <button
                  type="button"
                  class="text-small text-soft underline"
                  aria-label="Do without: {ground.text}"
                  onclick={() => onwaive(ground)}>do without</button
                >
              {/if}
            {:else}
              <span class={ground.proof === 'against' ? 'text-fault' : 'text-soft'}
                >{ground.text}:
                <span class="text-small">{ground.proof === 'waived' ? 'waived, ' : ''}{ground.because}.</span></span
              >
            {/if}
          </li>
        {/each}
      </ul>
    {/if}
    {#if findings.state === 'named' && view?.finished === null}
      <a class="mt-3 mr-2 inline-block font-semibold underline" use:link href="/jobs/{view.number}/inside"
        >Look inside it <Kbd>g 7</Kbd></a
      >
    {/if}
    {#if findings.state === 'named' || findings.state === 'clean'}
      <Button type="button" class="mt-3" onclick={onfinish}>
        Finish the job <span class="figure opacity-70">f</span>
      </Button>
    {/if}
  {/if}
</section>
