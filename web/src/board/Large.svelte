<script lang="ts">
  import type { PictureView, PinView } from '../api/types.gen';
  import Face from './Face.svelte';
  import { inFile, seen, sized } from './turn';

  /** A whole picture with its pins; moved by drawing it along, made larger with the wheel or by two fingers. */
  interface Props {
    sheet: number;
    picture: PictureView;
    page: number;
    pins: PinView[];
    /** What is aimed at, and what is proposed to be read. */
    aim?: string;
    next?: string;
    does?: string;
    /** Names in the order of the signal: a line goes through their pins. */
    along?: string[];
    /** Names that readings are asked of; the others are quieter. */
    spots?: Set<string>;
    /** A click asks for a place; a cross shows where it would be. */
    placing?: boolean;
    onpin: (pin: PinView) => void;
    onplace: (x: number, y: number) => void;
  }
  let {
    sheet,
    picture,
    page,
    pins,
    aim = '',
    next = '',
    does = 'probe here',
    along = [],
    spots,
    placing = false,
    onpin,
    onplace,
  }: Props = $props();

  let room = $state({ w: 0, h: 0 });
  let own = $state.raw({ of: '', w: 4, h: 3 });
  let trouble = $state('');
  let zoom = $state(1);
  let middle = $state({ u: 0.5, v: 0.5 }); // what is in the middle of the room, of the picture as it is looked at
  let cross = $state({ u: 0.5, v: 0.5 });

  const key = $derived(`${picture.id} ${picture.changes ?? 0} ${page}`);
  $effect(() => {
    void key;
    trouble = '';
    zoom = 1;
    middle = { u: 0.5, v: 0.5 };
  });
  const [w, h] = $derived(own.of === key ? [own.w, own.h] : [picture.width || 4, picture.height || 3]);
  const shape = $derived(sized(picture, w, h));
  const k = $derived(zoom * Math.min(room.w / shape[0], room.h / shape[1]));
  /** Where the picture's edge is. With room to spare it stands in the middle. */
  const edge = (at: number, all: number, has: number) =>
    all <= has ? (has - all) / 2 : Math.min(0, Math.max(has - all, has / 2 - at * all));
  const left = $derived(edge(middle.u, shape[0] * k, room.w));
  const top = $derived(edge(middle.v, shape[1] * k, room.h));
  const toRoom = (u: number, v: number) => ({ x: left + u * shape[0] * k, y: top + v * shape[1] * k });
  const ofRoom = (x: number, y: number) => ({ u: (x - left) / (shape[0] * k), v: (y - top) / (shape[1] * k) });

  interface Drawn {
    pin: PinView;
    x: number;
    y: number;
    label: { x: number; y: number } | null;
  }
  const small = (p: PinView) => spots !== undefined && !spots.has(p.is) && p.mark !== 'bad';
  const near = 1.7; // zoom from which the names of what is not read are written too
  const weight = (p: PinView) =>
    p.is === next || p.is === aim ? 5 : small(p) ? -1 : { bad: 4, suspect: 3, good: 2, unread: 1, known: 0 }[p.mark];
  // The weightiest names are written first; one that has no room is told when it is pointed at.
  const drawn = $derived.by(() => {
    const taken: { x: number; y: number; w: number; h: number }[] = [];
    const all: Drawn[] = pins
      .map((pin) => ({ pin, ...toRoom(...seen(picture, pin.x, pin.y)), label: null }))
      .sort((a, b) => weight(b.pin) - weight(a.pin));
    for (const d of all) taken.push({ x: d.x - 11, y: d.y - 11, w: 22, h: 22 });
    for (const d of all) {
      const asked = d.pin.is === aim || d.pin.is === next || d.pin.mark === 'bad';
      if (!asked && (picture.seen === 'drawing' || placing || (small(d.pin) && zoom < near))) continue;
      const wide = d.pin.is.length * 9 + 14;
      const high = 24;
      const free = [
        { x: d.x + 15, y: d.y - 12 },
        { x: d.x - 15 - wide, y: d.y - 12 },
        { x: d.x - wide / 2, y: d.y + 14 },
        { x: d.x - wide / 2, y: d.y - 14 - high },
      ].find(
        (at) =>
          at.x >= 0 &&
          at.x + wide <= room.w &&
          !taken.some((t) => at.x < t.x + t.w && t.x < at.x + wide && at.y < t.y + t.h && t.y < at.y + high),
      );
      if (!free) continue;
      d.label = free;
      taken.push({ ...free, w: wide, h: high });
    }
    return all;
  });
  const line = $derived(
    along
      .map((name) => drawn.find((d) => d.pin.is === name))
      .filter((d) => d !== undefined)
      .map((d) => `${d.x},${d.y}`)
      .join(' '),
  );
  const flag = $derived(drawn.find((d) => d.pin.is === next));

  /** Larger or smaller, so that what is under a place of the room stays there. */
  export function larger(by: number, x = room.w / 2, y = room.h / 2) {
    const at = ofRoom(x, y);
    zoom = Math.min(Math.max(zoom * by, 1), 12);
    middle = {
      u: at.u - (x - room.w / 2) / (shape[0] * k),
      v: at.v - (y - room.h / 2) / (shape[1] * k),
    };
  }
  /** Moves the cross, in pixels of the screen. */
  export function move(dx: number, dy: number) {
    const keep = (x: number) => Math.min(Math.max(x, 0), 1);
    cross = { u: keep(cross.u + dx / (shape[0] * k)), v: keep(cross.v + dy / (shape[1] * k)) };
  }
  export function placeAtCross() {
    onplace(...inFile(picture, cross.u, cross.v));
  }

  let fingers: { id: number; x: number; y: number }[] = [];
  let far = 0; // how far they went: a click stays where it is
  const here = (e: PointerEvent | WheelEvent | MouseEvent) => {
    const box = (e.currentTarget as HTMLElement).getBoundingClientRect();
    return { x: e.clientX - box.left, y: e.clientY - box.top };
  };
  function down(e: PointerEvent) {
    if (fingers.length === 0) far = 0;
    fingers.push({ id: e.pointerId, ...here(e) });
  }
  function moved(e: PointerEvent) {
    const at = here(e);
    const was = fingers.find((f) => f.id === e.pointerId);
    if (!was) {
      const { u, v } = ofRoom(at.x, at.y);
      if (placing && u >= 0 && u <= 1 && v >= 0 && v <= 1) cross = { u, v };
      return;
    }
    const other = fingers.find((f) => f.id !== e.pointerId);
    fingers = fingers.map((f) => (f.id === e.pointerId ? { id: f.id, ...at } : f));
    far += Math.hypot(at.x - was.x, at.y - was.y);
    if (far > 6) (e.currentTarget as HTMLElement).setPointerCapture(e.pointerId);
    if (other) {
      const by = Math.hypot(at.x - other.x, at.y - other.y) / Math.max(Math.hypot(was.x - other.x, was.y - other.y), 1);
      larger(by, (at.x + other.x) / 2, (at.y + other.y) / 2);
    } else if (far > 6) {
      const clamp = (x: number) => Math.min(Math.max(x, 0), 1);
      middle = {
        u: clamp(middle.u - (at.x - was.x) / (shape[0] * k)),
        v: clamp(middle.v - (at.y - was.y) / (shape[1] * k)),
      };
    }
  }
  function up(e: PointerEvent) {
    fingers = fingers.filter((f) => f.id !== e.pointerId);
  }
  function clicked(e: MouseEvent) {
    if (far > 6) return;
    const { u, v } = ofRoom(here(e).x, here(e).y);
    if (u < 0 || u > 1 || v < 0 || v > 1) return;
    onplace(...inFile(picture, u, v));
  }
</script>

<!-- Keys place and aim too; they are the screen's. -->
<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
<div
  class={[
    'relative h-full min-h-0 w-full touch-none overflow-hidden bg-[#20302b]',
    placing ? 'cursor-crosshair' : 'cursor-grab',
  ]}
  bind:clientWidth={room.w}
  bind:clientHeight={room.h}
  data-test="picture"
  onpointerdown={down}
  onpointermove={moved}
  onpointerup={up}
  onpointercancel={up}
  onclick={clicked}
  onwheel={(e) => {
    e.preventDefault();
    larger(Math.exp(-e.deltaY / 400), here(e).x, here(e).y);
  }}
>
  <div
    class="absolute"
    style:left="{left}px"
    style:top="{top}px"
    style:width="{shape[0] * k}px"
    style:height="{shape[1] * k}px"
  >
    {#key key}<Face
        {sheet}
        {picture}
        {page}
        width={w * k}
        height={h * k}
        onsize={(wide, high) => (own = { of: key, w: wide, h: high })}
        ontrouble={(says) => (trouble = says)}
      />{/key}
  </div>
  <svg class="pointer-events-none absolute inset-0 h-full w-full" aria-hidden="true">
    <defs>
      <pattern id="pinned-bad" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="5" height="5" fill="#ffffff" /><rect width="2.4" height="5" fill="#a80f38" />
      </pattern>
    </defs>
    {#if line}<polyline points={line} fill="none" stroke="#101a17" stroke-opacity="0.6" stroke-width="5" /><polyline
        points={line}
        fill="none"
        stroke="#ffffff"
        stroke-opacity="0.75"
        stroke-width="2"
      />{/if}
    {#if flag}
      <path d="M{flag.x} {flag.y - 12}v-62" stroke="#101a17" stroke-width="3" />
    {/if}
    {#each drawn as d (d.pin.name)}
      <g transform="translate({d.x} {d.y}) scale({small(d.pin) ? 0.6 : 1})">
        {#if d.pin.mark === 'bad'}
          <rect x="-10" y="-10" width="20" height="20" fill="url(#pinned-bad)" stroke="#a80f38" stroke-width="2.5" />
        {:else if d.pin.mark === 'good'}
          <circle r="10" fill="#fbfcfb" stroke="#2f4a43" stroke-width="2" />
          <path d="M-5 0l3.5 4L5 -4" fill="none" stroke="#2f4a43" stroke-width="2.5" />
        {:else if d.pin.mark === 'suspect'}
          <circle r="10" fill="#ffffff55" stroke="#101a17" stroke-width="5" />
          <circle r="10" fill="none" stroke="#ffffff" stroke-width="3" stroke-dasharray="4.2 3.6" />
        {:else if d.pin.mark === 'unread'}
          <circle r="6" fill="#101a1799" stroke="#ffffff" stroke-width="2" />
        {:else}
          <circle r="4" fill="#ffffff" stroke="#101a17" />
        {/if}
        {#if d.pin.is === aim}<circle r="15" fill="none" stroke="#101a17" stroke-width="5" /><circle
            r="15"
            fill="none"
            stroke="#ffffff"
            stroke-width="2.5"
          />{/if}
      </g>
    {/each}
    {#if placing}
      {@const c = toRoom(cross.u, cross.v)}
      <g transform="translate({c.x} {c.y})" data-test="cross">
        <path d="M-26 0h20M6 0h20M0 -26v20M0 6v20" stroke="#101a17" stroke-width="5" />
        <path d="M-26 0h20M6 0h20M0 -26v20M0 6v20" stroke="#ffffff" stroke-width="2" />
      </g>
    {/if}
  </svg>
  {#if flag}
    {@const back = flag.x > room.w - 130}
    <span
      class={[
        'pointer-events-none absolute -translate-y-full bg-[#101a17] py-1 font-semibold whitespace-nowrap text-white',
        back ? '-translate-x-full pr-2.5 pl-5' : 'pr-5 pl-2.5',
      ]}
      style:left="{flag.x}px"
      style:top="{flag.y - 44}px"
      style:clip-path={back
        ? 'polygon(0 0, 100% 0, 100% 100%, 0 100%, 12px 50%)'
        : 'polygon(0 0, 100% 0, calc(100% - 12px) 50%, 100% 100%, 0 100%)'}>{does}</span
    >
  {/if}
  {#each drawn as d (d.pin.name)}
    <!-- While a place is asked for, what is there already lets clicks through to the picture. -->
    <button
      type="button"
      class={[
        'figure absolute text-[#101a17]',
        placing && 'pointer-events-none',
        d.label
          ? 'h-6 rounded-sm bg-white/90 px-1.5'
          : 'h-6 w-6 -translate-x-1/2 -translate-y-1/2 rounded-full opacity-0 focus:opacity-100',
        (d.pin.is === aim || d.pin.mark === 'bad') && 'font-semibold',
      ]}
      style:left="{d.label?.x ?? d.x}px"
      style:top="{d.label?.y ?? d.y}px"
      title="{d.pin.is}{d.pin.is === d.pin.name ? '' : `, pinned as ${d.pin.name}`}: {d.pin.doubt
        ? 'in doubt, the picture was replaced'
        : d.pin.mark}"
      aria-label="{d.pin.is}: {d.pin.mark}"
      data-test="pin"
      data-mark={d.pin.mark}
      onclick={(e) => {
        e.stopPropagation();
        if (far <= 6) onpin(d.pin);
      }}>{d.label ? d.pin.is : ''}{d.label && d.pin.doubt ? ' ?' : ''}</button
    >
  {/each}
  {#if trouble}<p class="bg-panel text-fault absolute inset-x-6 top-6 rounded-md p-3 font-semibold" role="alert">
      {trouble}
    </p>{/if}
</div>
