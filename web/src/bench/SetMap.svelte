<script lang="ts">
  import type { MapStage } from '../api/types.gen';
  import { draw, type Size } from './map';

  interface Props {
    stages: MapStage[];
    size: Size;
    /** Whether names are written in the boxes. */
    named: boolean;
    scale?: number;
    onpick?: (stage: MapStage) => void;
  }
  let { stages, size, named, scale = 1, onpick }: Props = $props();

  const hatch = $props.id(); // a pattern of the same name in a hidden map would draw nothing
  const drawing = $derived(draw(stages, size));
  const said = (s: MapStage) =>
    s.condemned ? 'condemned' : ({ open: 'not read', aside: 'not in question' }[s.standing as string] ?? s.standing);
  const summary = $derived(
    ['suspect', 'faulty', 'cleared']
      .map((standing) => `${stages.filter((s) => s.standing === standing).length} ${standing}`)
      .join(', '),
  );
</script>

<svg
  viewBox="0 0 {drawing.width} {drawing.height}"
  width={named ? drawing.width * scale : '100%'}
  height={named ? drawing.height * scale : '100%'}
  preserveAspectRatio="xMidYMid meet"
  role="img"
  aria-label="Map of the set: {summary}"
>
  <defs>
    <pattern id={hatch} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <line y2="7" class="stroke-fault" stroke-width="2.4" opacity="0.75" />
    </pattern>
  </defs>
  {#each drawing.wires as wire, i (i)}
    <path
      d={wire.d}
      fill="none"
      class={wire.here ? 'stroke-measured' : 'stroke-soft'}
      stroke-width={wire.here ? 4 : 1.5}
      stroke-dasharray={wire.thin ? '3 4' : undefined}
      opacity={wire.here ? 1 : 0.6}
    />
  {/each}
  {#each drawing.boxes as box (box.stage ? `s${box.name}` : `p${box.name}`)}
    {#if box.stage}
      {@const stage = box.stage}
      {@const suspect = stage.standing === 'suspect' || stage.standing === 'faulty'}
      <g transform="translate({box.x - size.width / 2} {box.y - size.height / 2})">
        <rect
          width={size.width}
          height={size.height}
          class={[
            'fill-panel',
            suspect ? 'stroke-fault' : stage.standing === 'cleared' ? 'stroke-expect' : 'stroke-soft',
          ]}
          stroke-width={stage.here ? 2 : 1}
        />
        {#if suspect}
          <rect
            width={stage.standing === 'faulty' || !named ? size.width : 12}
            height={size.height}
            class={stage.condemned ? 'fill-fault' : ''}
            fill={stage.condemned ? undefined : `url(#${hatch})`}
            opacity={named && stage.standing === 'faulty' ? 0.45 : 1}
          />
        {:else if stage.standing === 'cleared'}
          <path d="M4 {size.height / 2}l3.5 4 6-8" fill="none" class="stroke-expect" stroke-width="2.2" />
        {/if}
        {#if named}
          <foreignObject x="16" width={size.width - 18} height={size.height}>
            <button
              type="button"
              class={[
                'text-small h-full w-full px-1 text-left hover:underline',
                size.across ? 'line-clamp-2 leading-tight break-words' : 'truncate',
                stage.here ? 'font-semibold' : 'text-soft',
                stage.standing === 'faulty' && 'text-fault font-bold',
              ]}
              title="{stage.name}: {said(stage)}"
              onclick={() => onpick?.(stage)}>{stage.name}</button
            >
          </foreignObject>
        {:else}
          <title>{stage.name}: {said(stage)}</title>
        {/if}
      </g>
    {:else if named}
      <text x={box.x} y={box.y + 5} text-anchor="middle" class="figure fill-ink text-small font-semibold"
        >{box.name}</text
      >
    {:else}
      <circle cx={box.x} cy={box.y} r="3.5" class="fill-soft" />
    {/if}
  {/each}
</svg>
