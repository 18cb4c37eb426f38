<script lang="ts">
  import type { WorthView } from '../api/types.gen';

  /** What it comes to, on one line: what is spent, what is to come, the owner's limit, what the set is worth. */
  let { view }: { view: WorthView } = $props();

  let width = $state(600);
  const money = $derived(view.known);
  const spent = $derived(money ? view.spent : view.used);
  const low = $derived(money ? view.cost.low : view.used + view.left.low);
  const mid = $derived(money ? view.cost.mid : view.used + view.left.mid);
  const high = $derived(money ? view.cost.high : view.used + view.left.high);
  const marks = $derived(
    money
      ? [
          { at: view.limit, name: `the owner allows ${view.limitSays}`, fault: view.limit > 0 && high > view.limit },
          { at: view.value, name: `it is worth ${view.valueSays}`, fault: view.value > 0 && high > view.value },
        ]
          .filter((m) => m.at > 0)
          .sort((a, b) => a.at - b.at)
      : [],
  );
  const most = $derived(1.08 * Math.max(high, ...marks.map((m) => m.at), 1));
  const x = (v: number) => 1 + (v / most) * (width - 2);
  // The names of two marks close together stand one below the other.
  const row = (i: number) => {
    const [a, b] = marks;
    return i === 1 && a && b && x(b.at) - x(a.at) < (end(b.at) ? 320 : 190) ? 1 : 0;
  };
  const end = (v: number) => x(v) > width - 150;
</script>

<div bind:clientWidth={width} class="w-full" data-test="scale">
  <svg {width} height="92" role="img" aria-label={view.says}>
    <rect x={x(0)} y="38" width={Math.max(0, x(spent) - x(0))} height="18" class="fill-measured" />
    <rect
      x={x(low)}
      y="34"
      width={Math.max(3, x(high) - x(low))}
      height="26"
      class="fill-ribbon stroke-expect"
      rx="2"
    />
    <line x1={x(mid)} x2={x(mid)} y1="34" y2="60" class="stroke-expect" stroke-width="3" />
    <line x1={x(0)} x2={x(most)} y1="60.5" y2="60.5" class="stroke-ink" />
    <text x={x(0)} y="78" class="fill-soft text-small"
      >{spent > 0 ? `${view.spentSays} so far` : 'nothing spent yet'}</text
    >
    <text x={x(mid)} y="78" text-anchor={end(mid) ? 'end' : 'middle'} class="fill-ink font-semibold"
      >{x(mid) - x(0) > 150 ? `about ${view.midSays}` : ''}</text
    >
    {#each marks as m, i (m.name)}
      <line
        x1={x(m.at)}
        x2={x(m.at)}
        y1={row(i) === 1 ? 30 : 16}
        y2="60"
        class={m.fault ? 'stroke-fault' : 'stroke-ink'}
        stroke-width="2"
        stroke-dasharray={m.fault ? '' : '4 3'}
      />
      <text
        x={x(m.at) + (end(m.at) ? -5 : 5)}
        y={row(i) === 1 ? 28 : 13}
        text-anchor={end(m.at) ? 'end' : 'start'}
        class={['text-small', m.fault ? 'fill-fault font-semibold' : 'fill-ink']}>{m.name}</text
      >
    {/each}
  </svg>
</div>
