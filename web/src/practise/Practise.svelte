<script lang="ts">
  import { Button, Kbd, Select } from 'flowbite-svelte';
  import { link, push, replace, router } from 'svelte-spa-router';
  import { api, newId, told } from '../api/client';
  import type { TrainingView, Wish } from '../api/types.gen';
  import { declare } from '../shared/commands';
  import FileButton from '../shared/FileButton.svelte';
  import Key from '../shared/Key.svelte';
  import { Kept } from '../shared/kept.svelte';
  import Page from '../shared/Page.svelte';
  import Tallied from './Tallied.svelte';
  import { clock } from './words';

  const training = new Kept<TrainingView>(() => api.training());
  void training.load();
  const view = $derived(training.view);

  const levels: { key: string; level: Wish['level']; says: string }[] = [
    { key: '1', level: 'first steps', says: 'one fault, few stages' },
    { key: '2', level: 'usual', says: 'any one fault' },
    { key: '3', level: 'long', says: 'many stages, or it comes and goes' },
    { key: '4', level: 'hard', says: 'two faults, or an error in the manual' },
  ];
  const advices: { advice: NonNullable<Wish['advice']>; says: string }[] = [
    { advice: 'asked', says: 'when asked, at a price' },
    { advice: 'hidden', says: 'none, as without Step Trace' },
    { advice: 'shown', says: 'all the time' },
  ];
  let level: Wish['level'] = $state('first steps');
  let advice: NonNullable<Wish['advice']> = $state('asked');
  let kind = $state('');
  let set = $state('');
  let drawing = $state(false);
  let trouble = $state('');
  let list: HTMLElement | undefined = $state();

  async function draw() {
    if (drawing) return;
    drawing = true;
    trouble = '';
    try {
      const [, of, number_] = /^(sheet|job) (\d+)$/.exec(set) ?? [];
      const wish: Wish = { id: newId(), level, advice };
      if (kind) wish.kind = kind as NonNullable<Wish['kind']>;
      if (of === 'sheet') wish.sheet = Number(number_);
      else if (of === 'job') wish.job = Number(number_);
      else if (set) wish.set = set;
      const { number } = await api.drawCase(wish);
      await push(`/jobs/${String(number)}/intake`);
    } catch (error) {
      trouble = told(error);
    } finally {
      drawing = false;
    }
  }
  function move(by: number) {
    const links = [...(list?.querySelectorAll<HTMLElement>('a[data-case]') ?? [])];
    const from = links.findIndex((a) => a === document.activeElement);
    links[Math.min(Math.max(from + by, 0), links.length - 1)]?.focus();
  }
  // A finished job of the workshop, from its own pages: drawn at once.
  const own = new URLSearchParams(router.querystring).get('job');
  if (own) {
    set = `job ${own}`;
    void replace('/').then(draw);
  }
  const commands = declare({
    level: {
      keys: levels.map((l) => l.key),
      shown: '1 to 4',
      title: 'how hard',
      act: (key) => (level = levels.find((l) => l.key === key)?.level ?? level),
    },
    advice: {
      keys: ['a'],
      title: 'advice: when asked, none, all the time',
      act: () =>
        (advice = advices[(advices.findIndex((a) => a.advice === advice) + 1) % advices.length]?.advice ?? advice),
    },
    draw: { keys: ['n'], title: 'draw a set', act: () => draw() },
    course: { keys: ['c'], title: 'the course, a dozen lessons', act: () => push('/course') },
    class: { keys: ['r'], title: 'results of a class, for its teacher', act: () => push('/class') },
    quick: { keys: ['q'], title: 'a quick one, of two minutes', act: () => push('/quick') },
    along: {
      keys: ['ArrowDown', 'ArrowUp'],
      shown: '↑ ↓',
      title: 'along the sets; Enter opens one',
      act: (key) => move(key === 'ArrowDown' ? 1 : -1),
    },
  });
  const kinds = $derived([{ value: '', name: 'any' }, ...(view?.kinds ?? []).map((k) => ({ value: k, name: k }))]);
  async function take(file: File) {
    try {
      const { number } = await api.importCase(file);
      await push(`/jobs/${String(number)}/intake`);
    } catch (error) {
      trouble = `${file.name}: ${told(error)}`;
    }
  }
  const sets = $derived([
    { value: '', name: 'any' },
    ...(view?.jobs ?? []).map((j) => ({
      value: `job ${String(j.number)}`,
      name: `No. ${String(j.number)} again: ${j.set}`,
    })),
    ...(view?.sheets ?? []).map((s) => ({ value: `sheet ${String(s.id)}`, name: `${s.name}, of the workshop` })),
    ...(view?.sets ?? []).map((s) => ({ value: s, name: s })),
  ]);
</script>

<Page title="Practise" here="Practise" {commands}>
  {#snippet actions()}
    <Button color="alternative" href="#/course"><Key of="course" />Course</Button>
    <Button color="alternative" href="#/quick"><Key of="quick" />A quick one</Button>
    <Button color="alternative" href="#/class"><Key of="class" />A class</Button>
    <FileButton accept=".json,application/json" onfile={take}>Take in a case</FileButton>
  {/snippet}
  <div class="mx-auto grid max-w-6xl gap-6 px-[18px] py-4 lg:grid-cols-[minmax(0,5fr)_minmax(0,6fr)]">
    <section>
      <h2 class="text-say font-semibold">A set comes in, with something wrong with it.</h2>
      <p class="text-soft mt-1 max-w-prose text-pretty">
        It is simulated, its owner tells what they noticed, and it is worked on through the screens of real work.
        Nothing of it comes near the workshop's jobs.
      </p>
      <div class="mt-3 grid gap-1.5" role="radiogroup" aria-label="How hard">
        {#each levels as l (l.level)}
          <button
            type="button"
            role="radio"
            aria-checked={level === l.level}
            class={[
              'bg-panel flex items-baseline gap-2 rounded-md border-2 px-3 py-1.5 text-left',
              level === l.level ? 'border-ink' : 'border-line text-soft',
            ]}
            onclick={() => (level = l.level)}
            ><Kbd>{l.key}</Kbd><b>{l.level.slice(0, 1).toUpperCase() + l.level.slice(1)}</b><span>{l.says}</span
            ></button
          >
        {/each}
      </div>
      <div class="mt-3 grid grid-cols-[auto_minmax(0,1fr)] items-center gap-x-3 gap-y-2">
        <label for="kind" class="text-soft">What is wrong</label>
        <Select id="kind" size="sm" items={kinds} placeholder="" bind:value={kind} />
        <label for="set" class="text-soft">The set</label>
        <Select id="set" size="sm" items={sets} placeholder="" bind:value={set} />
        <span class="text-soft">Advice <Key of="advice" /></span>
        <span class="flex flex-wrap gap-1.5" role="radiogroup" aria-label="Advice">
          {#each advices as a (a.advice)}
            <button
              type="button"
              role="radio"
              aria-checked={advice === a.advice}
              class={[
                'rounded-md border-2 px-2 py-0.5',
                advice === a.advice ? 'border-ink font-semibold' : 'border-line',
              ]}
              onclick={() => (advice = a.advice)}>{a.says}</button
            >
          {/each}
        </span>
      </div>
      {#if trouble || training.missing}
        <p class="border-fault text-fault mt-3 border-l-4 pl-3 font-semibold" role="alert">
          {trouble || training.missing}
        </p>
      {/if}
      <p class="mt-4"><Button disabled={drawing} onclick={() => void draw()}>Draw a set <Key of="draw" /></Button></p>
    </section>
    <section bind:this={list} class="min-w-0">
      {#if view && view.steps.length > 0}<Tallied stands={view.stands} steps={view.steps} />{/if}
      <h2 class="lead">Sets drawn before</h2>
      {#if view?.cases.length === 0}
        <p class="text-soft mt-1">None yet.</p>
      {/if}
      <ul class="border-line bg-panel mt-1 border-y empty:hidden" aria-label="Cases">
        {#each view?.cases ?? [] as c (c.number)}
          <li class="border-rule border-t first:border-0">
            <a
              use:link
              data-case={c.number}
              href={c.ended ? `/jobs/${String(c.number)}/review` : `/jobs/${String(c.number)}`}
              class="hover:bg-ground grid grid-cols-[minmax(0,1fr)_auto] items-baseline gap-x-4 px-4 py-2"
            >
              <span class="min-w-0"
                ><b>{c.set}</b> <span class="text-soft">{c.level}</span>
                <span class="block">“{c.complaint}”</span></span
              >
              <span class="text-right"
                >{#if c.ended}<span
                    class={c.found === c.faults ? 'text-expect font-semibold' : 'text-fault font-semibold'}
                    >{c.found === c.faults
                      ? 'found'
                      : c.found > 0
                        ? `${String(c.found)} of ${String(c.faults)}`
                        : 'not found'}</span
                  >{:else}<span class="font-semibold">open</span>{/if}
                <span class="figure text-soft block">{clock(c.minutes)}</span></span
              >
            </a>
          </li>
        {/each}
      </ul>
    </section>
  </div>
</Page>
