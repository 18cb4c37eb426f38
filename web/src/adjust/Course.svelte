<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { AdjustStanding } from '../api/types.gen';
  import { valued } from '../shared/format';

  /** What was read over the last minutes, before the ribbon of what is allowed. */
  let { at, clock }: { at: AdjustStanding; clock: number } = $props();

  const minutes = 10;
  let width = $state(600);
  const height = 120;
  const [left, right, top, bottom] = [66, 10, 8, 20];
  const seen = $derived(
    at.course.map((s) => ({ t: (Date.parse(s.at) - clock) / 60_000, si: s.si })).filter((s) => s.t >= -minutes),
  );
  const x = $derived(scaleLinear([-minutes, 0], [left, width - right]));
  const y = $derived.by(() => {
    const all = [...seen.map((s) => s.si), ...at.ribbon];
    const from = Math.min(...all);
    const to = Math.max(...all);
    const spare = (to - from || Math.abs(to) || 1) * 0.1;
    return scaleLinear([from - spare, to + spare], [height - bottom, top]);
  });
  const path = $derived(
    seen.map((s, i) => `${i === 0 ? 'M' : 'L'}${x(s.t).toFixed(1)} ${y(s.si).toFixed(1)}`).join(''),
  );
</script>

<figure bind:clientWidth={width}>
  <figcaption class="lead">The last {minutes} minutes {at.drift ? `· ${at.drift.says}` : ''}</figcaption>
  {#if seen.length > 1}
    <svg {width} {height} class="bg-panel block rounded-md" role="img" aria-label="course of what was read">
      {#if at.ribbon.length === 2}
        {@const [low, high] = at.ribbon as [number, number]}
        <rect
          x={left}
          y={y(high)}
          width={width - left - right}
          height={Math.max(1, y(low) - y(high))}
          class="fill-ribbon"
        />
      {/if}
      {#each y.ticks(3) as v (v)}
        <line x1={left} x2={width - right} y1={y(v)} y2={y(v)} class="stroke-rule" />
        <text x={left - 6} y={y(v) + 4} text-anchor="end" class="figure fill-soft text-[11px]"
          >{valued(v, at.unit)}</text
        >
      {/each}
      {#each [-10, -8, -6, -4, -2, 0] as m (m)}
        <text x={x(m)} y={height - 5} text-anchor={m === 0 ? 'end' : 'middle'} class="figure fill-soft text-[11px]"
          >{m === 0 ? 'now' : `${m} min`.replace('-', '−')}</text
        >
      {/each}
      <path d={path} fill="none" class="stroke-measured" stroke-width="2" />
      {#each seen as s, i (i)}<circle cx={x(s.t)} cy={y(s.si)} r="2.5" class="fill-measured" />{/each}
    </svg>
  {:else}
    <p class="text-small text-soft">
      Read it again in a minute, or let the meter be watched: how it moves is drawn here.
    </p>
  {/if}
</figure>
