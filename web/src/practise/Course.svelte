<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { push } from 'svelte-spa-router';
  import { api, newId, told } from '../api/client';
  import type { TrainingLesson, TrainingView } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import Key from '../shared/Key.svelte';
  import { Kept } from '../shared/kept.svelte';
  import Nowhere from '../shared/Nowhere.svelte';
  import Page from '../shared/Page.svelte';
  import { practising } from './practising';

  const training = new Kept<TrainingView>(() => api.training());
  if (practising) void training.load();
  const toWork = 3;
  const lessons = $derived(training.view?.course ?? []);
  let chosen = $state(0); // into lessons; below it, the first that is not done
  $effect(() => {
    const at = lessons.findIndex((l) => l.done < toWork);
    chosen = at < 0 ? 0 : at;
  });
  const lesson = $derived<TrainingLesson | undefined>(lessons[chosen]);
  let trouble = $state('');
  let drawing = $state(false);

  async function draw(advice: 'shown' | 'asked') {
    if (!lesson || drawing) return;
    drawing = true;
    try {
      const { number } = await api.drawCase({
        id: newId(),
        level: lesson.level,
        ...(lesson.kind ? { kind: lesson.kind } : {}),
        ...(lesson.set ? { set: lesson.set } : {}),
        advice,
        lesson: lesson.number,
      });
      await push(`/jobs/${String(number)}/intake`);
    } catch (error) {
      trouble = told(error);
    } finally {
      drawing = false;
    }
  }
  const commands = declare({
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the lessons',
      act: (key) => (chosen = Math.min(Math.max(chosen + (key === 'ArrowDown' ? 1 : -1), 0), lessons.length - 1)),
    },
    shown: { keys: ['s'], title: 'a case of it with advice all the time', act: () => draw('shown') },
    work: { keys: ['n'], title: 'a case of it to work alone', act: () => draw('asked') },
    back: { keys: ['p'], title: 'back to the sets', act: () => push('/') },
  });
</script>

{#if !practising}
  <Nowhere title="That is for practice" text="Choose Practise on the shelf." />
{:else}
  <Page title="The course" here="Practise" {commands}>
    {#snippet actions()}
      <Button color="alternative" href="#/"><Key of="back" />Sets</Button>
    {/snippet}
    <div class="mx-auto grid max-w-6xl gap-6 px-[18px] py-4 lg:grid-cols-[minmax(0,4fr)_minmax(0,7fr)]">
      <ol class="min-w-0" aria-label="Lessons">
        {#each lessons as l, i (l.number)}
          <li>
            <button
              type="button"
              class={[
                'flex w-full items-baseline gap-2 rounded-md border-2 px-2 py-1 text-left',
                i === chosen ? 'border-ink bg-panel font-semibold' : 'border-transparent',
              ]}
              aria-pressed={i === chosen}
              onclick={() => (chosen = i)}
              ><span class="figure text-soft w-6 text-right">{l.number}</span><span class="min-w-0 flex-1"
                >{l.title}</span
              >
              <span class="figure text-soft text-small"
                >{l.done >= toWork ? '✓ worked' : l.done > 0 ? `${String(l.done)} of ${String(toWork)}` : ''}</span
              ></button
            >
          </li>
        {/each}
      </ol>
      <section class="min-w-0">
        {#if trouble || training.missing}
          <p class="border-fault text-fault mb-2 border-l-4 pl-3 font-semibold" role="alert">
            {trouble || training.missing}
          </p>
        {/if}
        {#if lesson}
          <h2 class="text-say font-semibold text-pretty" data-test="lesson">{lesson.title}</h2>
          {#each lesson.text as paragraph, i (i)}
            <p class="mt-2 max-w-prose text-lg text-pretty">{paragraph}</p>
          {/each}
          <p class="text-soft mt-4">
            {lesson.set || 'Any set'}{lesson.kind ? `: ${lesson.kind}` : ''}. One case to be shown, then {toWork} to work
            alone; {lesson.done}
            found so far.
          </p>
          <div class="mt-2 flex flex-wrap gap-2">
            <Button color="alternative" disabled={drawing} onclick={() => void draw('shown')}
              ><Key of="shown" />Be shown one</Button
            >
            <Button disabled={drawing} onclick={() => void draw('asked')}>Work one <Key of="work" /></Button>
          </div>
        {/if}
      </section>
    </div>
  </Page>
{/if}
