<script lang="ts">
  /**
   * Warning and mandatory signs in the shapes and colours of ISO 3864-1, with symbols drawn after what ISO 7010 has
   * under the code: a yellow triangle warns, a blue disc asks for something.
   */
  let { code }: { code: string } = $props();

  const names: Record<string, string> = {
    W001: 'warning',
    W005: 'warning, non-ionizing radiation',
    W012: 'warning, electricity',
    W016: 'warning, toxic',
    W017: 'warning, hot surface',
    W022: 'warning, sharp edges',
    W023: 'warning, corrosive',
    M004: 'wear eye protection',
    M009: 'wear gloves',
    M021: 'disconnect before work',
  };
  const warning = $derived(code.startsWith('W'));
</script>

<svg width="44" height="40" viewBox="0 0 44 40" role="img" aria-label={names[code] ?? 'sign'}>
  {#if warning}
    <path d="M22 2.5 42 37H2Z" fill="#f9c800" stroke="#111" stroke-width="2.6" stroke-linejoin="round" />
    <g fill="#111" stroke="none">
      {#if code === 'W012'}
        <path d="M23.6 11 16.5 24h5l-2.3 9.5L28 21.2h-5.2L26 11z" />
      {:else if code === 'W005'}
        <circle cx="22" cy="26" r="2.6" />
        <path
          d="M17.5 21a7 7 0 0 0 0 10M26.5 21a7 7 0 0 1 0 10M14.4 18.5a11 11 0 0 0 0 14M29.6 18.5a11 11 0 0 1 0 14"
          fill="none"
          stroke="#111"
          stroke-width="2"
        />
      {:else if code === 'W017'}
        <path
          d="M15 29q-2-3 0-6t0-6M22 29q-2-3 0-6t0-6M29 29q-2-3 0-6t0-6M11.5 32.5h21"
          fill="none"
          stroke="#111"
          stroke-width="2.2"
        />
      {:else if code === 'W022'}
        <path d="M12 31 31 19l-4 6 4 1-6 5z" />
        <path d="M20 15v6M24 13v5" stroke="#111" stroke-width="2" />
      {:else if code === 'W023'}
        <path d="M15 14h8l2 3h-8zM22 19v5M26 18v4" stroke="#111" stroke-width="1.6" />
        <path d="M12 32h20l-3-4h-5l-2 2-2-3h-5z" />
      {:else if code === 'W016'}
        <path d="M22 13a7 7 0 0 1 4 12.5V29h-8v-3.5A7 7 0 0 1 22 13z" />
        <path d="M14 34 30 29.5M14 29.5 30 34" stroke="#111" stroke-width="2" />
        <circle cx="19.5" cy="20.5" r="1.7" fill="#f9c800" />
        <circle cx="24.5" cy="20.5" r="1.7" fill="#f9c800" />
      {:else}
        <path d="M20.4 14h3.200l-.6 11.5h-2z" /><circle cx="22" cy="30" r="2" />
      {/if}
    </g>
  {:else}
    <circle cx="22" cy="20" r="18" fill="#0058a3" />
    <g fill="none" stroke="#fff" stroke-width="2.6" stroke-linecap="round">
      {#if code === 'M004'}
        <circle cx="15" cy="20" r="5" fill="#fff" /><circle cx="29" cy="20" r="5" fill="#fff" />
        <path d="M20 19q2-2 4 0M10 18l-3-2M34 18l3-2" />
      {:else if code === 'M009'}
        <path d="M16 31v-8l-3-5M16 23V12M20 21V9M24 21v-11M28 22v-9M28 22q1 5-2 9z" />
      {:else}
        <path d="M10 20h8M26 20h8M18 14v12M26 14v12" />
      {/if}
    </g>
  {/if}
</svg>
