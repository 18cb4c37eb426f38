<script lang="ts">
  import Key from '../shared/Key.svelte';
  import { Button } from 'flowbite-svelte';
  import { link } from 'svelte-spa-router';
  import type { Ground } from '../api/types.gen';
  import Placed from '../board/Placed.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import Grounds from './Grounds.svelte';
  import Sentence from './Sentence.svelte';
  import type { Bench } from './bench.svelte';

  interface Props {
    bench: Bench;
    onfinish: () => void;
    onways: () => void;
    onrepair: () => void;
    onprovoke: (place: string, act: string) => void;
    onwaive: (ground: Ground) => void;
  }

  let { bench, onfinish, onways, onrepair, onprovoke, onwaive }: Props = $props();

  let more = $state(false); // on a phone the facts open by a tap

  const findings = $derived(bench.findings);
  const title = $derived.by(() => {
    if (findings?.state === 'named') return 'Found';
    if (findings?.state === 'repaired') return 'Repaired';
    if (findings?.state === 'verifying') return 'After the repair';
    return bench.next ? 'Next probe' : 'Where it stands';
  });
  const next = $derived(bench.next);
  const view = $derived(bench.view);
  const way = $derived(findings?.ways.find((w) => w.way === view?.way));
  const offers = $derived((view?.offers ?? []).filter((o) => o.fits).slice(0, 2));
</script>

<section class="border-line flex min-h-0 min-w-0 flex-col lg:border-r" aria-live="polite">
  <Scroll class="p-[14px_18px]">
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
        {title}
        {#if next && way && findings.state !== 'verifying'}
          <button type="button" class="ml-2 font-normal" onclick={onways}
            ><Key of="way" /> <span class="underline decoration-dotted">{way.name}</span></button
          >
        {/if}
      </h2>
      {#if next}
        <p class="text-say mt-1 font-semibold text-pretty" data-test="next">
          <Sentence spans={next.sentence} />
        </p>
      {:else}
        <p
          class={[
            'text-say mt-1 font-semibold text-pretty',
            (findings.state === 'named' || findings.line !== '') && 'text-fault',
            findings.state === 'repaired' && 'text-expect',
          ]}
          data-test="headline"
        >
          {findings.headline}
        </p>
      {/if}
      {#if findings.state === 'repaired'}
        <ul class="mt-2 space-y-1">
          {#each view?.repairs.filter((r) => r.repair && !r.struck) ?? [] as repair (repair.id)}<li>
              {repair.says}.
            </li>{/each}
        </ul>
      {/if}
      {#each findings.notices as notice (notice)}
        <p class="border-fault text-fault mt-2 border-l-4 pl-3 font-semibold">{notice}</p>
      {/each}
      {#each findings.manual as error (error.text)}
        <p class="border-measured mt-2 border-l-4 pl-3" data-test="manual"><b>The sheet?</b> {error.text}</p>
      {/each}
      {#if next}
        {#if view}
          <Placed
            class="mt-2 lg:float-right lg:mb-1 lg:ml-3 lg:w-[210px]"
            sheet={view.sheetId}
            revision={view.revision}
            names={[next.point]}
            href="/jobs/{view.number}/pictures"
          />
        {/if}
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
      {#if next?.quantity === 'provocation'}
        <Button
          type="button"
          class="mt-2"
          onclick={() => onprovoke(next.point, next.sentence[0]?.text.trim().toLowerCase() ?? '')}
          >Take down what came of it <Key of="provoke" /></Button
        >
      {/if}
      {#if next && ['conflict', 'clean', 'source', 'verifying'].includes(findings.state)}
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
        <Grounds
          {bench}
          title={findings.condemned ? 'On these grounds' : 'To be shown before it is condemned'}
          label="Grounds"
          grounds={findings.grounds}
          {onprovoke}
          onwaive={findings.stage === '' ? undefined : onwaive}
        />
      {/if}
    {/if}
  </Scroll>
  {#if view?.finished === null && view.notDone !== ''}
    <div class="border-line flex flex-none flex-wrap items-center gap-2 border-t p-[8px_18px]">
      <span class="min-w-0 flex-1 text-pretty">It is not repaired: {view.notDone}</span>
      <Button type="button" onclick={onfinish}>Finish the job <Key of="finish" /></Button>
    </div>
  {:else if findings && view?.finished === null && ['named', 'supply', 'clean', 'repaired'].includes(findings.state)}
    <div class="border-line flex flex-none flex-wrap items-center gap-2 border-t p-[8px_18px]">
      {#if findings.state === 'named'}
        <a class="mr-1 font-semibold underline" use:link href="/jobs/{view.number}/inside"
          >Look inside it <Key to="inside" /></a
        >
      {:else if findings.rails.some((r) => r.name === findings.line)}
        <a class="mr-1 font-semibold underline" use:link href="/jobs/{view.number}/supplies"
          >What holds it down, what feeds it <Key to="supplies" /></a
        >
      {/if}
      {#if ['named', 'supply'].includes(findings.state)}
        <Button type="button" onclick={onrepair}>What was done <Key of="repair" /></Button>
      {/if}
      {#if findings.state !== 'supply'}
        <Button type="button" color={findings.state === 'named' ? 'alternative' : undefined} onclick={onfinish}>
          Finish the job <Key of="finish" />
        </Button>
      {/if}
    </div>
  {/if}
</section>
