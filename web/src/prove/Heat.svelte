<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { SoakView } from '../api/types.gen';
  import { valued } from '../shared/format';
  import type { Proving } from './proving.svelte';
  import { drawn, isBad } from './line';
  import { clock, timesOf } from './time';

  /** Temperatures over hours, what is allowed, and how the curves go on. */
  let { it, view }: { it: Proving; view: SoakView } = $props();

  let width = $state(860);
  const height = 330;
  const [left, right, top, bottom] = [50, 46, 26, 26];
  const shown = $derived(
    view.state.traces.flatMap((t, i) => {
      const line = it.log.traces[i];
      return t.what === 'temperature' && line ? [{ t, line }] : [];
    }),
  );
  const limits = $derived([...new Set(shown.flatMap(({ t }) => (t.most === null ? [] : [t.most])))]);
  const x = $derived(scaleLinear([it.left, it.right], [left, width - right]));
  const y = $derived.by(() => {
    const all = shown.flatMap(({ t, line }) => [...line.least, ...line.greatest, ...(view.running ? t.ahead : [])]);
    const low = Math.min(20, ...all);
    const high = Math.max(40, ...all, ...limits.map((l) => l + 4));
    return scaleLinear([Math.floor(low / 5) * 5, Math.ceil(high / 5) * 5], [height - bottom, top]);
  });
  const worst = $derived(shown.find(({ t }) => isBad(t))?.t.name);
  const ahead = (t: (typeof shown)[number]['t'], give: number) =>
    t.ahead.map(
      (v, i) => `${x(t.aheadFrom + i * t.aheadStep).toFixed(1)},${y(v + give * (t.give[i] ?? 0)).toFixed(1)}`,
    );
  const now = $derived(view.state.t);
  const placed = $derived.by(() => {
    // Names stand one below the other where their lines meet.
    const list = shown
      .filter(({ t }) => t.seen)
      .map(({ t }) => ({ t, at: y(t.now) }))
      .sort((a, b) => a.at - b.at);
    let last = -100;
    const placed = list.map((p) => {
      const at = Math.max(p.at + 22, last + 22);
      last = at;
      return { t: p.t, at };
    });
    const below = Math.max(0, last - (height - bottom - 6)); // they stay within it
    return placed.map((p) => ({ ...p, at: p.at - below }));
  });
  const beside = $derived(x(now) > width - 260);
</script>

<figure bind:clientWidth={width} class="min-w-0">
  <figcaption class="lead">Temperatures, °C over hours</figcaption>
  <svg {width} {height} class="block" role="img" aria-label="temperatures over hours">
    <defs>
      <pattern id="beyond" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"
        ><line x1="0" y1="0" x2="0" y2="7" class="stroke-fault" stroke-width="2.4" opacity="0.55" /></pattern
      >
      <clipPath id="inside"
        ><rect x={left} y={top - 20} width={width - left - right} height={height - top - bottom + 20} /></clipPath
      >
    </defs>
    {#each y.ticks(5) as v (v)}
      <line x1={left} x2={width - right} y1={y(v)} y2={y(v)} class="stroke-rule" />
      <text x={left - 8} y={y(v) + 4} text-anchor="end" class="figure fill-soft text-[12px]">{v}</text>
    {/each}
    {#each timesOf(it.left, it.right, width < 500 ? 4 : 8) as t (t)}
      <text x={x(t)} y={height - 6} text-anchor="middle" class="figure fill-soft text-[12px]">{clock(t)}</text>
    {/each}
    {#each limits as l (l)}
      <line x1={left} x2={width - right} y1={y(l)} y2={y(l)} class="stroke-fault" stroke-width="1.6" />
      <text x={left + 4} y={y(l) - 6} class="fill-fault text-[12px]">allowed {l}</text>
    {/each}
    <g clip-path="url(#inside)">
      {#each shown as { t, line } (t.name)}
        {@const bad = t.name === worst}
        {#if view.running && t.ahead.length > 0}
          <polygon
            points={[...ahead(t, 1), ...ahead(t, -1).reverse()].join(' ')}
            class={bad ? 'fill-wash' : 'fill-ribbon'}
          />
          {#if bad && t.most !== null}
            <clipPath id="over"
              ><rect x={left} y={top - 20} {width} height={Math.max(0, y(t.most) - top + 20)} /></clipPath
            >
            <polygon
              points={[
                ...ahead(t, 0),
                `${x(t.aheadFrom + (t.ahead.length - 1) * t.aheadStep)},${y(t.most)}`,
                `${x(t.aheadFrom)},${y(t.most)}`,
              ].join(' ')}
              fill="url(#beyond)"
              clip-path="url(#over)"
            />
          {/if}
          <polyline
            points={ahead(t, 0).join(' ')}
            fill="none"
            class={bad ? 'stroke-measured' : 'stroke-expect'}
            stroke-width="2"
            stroke-dasharray="3 6"
          />
        {/if}
        <path
          d={drawn(line, x, y)}
          class={bad ? 'stroke-measured fill-measured' : 'stroke-expect fill-expect'}
          stroke-width={bad ? 4 : 2.4}
          stroke-linejoin="round"
        />
      {/each}
      {#each view.events.filter((e) => e.what !== 'note') as e, i (i)}
        <circle cx={x(e.t)} cy={height - bottom} r="4" class="fill-ink" />
      {/each}
    </g>
    {#if now >= it.left && now <= it.right}
      <line x1={x(now)} x2={x(now)} y1={top - 16} y2={height - bottom} class="stroke-ink" stroke-width="1.6" />
      {#if view.running}
        <text
          x={x(now) + (beside ? -6 : 6)}
          y={top - 6}
          text-anchor={beside ? 'end' : 'start'}
          class="fill-ink text-[12px]">now</text
        >
      {/if}
      {#each placed as { t, at } (t.name)}
        <text
          x={x(now) + (beside ? -10 : 10)}
          y={at}
          text-anchor={beside ? 'end' : 'start'}
          class={['figure font-bold', t.name === worst ? 'fill-measured text-[18px]' : 'fill-expect text-[16px]']}
          stroke="var(--panel)"
          stroke-width="4"
          paint-order="stroke">{t.name} {valued(t.now, '')}</text
        >
      {/each}
    {/if}
    {#each shown as { t } (t.name)}
      {#if view.running && t.end}
        <text
          x={width - right + 6}
          y={y(t.ahead.at(-1) ?? t.end.v) + 4}
          class={['figure text-[14px]', t.name === worst ? 'fill-fault font-bold' : 'fill-soft']}
          >{Math.round(t.end.v)}</text
        >
      {/if}
    {/each}
  </svg>
</figure>
