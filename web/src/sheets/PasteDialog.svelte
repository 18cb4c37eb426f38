<script lang="ts">
  import { Button, Textarea } from 'flowbite-svelte';
  import { api, told } from '../api/client';
  import type { SheetView, Table } from '../api/types.gen';
  import Modal from '../shared/Modal.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import { counted } from '../shared/format';
  import type { SheetDraft } from './sheet.svelte';

  /** A whole sheet as text: what may stand in it, and what was understood before it is taken over. */
  interface Props {
    draft: SheetDraft;
    open: boolean;
  }
  let { draft, open = $bindable() }: Props = $props();

  let text = $state('');
  let wrong = $state('');
  let view = $state.raw<SheetView | null>(null);
  let copied = $state(false);

  const tables = $derived(draft.tables?.tables ?? []);
  // A spreadsheet's own separator: a tab goes into columns when it is pasted there.
  const template = $derived(
    `model\t\n\n${tables.map((t) => t.columns.map((c) => c.name).join('\t')).join('\n\n\n')}\n`,
  );
  const example = [
    'point, stage, gain, ac, frequency, dc, needs',
    'IN, , , 2 mV, 1 kHz',
    'Q2 c, first stage, 34 dB, 100 mV, , 9.2 V, +12 V',
    '',
    'rail, value, rectifier',
    '+12 V, 12 V, bridge D1 to D4',
  ].join('\n');

  // What it comes to is there as it is typed or pasted.
  $effect(() => {
    const asked = text;
    if (asked.trim() === '') {
      view = null;
      wrong = '';
      return;
    }
    let stale = false;
    const timer = setTimeout(() => {
      api.readTable(asked).then(
        (v) => {
          if (stale) return;
          view = v;
          wrong = '';
        },
        (error: unknown) => {
          if (stale) return;
          view = null;
          wrong = told(error);
        },
      );
    }, 200);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  });

  const filled = (t: Table) => t.rows.filter((cells) => cells.some((c) => c !== '')).length;
  const used = (t: Table) => t.columns.filter((_, k) => t.rows.some((cells) => (cells[k] ?? '') !== ''));
  const understood = $derived((view?.tables.tables ?? []).filter((t) => filled(t) > 0));

  async function copy() {
    await navigator.clipboard.writeText(template);
    copied = true;
  }
  async function onsubmit(event: SubmitEvent) {
    event.preventDefault();
    await draft.read(text); // as it stands now, which may be newer than what was understood last
    if (draft.trouble) return;
    open = false;
    text = '';
  }
</script>

<Modal title="Paste a table" bind:open size="xl">
  <form class="text-ink grid gap-4 lg:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)]" {onsubmit}>
    <div class="flex min-w-0 flex-col gap-2">
      <Textarea class="figure w-full" rows={11} bind:value={text} aria-label="Table" placeholder={example} />
      {#if wrong}<p class="text-fault font-semibold" role="alert">{wrong}</p>{/if}
      {#if draft.trouble && draft.trouble !== wrong}<p class="text-fault font-semibold" role="alert">
          {draft.trouble}
        </p>{/if}
      {#if view}
        <div class="border-expect max-h-[22vh] overflow-y-auto border-l-4 pl-3" data-test="understood">
          {#each understood as t (t.name)}
            <p>
              <b>{t.title}: {counted(filled(t), 'row')}</b>
              <span class="text-small text-soft"
                >by {used(t)
                  .map((c) => c.title)
                  .join(', ')}</span
              >
            </p>
          {:else}
            <p>No row of any table yet.</p>
          {/each}
          {#each view.check.problems.slice(0, 8) as p, i (i)}
            <p class="text-small">
              <b class={p.severity === 'error' ? 'text-fault' : ''}>{p.severity === 'error' ? 'Mend' : 'Doubtful'}</b>
              {p.line ? `line ${p.line}, ` : ''}{p.where}: {p.message}
            </p>
          {/each}
          {#if view.check.problems.length > 8}<p class="text-small">And {view.check.problems.length - 8} more.</p>{/if}
        </div>
      {/if}
      <div class="flex justify-end gap-3">
        <Button color="alternative" type="button" onclick={() => (open = false)}>Cancel</Button>
        <Button type="submit" disabled={text.trim() === ''}>Take it over</Button>
      </div>
    </div>
    <div class="flex min-h-0 min-w-0 flex-col gap-1">
      <p>
        From a spreadsheet or a text. The first row of each table names its columns, in any order; an empty line, and
        the next table begins. Each point comes with the stage that leads to it from the row above.
      </p>
      <p class="text-small">
        <button type="button" class="underline" onclick={() => void copy()}
          >{copied ? 'Copied: paste it into a spreadsheet' : 'Copy an empty template'}</button
        >,
        <a
          class="underline"
          download="sheet-template.tsv"
          href="data:text/tab-separated-values;charset=utf-8,{encodeURIComponent(template)}">download it</a
        >
      </p>
      <div class="text-small flex max-h-[46vh] min-h-0 flex-col" data-test="columns">
        <Scroll>
          {#each tables as t (t.name)}
            <h3 class="lead mt-2">{t.title}</h3>
            <dl class="grid grid-cols-[max-content_minmax(0,1fr)] gap-x-3">
              {#each t.columns as c (c.name)}
                <dt class="figure">{c.name}</dt>
                <dd class="text-soft">{c.title}{c.hint ? `: ${c.hint.replaceAll('\n', '; ')}` : ''}</dd>
              {/each}
            </dl>
          {/each}
        </Scroll>
      </div>
    </div>
  </form>
</Modal>
