<script lang="ts">
  import type { PhoneView } from '../api/types.gen';

  /** Addresses with a code, to be pointed at with a phone. */
  let { view }: { view: PhoneView } = $props();

  const until = $derived(new Date(view.until).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' }));
  let at = $state(0);
  const way = $derived(view.ways[at]);
</script>

<div class="text-ink" data-test="phone">
  {#if view.says}<p class="text-pretty">{view.says}</p>{/if}
  {#if way}
    <figure class="mb-3 flex flex-col items-center gap-1">
      <img src={way.qr} alt="code with the address {way.address}" class="rounded-md" width="264" height="264" />
      <figcaption class="figure text-small text-center break-all">{way.address}</figcaption>
    </figure>
    {#if view.ways.length > 1}
      <div class="mb-2 flex flex-wrap items-center justify-center gap-2" role="group" aria-label="By which address">
        {#each view.ways as w, i (w.address)}
          <button
            type="button"
            class={['rounded-md border-2 px-2', i === at ? 'border-ink font-semibold' : 'border-line']}
            aria-pressed={i === at}
            onclick={() => (at = i)}>{new URL(w.address).hostname}</button
          >
        {/each}
      </div>
    {/if}
    <p class="text-pretty">
      Point the phone’s camera at it, in the same network. It lets in for {view.for}; the code is good until {until}.
    </p>
    {#if view.encrypted}
      <p class="text-small text-soft mt-1">
        The browser asks once about the certificate. Its fingerprint is
        <span class="figure break-all">{view.fingerprint}</span>
      </p>
    {:else}
      <p class="text-small text-soft mt-1">Nothing is encrypted: whoever is in this network can read along.</p>
    {/if}
  {/if}
</div>
