<script lang="ts">
  import type { PointFinding, StageFinding } from '../api/types.gen';
  import { percent, signed } from '../shared/format';
  import { gutter, layOut, marks, ribbon, staircase } from './chart';

  interface Props {
    points: PointFinding[];
    stages: StageFinding[];
    /** Position of the aimed point, of the proposed one; -1 for none. */
    aim?: number;
    next?: number;
    /** What is done at the proposed one. */
    does?: string;
    /** Height of the plot in pixels. */
    plot?: number;
    /** Suspicion is drawn while tracing, not while a sheet is written. */
    tracing?: boolean;
    onaim?: (at: number) => void;
  }
  let { points, stages, aim = -1, next = -1, does = 'probe here', plot = 246, tracing = true, onaim }: Props = $props();

  let outer = $state(1280);
  let scroller: HTMLElement | undefined = $state();

  const top = 38;
  const layout = $derived(layOut(points, outer, top, plot - 8));
  const read = $derived(marks(points, layout));
  const drawn = $derived(read.filter((m) => m.drawn));
  const suspects = $derived(
    stages.flatMap((s, i) => (tracing && (s.standing === 'suspect' || s.standing === 'faulty') ? [i] : [])),
  );
  const wash = $derived.by(() => {
    const first = suspects[0];
    const last = suspects.at(-1);
    if (first === undefined || last === undefined) return null;
    const x = layout.left(first + 1) - layout.step * 0.42;
    return { x, width: layout.left(last + 1) + layout.step * 0.42 - x };
  });
  const summary = $derived(
    points
      .map((p) => `${p.name} ${p.expected || 'no level known'}${p.verdict ? `, ${p.verdict} ${p.off}` : ''}`)
      .join('; '),
  );

  // The aimed point stays in sight when the route is wider than the screen.
  $effect(() => {
    if (scroller && aim >= 0) scroller.scrollTo({ left: layout.middle(aim) - outer / 2 });
  });
</script>

<div class="relative" bind:clientWidth={outer}>
  <div class="overflow-x-auto overflow-y-hidden" bind:this={scroller}>
    <div class="relative" style:width="{layout.width}px">
      <svg width={layout.width} height={plot} role="img" aria-label="Step chart: {summary}">
        <defs>
          <pattern id="hatch" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <line y2="7" class="stroke-fault" stroke-width="2.4" opacity="0.75" />
          </pattern>
        </defs>
        {#each layout.ticks as tick (tick)}
          <line
            x1={gutter}
            x2={layout.left(points.length)}
            y1={layout.y(tick)}
            y2={layout.y(tick)}
            class="stroke-rule"
          />
        {/each}
        {#if wash}
          <rect x={wash.x} y={top - 4} width={wash.width} height={plot - top - 4} class="fill-wash" />
        {/if}
        <path d={ribbon(points, layout, false)} class="fill-ribbon" />
        <path
          d={ribbon(points, layout, true)}
          class="fill-ribbon stroke-expect"
          fill-opacity="0.45"
          stroke-opacity="0.35"
          stroke-dasharray="2 6"
        >
          <title>what is usual in such sets: far off is bad, the rest says little</title>
        </path>
        <path
          d={staircase(points, layout)}
          fill="none"
          class="stroke-expect"
          stroke-width="1.5"
          stroke-dasharray="6 5"
          stroke-opacity="0.7"
        />
        <path
          d={staircase(points, layout, true)}
          fill="none"
          class="stroke-expect"
          stroke-width="2.5"
          stroke-linejoin="round"
        />
        {#each points as point, at (at)}
          {#if point.beforeDBV !== null}
            <line
              x1={layout.left(at) + 12}
              x2={layout.left(at + 1) - 12}
              y1={layout.y(point.beforeDBV)}
              y2={layout.y(point.beforeDBV)}
              class="stroke-measured"
              stroke-width="2"
              stroke-dasharray="2 5"
              opacity="0.7"
            >
              <title>before the repair</title>
            </line>
          {/if}
        {/each}
        {#each drawn as mark, k (mark.at)}
          {@const before = drawn[k - 1]}
          {#if before}
            <line
              x1={layout.left(before.at + 1) - 12}
              y1={before.y}
              x2={layout.left(mark.at) + 12}
              y2={mark.y}
              class="stroke-measured"
              stroke-width="2"
              stroke-dasharray="3 6"
            />
          {/if}
        {/each}
        {#each read as mark (mark.at)}
          {@const middle = layout.middle(mark.at)}
          {#if mark.bad && mark.expectedY !== null && Math.abs(mark.y - mark.expectedY) > 3}
            <rect
              x={middle - 13}
              y={Math.min(mark.y, mark.expectedY)}
              width="26"
              height={Math.abs(mark.y - mark.expectedY)}
              fill="url(#hatch)"
            />
          {/if}
          {#if mark.drawn}
            <line
              x1={layout.left(mark.at) + 10}
              x2={layout.left(mark.at + 1) - 10}
              y1={mark.y}
              y2={mark.y}
              class="stroke-measured"
              stroke-width="5"
              stroke-linecap="round"
            />
          {/if}
          {#if mark.bad}
            <text
              x={middle - 20}
              y={!mark.drawn
                ? mark.y + 24
                : mark.expectedY === null || Math.abs(mark.y - mark.expectedY) < 24
                  ? mark.y - 12
                  : (mark.y + mark.expectedY) / 2 + 7}
              text-anchor="end"
              class="figure fill-fault stroke-panel text-weight font-bold [paint-order:stroke]"
              stroke-width="5">{mark.text}</text
            >
          {/if}
        {/each}
        {#if next >= 0}
          {@const x = layout.middle(next)}
          {@const way = x + 110 > layout.width ? -1 : 1}
          <line x1={x} x2={x} y1={top - 12} y2={plot} class="stroke-ink" stroke-width="2" />
          <path d="M{x} {top - 14}h{way * 102}l{way * -10} 12 {way * 10} 12h{way * -102}z" class="fill-ink" />
          <text x={x + way * 10} y={top + 3} text-anchor={way > 0 ? 'start' : 'end'} class="fill-panel font-semibold"
            >{does}</text
          >
        {/if}
        <line x1={gutter} x2={layout.width - 20} y1={plot - 0.5} y2={plot - 0.5} class="stroke-line" />
      </svg>
      <div class="flex" style:padding-left="{gutter}px">
        {#each points as point, i (i)}
          <button
            type="button"
            class={[
              'mt-1 flex-none overflow-hidden rounded-md border-2 px-1 py-0.5 text-center',
              i === aim ? 'border-ink' : 'hover:border-line border-transparent',
              !point.driven && 'opacity-60',
            ]}
            style:width="{layout.step}px"
            aria-pressed={i === aim}
            aria-label="Aim at {point.name}, {point.note}"
            onclick={() => onaim?.(i)}
          >
            <span class={['figure block truncate', i === aim ? 'font-bold' : 'font-semibold']}
              >{#if point.hazard || point.refused}<span
                  class="text-hazard mr-0.5 text-xs"
                  title={point.refused || point.hazard}
                  aria-hidden="true">▲</span
                >{/if}{point.name}</span
            >
            <span class="text-small text-soft block truncate">{point.note || ' '}</span>
          </button>
        {/each}
      </div>
      <div class="relative h-[66px]">
        {#each stages as stage, i (i)}
          {@const suspect = tracing && (stage.standing === 'suspect' || stage.standing === 'faulty')}
          <div
            class="absolute top-1 flex flex-col items-center text-center"
            style:left="{layout.left(i + 1) - layout.step / 2 + 3}px"
            style:width="{layout.step - 6}px"
            title={stage.reasons.join(' ')}
          >
            {#if suspect}
              <svg
                width={Math.min(layout.step - 12, 120)}
                height="10"
                role="img"
                aria-label="suspicion {percent(stage.weight)} in the hundred"
              >
                <rect
                  x="0.5"
                  y="0.5"
                  width={Math.min(layout.step - 12, 120) - 1}
                  height="9"
                  fill="none"
                  class="stroke-fault"
                />
                <rect width={Math.min(layout.step - 12, 120) * stage.weight} height="10" fill="url(#hatch)" />
              </svg>
            {:else if tracing && stage.standing === 'cleared'}
              <svg width="18" height="10" role="img" aria-label="cleared">
                <path d="M2 4l4 5 9-9" fill="none" class="stroke-expect" stroke-width="2.2" />
              </svg>
            {:else}
              <span class="h-[10px]"></span>
            {/if}
            <span
              class={[
                'text-small mt-0.5 line-clamp-2 max-w-full leading-tight',
                stage.standing === 'faulty' && tracing ? 'text-fault font-bold' : suspect ? 'text-ink' : 'text-soft',
              ]}
            >
              {stage.name}
            </span>
            {#if stage.gainDB !== null}
              <span class="figure text-soft text-xs leading-tight whitespace-nowrap">
                {signed(stage.gainDB)}{#if tracing && stage.measuredDB !== null}<span title="as read">
                    <span class="text-measured font-bold">&thinsp;▸&thinsp;{signed(stage.measuredDB)}</span></span
                  >{/if} dB
              </span>
            {/if}
          </div>
        {/each}
      </div>
    </div>
  </div>
  <svg class="bg-panel absolute top-0 left-0" width={gutter - 2} height={plot} aria-hidden="true">
    {#each layout.ticks as tick, i (tick)}
      <text x={gutter - 10} y={layout.y(tick) + 5} text-anchor="end" class="figure fill-soft text-small"
        >{tick < 0 ? '−' : ''}{Math.abs(tick)}{i === layout.ticks.length - 1 ? ' dBV' : ''}</text
      >
    {/each}
  </svg>
</div>
