<script lang="ts">
  import type { CircuitFigure, StageNode, StagePart } from '../api/types.gen';
  import { engineering, percent } from '../shared/format';
  import { middle, place, scaleOf, x, y } from './figure';

  /** The stage's circuit: level lines for its nodes, columns for its parts, and what stands where. */
  interface Shown {
    looked: { stage: string; figure: CircuitFigure; nodes: StageNode[]; parts: Drawn[] } | null | undefined;
    part: string;
    node: string;
    aimNode: (node: string) => void;
    aimPart: (part: string) => void;
  }
  type Drawn = Pick<StagePart, 'name' | 'amps' | 'weight' | 'checked' | 'condemned' | 'tooWarm'>;
  let { inside, height }: { inside: Shown; height: number } = $props();

  let width = $state(800);
  const looked = $derived(inside.looked);
  const figure = $derived(looked?.figure ?? { lines: [], columns: [] });
  const p = $derived(place(figure, width, height));
  const nodes = $derived(new Map(looked?.nodes.map((n) => [n.node, n])));
  const parts = $derived(new Map(looked?.parts.map((q) => [q.name, q])));
  const flows = (amps: number) =>
    Math.abs(amps) < 1e-8 ? 0 : Number(Math.abs(amps).toPrecision(p.column < 62 ? 2 : 3));
  const small = $derived(p.column < 56 ? 'text-[11px]' : 'text-[12px]');
  const hatch = $props.id();
  const scale = $derived(
    scaleOf(p, looked?.nodes.flatMap((n) => [n.computed, ...(n.measured === undefined ? [] : [n.measured])]) ?? []),
  );
  const off = $derived(looked?.nodes.filter((n) => n.off).map((n) => n.node) ?? []); // each hatched in a lane of its own
  const tick = (v: number) => `${Number(v.toPrecision(3))}`.replace('-', '−');
  const volts = (v: number) => (Math.abs(v) < 0.0005 ? '0 V' : engineering(v, 'V'));
  const says = (n: StageNode | undefined) =>
    n === undefined
      ? ''
      : `${volts(n.computed)} computed${n.manual === undefined ? '' : `, ${volts(n.manual)} by the manual`}${n.measured === undefined ? '' : `, ${volts(n.measured)} measured${n.off ? ', off' : ''}`}`;
</script>

<div bind:clientWidth={width} class="overflow-x-auto">
  <svg width={p.width} height={p.height} role="group" aria-label="Circuit of {looked?.stage}" class="block">
    <!-- A true scale of volts: what is due and what was read part where they differ. -->
    <g aria-hidden="true">
      <defs>
        <pattern id={hatch} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="6" class="stroke-fault" stroke-width="2.4" />
        </pattern>
      </defs>
      {#each scale.ticks as t (t)}
        <text x="24" y={scale.y(t) + 4} text-anchor="end" class="figure fill-soft text-[11px]">{tick(t)}</text>
        <line x1="28" x2={p.scale - 6} y1={scale.y(t)} y2={scale.y(t)} class="stroke-rule" />
      {/each}
      <text x="24" y={scale.y(Math.max(...scale.ticks)) - 10} text-anchor="end" class="fill-soft text-[11px]">V</text>
      {#each looked?.nodes ?? [] as n (n.node)}
        {@const row = figure.lines.findIndex((l) => l.node === n.node)}
        {@const due = scale.y(n.computed)}
        {#if n.measured !== undefined && n.off}
          {@const read = scale.y(n.measured)}
          {@const lane = (p.scale - 50) / Math.max(off.length, 1)}
          <rect
            x={34 + lane * off.indexOf(n.node)}
            y={Math.min(due, read)}
            width={Math.max(lane - 3, 4)}
            height={Math.abs(due - read)}
            fill="url(#{hatch})"
          />
        {/if}
        <line x1="30" x2={p.scale - 12} y1={due} y2={due} class="stroke-expect" stroke-width="2" />
        {#if n.measured !== undefined}
          <line
            x1="34"
            x2={p.scale - 16}
            y1={scale.y(n.measured)}
            y2={scale.y(n.measured)}
            class={n.off ? 'stroke-fault' : 'stroke-measured'}
            stroke-width="4"
            stroke-linecap="round"
          />
        {/if}
        {#if row >= 0}
          <path d="M{p.scale - 12} {due}L{p.scale} {y(p, row)}" class="stroke-line fill-none" stroke-dasharray="1 3" />
        {/if}
      {/each}
    </g>
    {#each figure.columns as c, i (c.part)}
      {#if c.part === inside.part}
        <rect
          x={x(p, i) - p.column / 2 + 2}
          y="2"
          width={p.column - 4}
          height={p.height - 4}
          rx="6"
          class="fill-chip"
        />
      {/if}
    {/each}
    {#each figure.lines as line, i (line.node)}
      {@const n = nodes.get(line.node)}
      {@const aimed = line.node === inside.node}
      <g
        role="button"
        tabindex="-1"
        aria-label="{line.node}: {says(n)}"
        aria-pressed={aimed}
        class="outline-none"
        onclick={() => !line.ground && inside.aimNode(line.node)}
        onkeydown={(e) => e.key === 'Enter' && !line.ground && inside.aimNode(line.node)}
      >
        {#if aimed}<rect
            x={p.scale}
            y={y(p, i) - 16}
            width={p.left - p.scale - 10}
            height="32"
            rx="5"
            class="fill-chip"
          />{/if}
        <rect x={p.scale} y={y(p, i) - 16} width={p.left - p.scale - 10} height="32" class="fill-transparent" />
        <text x={p.scale + 4} y={y(p, i) + 5} class={['fill-ink', aimed ? 'font-bold' : 'font-semibold']}
          >{line.node}</text
        >
        {#if n && !line.ground}
          {#if n.measured !== undefined}
            <text
              x={p.left - 14}
              y={y(p, i) - 2}
              text-anchor="end"
              class={['figure text-[15px] font-bold', n.off ? 'fill-fault' : 'fill-measured']}
              >{n.off ? (n.measured > n.computed ? '▴ ' : '▾ ') : ''}{volts(n.measured)}</text
            >
            <text x={p.left - 14} y={y(p, i) + 12} text-anchor="end" class="figure fill-expect text-[12px]"
              >{volts(n.computed)}{n.manual === undefined ? '' : ` | ${volts(n.manual)}`}</text
            >
          {:else}
            <text
              x={p.left - 14}
              y={y(p, i) + (n.manual === undefined ? 5 : -1)}
              text-anchor="end"
              class="figure fill-expect text-[14px]">{volts(n.computed)}</text
            >
            {#if n.manual !== undefined}
              <text x={p.left - 14} y={y(p, i) + 12} text-anchor="end" class="figure fill-soft text-[12px]"
                >manual {volts(n.manual)}</text
              >
            {/if}
          {/if}
        {/if}
        {#if line.first >= 0}
          <line
            x1={p.left - 8}
            x2={x(p, line.first)}
            y1={y(p, i)}
            y2={y(p, i)}
            class="stroke-line"
            stroke-dasharray="2 4"
          />
          <line
            x1={x(p, line.first)}
            x2={x(p, line.last) + (line.first === line.last ? 14 : 0)}
            y1={y(p, i)}
            y2={y(p, i)}
            class={n?.off ? 'stroke-fault' : line.ground ? 'stroke-ink' : 'stroke-expect'}
            stroke-width={line.ground ? 4 : 2}
          />
        {/if}
      </g>
    {/each}
    {#each figure.columns as c, i (c.part)}
      {@const at = x(p, i)}
      {@const part = parts.get(c.part)}
      {@const mid = y(p, middle(c))}
      {@const aimed = c.part === inside.part}
      {@const s = c.sign}
      {@const top = y(p, Math.min(...c.lines))}
      {@const low = y(p, Math.max(...c.lines))}
      <g
        role="button"
        tabindex="-1"
        class="outline-none"
        aria-label="{c.part}, {c.kind} {c.text}{part && part.weight > 0.005
          ? `, suspect ${percent(part.weight)} %`
          : ''}"
        aria-pressed={aimed}
        onclick={() => inside.aimPart(c.part)}
        onkeydown={(e) => e.key === 'Enter' && inside.aimPart(c.part)}
      >
        <rect x={at - p.column / 2 + 2} y="2" width={p.column - 4} height={p.height - 4} class="fill-transparent" />
        {#if part && part.weight > 0.005}
          <rect x={at - p.column / 2 + 6} y={p.height - 9} width={p.column - 12} height="6" class="fill-rule" />
          <rect
            x={at - p.column / 2 + 6}
            y={p.height - 9}
            width={(p.column - 12) * part.weight}
            height="6"
            class="fill-fault"
          />
        {/if}
        <line x1={at} x2={at} y1={top} y2={Math.min(mid - s.bare, low)} class="stroke-ink" stroke-width="1.5" />
        <line x1={at} x2={at} y1={Math.max(mid + s.bare, top)} y2={low} class="stroke-ink" stroke-width="1.5" />
        <g transform="translate({at} {mid})">
          <path
            d={s.outline}
            class={['fill-panel', part?.checked === 'bad' || part?.condemned ? 'stroke-fault' : 'stroke-ink']}
            stroke-width="1.8"
          />
          {#if s.filled}<path d={s.filled} class="fill-ink stroke-ink" />{/if}
        </g>
        {#each c.lines as line, k (k)}
          {#if !(k === 1 && middle(c) === line && c.lines.length === 3)}
            <circle cx={at} cy={y(p, line)} r="3.2" class="fill-ink" />
          {/if}
        {/each}
        <text x={at} y="16" text-anchor="middle" class={['fill-ink text-[14px]', aimed ? 'font-bold' : 'font-semibold']}
          >{c.part}</text
        >
        <text x={at} y="30" text-anchor="middle" class={['figure fill-soft', small]}>{c.text}</text>
        {#if part}
          <text
            x={at}
            y={p.height - 30}
            text-anchor="middle"
            class={['figure', small, part.tooWarm ? 'fill-fault font-bold' : 'fill-soft']}
            >{engineering(flows(part.amps), 'A')}</text
          >
          {#if part.condemned || part.checked}
            <text
              x={at}
              y={p.height - 14}
              text-anchor="middle"
              class={['text-[12px] font-bold', part.condemned || part.checked === 'bad' ? 'fill-fault' : 'fill-expect']}
              >{part.condemned
                ? '✕ condemned'
                : part.checked === 'good'
                  ? '✓ good'
                  : part.checked === 'bad'
                    ? '✕ bad'
                    : '? unsure'}</text
            >
          {:else if part.weight > 0.005}
            <text x={at} y={p.height - 14} text-anchor="middle" class="figure fill-fault text-[13px] font-bold"
              >{percent(part.weight)} %</text
            >
          {/if}
        {/if}
      </g>
    {/each}
  </svg>
</div>
