<script lang="ts">
  import type { SafetyPower } from '../api/types.gen';

  /** The power state as shape and word; colour never says it alone. */
  let { state }: { state: SafetyPower['state'] } = $props();

  const names = { '': 'Power not said', live: 'Live', standby: 'Live, standby', off: 'Off', discharged: 'Discharged' };
  const charged = $derived(state === 'live' || state === 'standby');
</script>

<span class="inline-flex items-center gap-1.5 font-semibold whitespace-nowrap" data-test="power">
  <svg width="18" height="16" viewBox="0 0 18 16" aria-hidden="true">
    {#if charged || state === ''}
      <path d="M9 1 17 15H1Z" class="fill-hazard" />
      {#if charged}
        <path d="M9.8 4.5 7 9.2h2l-1 4 3.3-5H9.2z" fill="#14201d" />
      {:else}
        <text x="9" y="13.4" text-anchor="middle" font-size="10" font-weight="800" fill="#14201d">?</text>
      {/if}
    {:else}
      <circle cx="9" cy="8" r="6.2" fill="none" class="stroke-expect" stroke-width="2" />
      {#if state === 'discharged'}
        <path d="M5.8 8.2 8.2 10.6 12.4 5.6" fill="none" class="stroke-expect" stroke-width="2" />
      {:else}
        <path d="M9 4.5v4" class="stroke-expect" stroke-width="2" />
      {/if}
    {/if}
  </svg>
  {names[state]}
</span>
