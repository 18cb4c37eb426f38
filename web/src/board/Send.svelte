<script lang="ts">
  import { Button } from 'flowbite-svelte';
  import { api, newId, told } from '../api/client';
  import Files from '../shared/Files.svelte';
  import Logo from '../shared/Logo.svelte';
  import Who from '../shared/Who.svelte';
  import ByPhone from './ByPhone.svelte';
  import { sides, type Seen } from './board.svelte';

  /** What a phone shows that was let in for one set: photographs and readings go to its job. */
  let set = $state('');
  let job = $state(0);
  let reads = $state(false); // readings are shown, not pictures
  let trouble = $state('');
  let sending = $state(0);
  let sent: string[] = $state([]);
  let seen: Seen = $state('parts');
  let asking: Files | undefined = $state();

  api.phoneSet().then(
    (s) => {
      set = s.set;
      job = s.job;
    },
    (error: unknown) => (trouble = told(error)),
  );

  async function send(files: File[]) {
    trouble = '';
    for (const file of files) {
      sending++;
      const says = sides.find((s) => s.seen === seen)?.says ?? 'picture';
      const name = sent.length === 0 ? says : `${says}, phone ${sent.length + 1}`;
      try {
        await api.phoneSends(file, { id: newId(), name, seen });
        sent.push(name);
      } catch (error) {
        trouble = `${file.name}: ${told(error)}`;
      }
      sending--;
    }
  }
</script>

<main class="mx-auto flex max-w-md flex-col gap-4 p-5">
  <div class="flex flex-wrap items-center gap-3">
    <Logo />
    <h1 class="text-name min-w-0 flex-1 font-bold">{set || 'A set'}</h1>
    {#if job}<span class="text-soft">No. {job}</span>{/if}
    <Who />
  </div>
  {#if trouble}<p class="border-fault text-fault border-l-4 pl-3 font-semibold" role="alert">{trouble}</p>{/if}
  {#if job}
    <div class="grid grid-cols-2 gap-2" role="group" aria-label="What is sent">
      {#each [false, true] as way (way)}
        <button
          type="button"
          class={['h-12 rounded-md border-2', reads === way ? 'border-ink font-semibold' : 'border-line']}
          aria-pressed={reads === way}
          onclick={() => (reads = way)}>{way ? 'Readings' : 'Pictures'}</button
        >
      {/each}
    </div>
  {/if}
  {#if job && reads}
    <ByPhone number={job} />
  {:else if set}
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
