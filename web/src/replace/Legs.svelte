<script lang="ts">
  import type { DeviceFitting } from '../api/types.gen';

  /** The legs of a new part above the holes of the old one, and which goes where. */
  let { fitting }: { fitting: DeviceFitting } = $props();

  const pitch = 62;
  const row = $derived(fitting.holes.every((h) => h.y === 0));
  const few = $derived(fitting.holes.length <= 3);
  const mid = $derived((fitting.holes.length / 2) * pitch + 20);
  const wide = $derived(row ? 2 * mid : 220);
  const at = (x: number) => wide / 2 + x * (row ? pitch : 62);
  /** From a leg down to its hole. */
  const wire = (i: number) => {
    const [from, to] = [at(fitting.legs[i]?.x ?? 0), at(fitting.holes[fitting.to[i] ?? 0]?.x ?? 0)];
    return `M${from} 66C${from} 92 ${to} 84 ${to} 108`;
  };
  const straight = (i: number) => fitting.legs[i]?.x === fitting.holes[fitting.to[i] ?? 0]?.x;
</script>

{#if few && row}
  <figure class="mt-1">
    <figcaption class="text-small text-soft">
      Seen from the {fitting.seen === 'solder' ? 'solder side' : 'marked side'}
    </figcaption>
    <svg
      class="h-36 max-w-full"
      viewBox="0 0 {wide + 150} 146"
      role="img"
      aria-label="legs {fitting.legs.map((l) => l.leg).join(' ')} into holes {fitting.holes
        .map((h) => h.leg)
        .join(' ')}"
    >
      <rect x="10" y="4" width={wide - 20} height="26" rx="5" class="body" />
      <text x={wide / 2} y="22" class="case">{fitting.new}</text>
      {#each fitting.legs as leg, i (leg.leg + i)}
        <path d={wire(i)} class={straight(i) ? 'lead' : 'lead crossed'} />
        {#if !straight(i)}<path d={wire(i)} class="sleeve" />{/if}
        <line x1={at(leg.x)} x2={at(leg.x)} y1="30" y2="38" class="lead" />
        <circle cx={at(leg.x)} cy="52" r="14" class="leg" />
        <text x={at(leg.x)} y="58" class="letter">{leg.leg}</text>
      {/each}
      {#each fitting.holes as hole, i (hole.leg + i)}
        <circle cx={at(hole.x)} cy="124" r="15" class="hole" />
        <text x={at(hole.x)} y="130" class="letter old">{hole.leg}</text>
      {/each}
      <text x={wide + 4} y="58" class="note new">new</text>
      <text x={wide + 4} y="130" class="note">holes, {fitting.old}</text>
    </svg>
  </figure>
{:else if few}
  <figure class="mt-1">
    <figcaption class="text-small text-soft">
      Seen from the {fitting.seen === 'solder' ? 'solder side' : 'marked side'}
    </figcaption>
    <svg class="h-40 max-w-full" viewBox="0 0 260 170" role="img" aria-label="legs {fitting.says || 'as they were'}">
      <circle cx="85" cy="85" r="80" class="body" />
      {#each fitting.holes as hole, i (hole.leg + i)}
        {@const [x, y] = [85 + 50 * hole.x, 85 + 50 * hole.y]}
        <circle cx={x} cy={y} r="21" class="hole" />
        <text {x} y={y + 6} class="letter old">{hole.leg}</text>
      {/each}
      {#each fitting.to as k, i (i)}
        {@const leg = fitting.legs[i]}
        {@const hole = fitting.holes[k]}
        {#if leg && hole && (leg.x !== hole.x || leg.y !== hole.y)}
          <path
            d="M{85 + 50 * leg.x} {85 + 50 * leg.y}Q85 85 {85 + 50 * hole.x} {85 + 50 * hole.y}"
            class="lead crossed"
          />
        {/if}
      {/each}
      <text x="174" y="80" class="note">holes, {fitting.old}</text>
      <text x="174" y="102" class="note new">new: {fitting.new}</text>
    </svg>
  </figure>
{/if}

<style>
  .body {
    fill: var(--chip);
    stroke: var(--measured);
    stroke-width: 2;
  }
  .case {
    font-size: 14px;
    text-anchor: middle;
    fill: var(--soft);
  }
  .lead {
    fill: none;
    stroke: var(--measured);
    stroke-width: 4;
  }
  .sleeve {
    fill: none;
    stroke: var(--ink);
    stroke-width: 8;
    opacity: 0.25;
  }
  .leg {
    fill: var(--panel);
    stroke: var(--measured);
    stroke-width: 2.4;
  }
  .hole {
    fill: var(--panel);
    stroke: var(--expect);
    stroke-width: 3;
  }
  .letter {
    font-family: var(--font-mono);
    font-size: 16px;
    font-weight: 700;
    text-anchor: middle;
    fill: var(--ink);
  }
  .old {
    fill: var(--expect);
  }
  .note {
    font-size: 13px;
    fill: var(--soft);
  }
  .new {
    fill: var(--measured);
  }
</style>
