<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, newId, told } from '../api/client';
  import Files from '../shared/Files.svelte';
  import Logo from '../shared/Logo.svelte';
  import { sides, type Seen } from './board.svelte';

  /** What a phone shows that was pointed at the code: photographs go to the set on the bench. */
  let { params }: { params: { code: string } } = $props();

  let set = $state('');
  let trouble = $state('');
  let sending = $state(0);
  let sent: string[] = $state([]);
  let seen: Seen = $state('parts');
  let asking: Files | undefined = $state();

  $effect(() => {
    api.phoneSet(params.code).then(
      (s) => (set = s.set),
      (error: unknown) => (trouble = told(error)),
    );
  });

  async function send(files: File[]) {
    trouble = '';
    for (const file of files) {
      sending++;
      const says = sides.find((s) => s.seen === seen)?.says ?? 'picture';
      const name = sent.length === 0 ? says : `${says}, phone ${sent.length + 1}`;
      try {
        await api.phoneSends(params.code, file, { id: newId(), name, seen });
        sent.push(name);
      } catch (error) {
        trouble = `${file.name}: ${told(error)}`;
      }
      sending--;
    }
  }
</script>

<main class="mx-auto flex max-w-md flex-col gap-4 p-5">
  <div class="flex items-center gap-3">
    <Logo />
    <h1 class="text-name font-bold">{set || 'Pictures'}</h1>
  </div>
  {#if trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
  {#if set}
    <p>Each board flat and whole, from straight above, with the print to be read.</p>
    <fieldset class="grid grid-cols-2 gap-2">
      <legend class="text-soft mb-1">It shows</legend>
      {#each sides as side (side.seen)}
        <button
          type="button"
          class={['h-12 rounded-md border-2', seen === side.seen ? 'border-measured font-semibold' : 'border-line']}
          aria-pressed={seen === side.seen}
          onclick={() => (seen = side.seen)}>{side.says}</button
        >
      {/each}
    </fieldset>
    <Button type="button" class="h-16" onclick={() => asking?.choose()}
      >{sending > 0 ? 'Sending…' : 'Take or choose a photograph'}</Button
    >
    <Files bind:this={asking} accept="image/jpeg,image/png,image/webp" test="phone-file" onfiles={send} />
    <ul aria-label="Sent">
      {#each sent as name (name)}<li>✓ {name} is at the bench.</li>{/each}
    </ul>
  {/if}
</main>
