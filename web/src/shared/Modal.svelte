<script lang="ts">
  import { Modal as Fading, type ModalProps } from 'flowbite-svelte';

  /**
   * A dialog that is there at once and gone at once: while one fades in, Escape may be lost, and hands at a bench
   * do not wait for it.
   */
  let { open = $bindable(false), children, ...rest }: ModalProps = $props();

  // That a dialog was closed is told a moment later; opened again by then, it would be closed by the news of the one
  // that is gone.
  let stale = false;
</script>

<Fading
  {...rest}
  bind:open={
    () => open,
    (value) => {
      if (!stale) open = value;
      stale = false;
    }
  }
  ontoggle={(event) => (stale = !event.currentTarget.isConnected)}
  transitionParams={{ duration: 0 }}>{@render children?.()}</Fading
>
