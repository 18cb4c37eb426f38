<script lang="ts">
  import { Button, Input, Select } from 'flowbite-svelte';
  import Key from '../shared/Key.svelte';
  import Scroll from '../shared/Scroll.svelte';
  import { sides, type Pictures, type Seen } from './board.svelte';

  /** Asks for one name after the other: where is it on the picture? And what the picture is. */
  interface Props {
    pictures: Pictures;
    onreplace: () => void;
    onlarger: (by: number) => void;
  }
  let { pictures, onreplace, onlarger }: Props = $props();

  let other = $state('');
  const picture = $derived(pictures.picture);
  const asked = $derived(pictures.asked.find((a) => a.name === pictures.next));
</script>

<section class="flex min-h-0 min-w-0 flex-1 flex-col">
  <Scroll class="p-[14px_18px]">
    {#if picture}
      <h2 class="lead">On {picture.name}{pictures.paged ? `, page ${pictures.page}` : ''}</h2>
      {#if pictures.next}
        <p class="text-say mt-1 font-semibold" data-test="asked">
          Where is <span class="text-measured figure">{pictures.next}</span>?
        </p>
        {#if asked?.what}<p class="text-soft">
            {asked.what}{asked.elsewhere ? '; it has a pin on another picture' : ''}
          </p>{/if}
        <p class="text-soft mt-1">Click it on the picture, or move the cross with the arrow keys and press Enter.</p>
        <div class="mt-2 flex flex-wrap gap-2">
          <Button color="alternative" type="button" onclick={() => pictures.pass()}
            >Not on this picture <Key of="pass" /></Button
          >
          <Button color="alternative" type="button" disabled={!pictures.undoable} onclick={() => void pictures.undo()}
            >Take the last back <Key of="undo" /></Button
          >
        </div>
      {:else}
        <p class="text-say mt-1 font-semibold" data-test="asked">Every name of the sheet has been asked for.</p>
      {/if}
      <p class="mt-2 flex flex-wrap gap-2">
        <Button color="alternative" size="sm" type="button" onclick={() => onlarger(1.6)}
          >Larger <Key of="larger" /></Button
        >
        <Button color="alternative" size="sm" type="button" onclick={() => onlarger(1 / 1.6)}
          >Smaller <Key of="smaller" /></Button
        >
        <Button size="sm" type="button" onclick={() => (pictures.placing = false)}>Done <Key of="place" /></Button>
      </p>
      <form
        class="mt-3 flex gap-2"
        onsubmit={(e) => {
          e.preventDefault();
          pictures.ask(other);
          other = '';
        }}
      >
        <Input
          bind:value={other}
          placeholder="another: a part, a plug, a screw"
          aria-label="Another name"
          maxlength={60}
        />
        <Button color="alternative" type="submit" disabled={other.trim() === ''}>Place</Button>
      </form>

      <h2 class="lead mt-4">This picture</h2>
      <div class="mt-1 grid grid-cols-2 gap-2">
        <label class="text-small text-soft"
          >Name<Input
            value={picture.name}
            maxlength={60}
            onchange={(e) => void pictures.look({ name: e.currentTarget.value })}
          /></label
        >
        <label class="text-small text-soft"
          >It shows<Select
            placeholder=""
            value={picture.seen}
            onchange={(e) => void pictures.look({ seen: e.currentTarget.value as Seen })}
          >
            {#each sides as side (side.seen)}<option value={side.seen}>{side.says}</option>{/each}
          </Select></label
        >
      </div>
      <p class="mt-2 flex flex-wrap gap-x-4 gap-y-1">
        <button
          type="button"
          class="underline"
          onclick={() => void pictures.look({ turn: ((picture.turn ?? 0) + 1) % 4 })}>turn it <Key of="turn" /></button
        >
        <button type="button" class="underline" onclick={() => void pictures.look({ mirror: !picture.mirror })}
          >{picture.mirror ? 'not mirrored' : 'mirror it'} <Key of="flip" /></button
        >
        <button type="button" class="underline" onclick={onreplace}>replace it</button>
        <button type="button" class="text-fault underline" onclick={() => void pictures.look({ struck: true })}
          >take it out</button
        >
      </p>
      {#if pictures.pins.length > 0}
        <h2 class="lead mt-4">{pictures.pins.length} pinned</h2>
        <ul aria-label="Pins">
          {#each pictures.pins as p (p.name)}
            <li class="border-rule flex items-baseline gap-2 border-t py-0.5 first:border-0">
              <span class="figure min-w-0 flex-1 truncate">{p.is}{p.doubt ? ' ?' : ''}</span>
              {#if p.doubt}<button type="button" class="text-small underline" onclick={() => pictures.ask(p.name)}
                  >place again</button
                >{/if}
              <button
                type="button"
                class="text-soft hover:text-fault"
                aria-label="Take {p.is} out"
                onclick={() => pictures.pull(p.name)}>✕</button
              >
            </li>
          {/each}
        </ul>
      {/if}
    {/if}
  </Scroll>
</section>
