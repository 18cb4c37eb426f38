<script lang="ts">
  import { Button, Textarea } from 'flowbite-svelte';
  import { push } from 'svelte-spa-router';
  import { untrack } from 'svelte';
  import { api, told } from '../api/client';
  import { Entry } from '../shared/entry';
  import type { Earlier, PatternRow, Sheeted } from '../api/types.gen';
  import { Fresh } from '../shared/fresh';
  import Options from './Options.svelte';

  /** Begins a job: what the set is in one line, what is wrong in the next. */
  interface Props {
    /** A sheet that is meant already. */
    sheet?: number;
  }
  let { sheet = 0 }: Props = $props();

  type Choice =
    | { of: 'sheet'; key: string; sheet: Sheeted }
    | { of: 'job'; key: string; job: Earlier }
    | { of: 'pattern'; key: string; pattern: PatternRow };

  let set = $state('');
  let complaint = $state('');
  let trouble = $state('');
  let busy = $state(false);
  let choices = $state.raw<Choice[]>([]);
  let at = $state(0);
  let taken = $state.raw<Choice | null>(null);
  let chosen = $state<Record<string, string>>({});
  let complaintAt: HTMLTextAreaElement | undefined = $state();
  let setAt: HTMLInputElement | undefined = $state();
  const fresh = new Fresh();
  const meant = $derived(taken ?? choices[at] ?? null);
  const named = (c: Choice) => (c.of === 'sheet' ? c.sheet.named : c.of === 'job' && c.job.named);
  const name = (c: Choice) => (c.of === 'sheet' ? c.sheet.name : c.of === 'job' ? c.job.set : c.pattern.name);

  async function look(words: string) {
    try {
      const got = await fresh.last(() => api.begin({ q: words }));
      if (got === undefined) return;
      const here: Choice[] = [
        ...got.sheets.map((sheet): Choice => ({ of: 'sheet', key: `s${sheet.id}`, sheet })),
        ...got.jobs.map((job): Choice => ({ of: 'job', key: `j${job.number}`, job })),
      ];
      const patterns = words.trim() ? got.patterns : [];
      const usual = (known: boolean) =>
        patterns
          .filter((p) => (p.group !== 'unknown') === known)
          .map((pattern): Choice => ({ of: 'pattern', key: pattern.name, pattern }));
      // A name means that set; where only its kind was said, the sheet of one model is not meant before what is usual.
      choices = [...here.filter(named), ...usual(true), ...here.filter((c) => !named(c)), ...usual(false)];
      at = 0;
      trouble = '';
    } catch (error) {
      trouble = told(error);
    }
  }
  $effect(() => {
    const id = untrack(() => sheet);
    setAt?.focus();
    if (id === 0) return;
    api.sheet(String(id)).then(
      ({ tables: t, check }) => {
        const name = `${t.maker} ${t.model}`.trim();
        take({
          of: 'sheet',
          key: `s${id}`,
          sheet: { id, name, kind: t.kind, blocked: check.blocked, jobs: 0, named: true },
        });
      },
      (error: unknown) => (trouble = told(error)),
    );
  });

  function take(choice: Choice | null) {
    if (!choice) return;
    taken = choice;
    chosen = choice.of === 'pattern' ? { ...choice.pattern.chosen } : {};
    if (choice.of !== 'pattern') set = name(choice);
    complaintAt?.focus();
  }
  function typed(words: string) {
    set = words;
    taken = null;
    void look(words);
  }
  function keys(event: KeyboardEvent) {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      taken = null;
      at = Math.min(Math.max(at + (event.key === 'ArrowDown' ? 1 : -1), 0), Math.max(choices.length - 1, 0));
    } else if (event.key === 'Enter') take(meant);
    else if (event.key === 'Escape') setAt?.blur();
    else return;
    event.preventDefault();
  }

  const entry = new Entry();
  async function open() {
    if (busy) return;
    if (!meant) {
      trouble = 'Say what the set is first; anything will do, and the nearest is offered.';
      setAt?.focus();
      return;
    }
    busy = true;
    try {
      const job = {
        complaint,
        ...(meant.of === 'sheet' && { sheet: meant.sheet.id }),
        ...(meant.of === 'job' && { like: meant.job.number }),
        ...(meant.of === 'pattern' && {
          pattern: meant.pattern.name,
          chosen: taken ? chosen : meant.pattern.chosen,
          set,
        }),
      };
      const { number } = await api.openJob({ id: entry.idOf(job), ...job });
      entry.done();
      await push(`/jobs/${number}/intake`);
    } catch (error) {
      trouble = told(error);
    } finally {
      busy = false;
    }
  }
</script>

<form
  class="flex flex-col gap-4"
  onsubmit={(e) => {
    e.preventDefault();
    void open();
  }}
>
  {#if trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
  <div>
    <label class="lead" for="set">What is it?</label>
    <input
      id="set"
      bind:this={setAt}
      class="border-line bg-panel focus:border-measured text-say mt-1 h-14 w-full rounded-md border-2 px-3 font-semibold focus:ring-0"
      autocomplete="off"
      role="combobox"
      aria-expanded={choices.length > 0 && !taken}
      aria-controls="beginnings"
      aria-activedescendant={meant ? `begin-${meant.key}` : undefined}
      placeholder="stereo amplifier, flat tv, the maker and model: in your own words"
      value={set}
      oninput={(e) => typed(e.currentTarget.value)}
      onkeydown={keys}
    />
    {#if !taken && choices.length > 0}
      <ul
        id="beginnings"
        role="listbox"
        aria-label="What it may be"
        class="border-line bg-panel mt-1 rounded-md border"
      >
        {#each choices as c, i (c.key)}
          <li role="option" id="begin-{c.key}" aria-selected={i === at} class="border-rule border-t first:border-0">
            <button
              type="button"
              tabindex="-1"
              disabled={c.of === 'sheet' && c.sheet.blocked}
              class={[
                'flex w-full flex-wrap items-baseline gap-x-3 px-3 py-2 text-left',
                i === at ? 'bg-wash' : 'hover:bg-ground',
              ]}
              onclick={() => take(c)}
            >
              <b>{name(c)}</b>
              <span class="text-soft">
                {#if c.of === 'sheet'}your sheet{c.sheet.kind ? `, ${c.sheet.kind}` : ''}{c.sheet.blocked
                    ? ': needs mending'
                    : ''}
                {:else if c.of === 'job'}as in job {c.job.number}: “{c.job.complaint}”
                {:else if c.pattern.group === 'unknown'}nothing is known of it: divided as it is traced
                {:else}what is usual in such a set{/if}
              </span>
            </button>
          </li>
        {/each}
      </ul>
    {/if}
    {#if taken}
      <p class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <span>
          {#if taken.of === 'pattern'}Begins with what is usual in a <b>{taken.pattern.name}</b>.
          {:else if taken.of === 'job'}Begins with the sheet of job {taken.job.number}.
          {:else}Begins with your sheet.{/if}
        </span>
        {#if taken.of === 'pattern'}<Options pattern={taken.pattern} bind:chosen />{/if}
      </p>
    {/if}
  </div>
  <div>
    <label class="lead" for="complaint">What is wrong?</label>
    <Textarea
      id="complaint"
      bind:elementRef={complaintAt}
      class="bg-panel dark:bg-panel mt-1 w-full text-base"
      rows={2}
      bind:value={complaint}
      placeholder="left side dead since yesterday"
      onbeforeinput={(e: InputEvent) => {
        // The Enter that led here is no line of the complaint.
        if (complaint === '' && e.inputType === 'insertLineBreak') e.preventDefault();
      }}
      onkeydown={(e) => {
        if (e.key === 'Escape') e.currentTarget.blur();
        if (e.key !== 'Enter' || e.shiftKey) return;
        e.preventDefault();
        void open();
      }}
    />
  </div>
  <div class="flex flex-wrap items-center gap-3">
    <Button type="submit" disabled={busy}>Open the job</Button>
    <span class="text-soft text-small">Enter goes on, Shift + Enter is a new line.</span>
  </div>
</form>
