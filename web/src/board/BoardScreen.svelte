<script module lang="ts">
  import type { Place } from '../shared/views';

  export const place: Place = {
    id: 'board',
    key: 'p',
    aside: true,
    name: 'Pictures',
    order: 55,
    route: '/jobs/:number/pictures',
  };
</script>

<script lang="ts">
  import { push } from 'svelte-spa-router';
  import { api } from '../api/client';
  import { Bench } from '../bench/bench.svelte';
  import Dialogs from '../bench/Dialogs.svelte';
  import { readingKeys } from '../bench/keys';
  import ProvokeDialog from '../bench/ProvokeDialog.svelte';
  import ReadingPanel from '../bench/ReadingPanel.svelte';
  import Sentence from '../bench/Sentence.svelte';
  import type { Judged } from '../api/types.gen';
  import { declare, typing } from '../shared/commands';
  import JobFrame from '../shared/JobFrame.svelte';
  import Key from '../shared/Key.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import type Large from './Large.svelte';
  import Pictured from './Pictured.svelte';
  import PlacePanel from './PlacePanel.svelte';
  import Where from './Where.svelte';
  import { Pictures } from './board.svelte';
  import { pictureKeys } from './keys';
  import { seen } from './turn';

  let { params }: { params: { number: string } } = $props();

  const number = $derived(Number(params.number));
  const bench = $derived(new Bench(number));
  const pictures = $derived.by(() => {
    const of = number;
    return new Pictures(() => api.jobBoard(of), true);
  });
  let field: HTMLInputElement | undefined = $state();
  let large: Large | undefined = $state();
  let desk: Pictured | undefined = $state();
  let striking = $state.raw<Judged | null>(null);
  let tapping = $state(false); // the next click says where it was tapped
  let provoked = $state({ place: '', act: 'tap' });
  let provoking = $state(false);

  const view = $derived(bench.view);
  const open = () => view?.finished === null;

  $effect(() => void bench.load());
  $effect(() => void bench.loadTools());
  // How places stand follows from what was read.
  $effect(() => {
    void bench.view;
    void pictures.load();
  });
  // The picture that shows what is aimed at.
  let aimed = '';
  $effect(() => {
    if (!pictures.board || bench.aim === aimed || bench.aim === '') return;
    aimed = bench.aim;
    pictures.show(bench.aim);
  });

  const spots = $derived(new Set((view?.spots ?? []).map((s) => s.name)));
  function picked(name: string) {
    if (tapping) provoke(name);
    else if (spots.has(name)) bench.aimFor(name);
  }
  const provokable = $derived(new Set(bench.provokable));
  function provoke(name: string) {
    if (!provokable.has(name)) return;
    tapping = false;
    provoked = { place: name, act: 'tap' };
    provoking = true;
  }
  /** It was tapped somewhere: the nearest pin that a reading can speak of. */
  function clicked(x: number, y: number) {
    const picture = pictures.picture;
    if (!tapping || !picture) return;
    const [u, v] = seen(picture, x, y);
    const shape = (picture.height || 3) / (picture.width || 4);
    const far = (p: { x: number; y: number }) => {
      const [a, b] = seen(picture, p.x, p.y);
      return Math.hypot(a - u, (b - v) * shape);
    };
    const near = pictures.pins.filter((p) => provokable.has(p.is)).sort((a, b) => far(a) - far(b))[0];
    if (near) provoke(near.is);
    else pictures.trouble = 'No stage, point or supply is pinned on this picture: place pins first.';
  }
  const commands = declare({
    ...pictureKeys(
      () => pictures,
      () => large,
      () => desk,
    ),
    ...typing(() => field, open, 'type a reading at the aimed point', 'type a word'),
    along: {
      keys: ['ArrowLeft', 'ArrowRight'],
      shown: '← →',
      title: 'aim along the route',
      act: (key) => bench.step(key === 'ArrowLeft' ? -1 : 1),
    },
    ...readingKeys(() => bench, open),
    tap: {
      keys: ['p'],
      title: 'tapped, flexed, cooled: click where',
      when: open,
      act: () => (tapping = !tapping),
    },
    bench: { keys: ['P'], title: 'back to the bench', act: () => void push(`/jobs/${number}`) },
  });
  const next = $derived(bench.next);
</script>

<svelte:window onfocus={() => void bench.load()} />

{#if bench.missing || pictures.missing}
  <Nowhere title="This job cannot be shown" text={bench.missing || pictures.missing} />
{:else if view && pictures.board}
  <JobFrame head={view} here="Pictures" {commands} again={() => void bench.load()}>
    <main
      class="grid min-h-0 lg:grid-cols-[minmax(0,1fr)_400px] lg:grid-rows-[minmax(0,1fr)] lg:overflow-hidden"
      data-test="board"
    >
      <Pictured
        bind:this={desk}
        bind:large
        {pictures}
        invites={{ job: number }}
        aim={pictures.placing ? '' : bench.aim}
        next={next?.point ?? ''}
        does={next?.purpose === 'touch' ? 'touch here' : 'probe here'}
        along={bench.points.map((p) => p.name)}
        {spots}
        onpin={picked}
        onclicked={clicked}
      />
      <!-- Held over the chassis, a phone shows where to probe first. -->
      <div
        class={[
          'border-line flex min-h-0 min-w-0 flex-col lg:border-l',
          !pictures.placing && pictures.picture !== null && 'max-lg:order-first',
        ]}
      >
        {#if pictures.placing}
          <PlacePanel {pictures} onreplace={() => desk?.choose(true)} onlarger={(by) => large?.larger(by)} />
        {:else}
          <section class="flex-none p-[14px_18px_8px]" aria-live="polite">
            {#if tapping}
              <p class="border-measured mb-2 border-l-4 pl-3 font-semibold" role="status">
                Click where it was tapped, flexed or cooled.
              </p>
            {/if}
            <h2 class="lead">{next ? 'Next probe, where it is' : 'Where it stands'}</h2>
            {#if next}
              {#if !pictures.board.places.some((p) => p.name === next.point) && pictures.picture}
                <p class="text-soft mt-1">
                  {next.point} has no pin yet.
                  <button
                    type="button"
                    class="underline"
                    onclick={() => {
                      pictures.ask(next.point);
                      pictures.placing = true;
                    }}>Place it <Key of="place" /></button
                  >
                </p>
              {/if}
              <div class="mt-1"><Where board={pictures.board} names={[next.point]} height={140} /></div>
              <p class="text-name mt-2 font-semibold text-pretty" data-test="next">
                <Sentence spans={next.sentence} />
              </p>
              {#each next.facts.filter((f) => f.label === 'Mind') as fact (fact.text)}
                <p class="mt-1 font-semibold">
                  <span class="text-hazard mr-1" aria-hidden="true">▲</span>{fact.text}
                </p>
              {/each}
            {:else}
              <p class="text-name mt-1 font-semibold" data-test="headline">{bench.findings?.headline}</p>
            {/if}
            <p class="mt-2 flex flex-wrap gap-x-4 gap-y-1">
              <button
                type="button"
                class="underline disabled:no-underline disabled:opacity-50"
                disabled={!pictures.picture}
                onclick={() => (pictures.placing = true)}>mark places <Key of="place" /></button
              >
              <button
                type="button"
                class="underline disabled:no-underline disabled:opacity-50"
                aria-pressed={tapping}
                disabled={!pictures.picture || !open()}
                onclick={() => (tapping = !tapping)}>tapped here <Key of="tap" /></button
              >
              <a class="underline" href="#/jobs/{number}">bench <Key of="bench" /></a>
            </p>
          </section>
          <ReadingPanel {bench} bind:field onstrike={(reading) => (striking = reading)} />
        {/if}
      </div>
    </main>
  </JobFrame>
  <Dialogs {bench} injecting={false} finishing={false} bind:striking />
  {#if provoking}<ProvokeDialog {bench} bind:open={provoking} at={provoked} />{/if}
{/if}
