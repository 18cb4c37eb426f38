<script lang="ts">
  import { practising } from '../practise/practising';
  import { saidOf, type Intake } from './intake.svelte';

  let { intake, closed }: { intake: Intake; closed: boolean } = $props();

  const matrix = $derived(intake.view?.matrix ?? null);
  const noteOf = (name: string) => matrix?.entries.find((e) => e.name === name)?.note ?? '';
  const modes = $derived(new Set(matrix?.rows.map((r) => r.mode)).size > 1);
  const most = $derived(Math.max(...(matrix?.rows ?? []).flatMap((r) => r.cells.map((c) => c.bits)), 1e-9));
</script>

{#if matrix}
  <div class="max-h-full overflow-auto">
    <table class="border-separate border-spacing-1">
      <thead>
        <tr>
          <th class="lead px-1 text-left align-bottom">Fed with</th>
          {#each matrix.exits as exit (exit.name)}
            <th class="px-1 text-left align-bottom font-semibold">
              <span class="figure block">{exit.name}</span>
              <span class="text-small text-soft block max-w-32 truncate font-normal" title={exit.note}>{exit.note}</span
              >
            </th>
          {/each}
        </tr>
      </thead>
      <tbody>
        {#each matrix.rows as row, r (`${row.mode}|${row.entry}|${row.without.join()}`)}
          <tr>
            <th class="max-w-56 px-1 text-left leading-tight font-normal">
              <span class="figure font-semibold">{row.entry}</span>
              {#if modes}<span class="text-measured font-semibold"> {row.mode}</span>{/if}
              {#if row.without.length > 0}
                <span class="text-small block">a good one for {row.without.join(', ')}</span>
              {:else}
                <span class="text-small text-soft block truncate" title={noteOf(row.entry)}>{noteOf(row.entry)}</span>
              {/if}
            </th>
            {#each row.cells as cell, c (cell.exit)}
              <td class="p-0">
                {#if cell.there}
                  {@const best = matrix.best?.row === r && matrix.best.cell === c}
                  <button
                    type="button"
                    class={[
                      'bg-panel flex h-11 w-36 items-center gap-1.5 rounded-md border-2 px-2 text-left',
                      intake.row === r && intake.cell === c ? 'border-ink' : best ? 'border-measured' : 'border-line',
                      cell.mark === 'none' && 'bg-wash',
                    ]}
                    aria-pressed={intake.row === r && intake.cell === c}
                    aria-label="{row.entry} {row.mode} to {cell.exit}: {cell.mark === ''
                      ? 'not tried'
                      : saidOf(cell.mark)}"
                    onclick={() => ([intake.row, intake.cell] = [r, c])}
                  >
                    {#if cell.mark === 'ok'}
                      <svg width="16" height="14" aria-hidden="true"
                        ><path d="M2 7l4 5 9-11" fill="none" class="stroke-expect" stroke-width="2.4" /></svg
                      ><span>works</span>
                    {:else if cell.mark === 'weak' || cell.mark === 'partly' || cell.mark === 'cuts out'}
                      <svg width="16" height="14" aria-hidden="true"
                        ><path
                          d={cell.mark === 'weak'
                            ? 'M1 9q3.5-5 7-1t7-1'
                            : cell.mark === 'partly'
                              ? 'M1 9q3.5-8 7-2'
                              : 'M1 9q2-6 3.5-2M7 7q1-3 2-1M12 7q1.5 2 3-2'}
                          fill="none"
                          class="stroke-fault"
                          stroke-width="2.4"
                        /></svg
                      ><b class="text-fault whitespace-nowrap">{saidOf(cell.mark)}</b>
                    {:else if cell.mark === 'none'}
                      <svg width="16" height="14" aria-hidden="true"
                        ><path d="M3 2l10 10M13 2L3 12" fill="none" class="stroke-fault" stroke-width="2.4" /></svg
                      ><b class="text-fault">nothing</b>
                    {:else if closed || (practising && matrix.left.length === 0)}
                      <span class="text-soft">not tried</span>
                    {:else}
                      {@const tells = cell.bits > 1e-9}
                      <span class="bg-chip h-1.5 w-9 flex-none rounded-full" title="how much it would tell"
                        ><span class="bg-measured block h-full rounded-full" style:width="{(100 * cell.bits) / most}%"
                        ></span></span
                      >
                      <span class={['text-small text-soft min-w-0', cell.was ? 'leading-tight' : 'whitespace-nowrap']}
                        >{cell.was
                          ? `before: ${saidOf(cell.was)}`
                          : tells
                            ? `clears ${cell.clears.length}`
                            : 'tells nothing'}</span
                      >
                    {/if}
                  </button>
                {/if}
              </td>
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
{/if}
