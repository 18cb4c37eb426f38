<script lang="ts">
  import { Modal as Fading, type ModalProps } from 'flowbite-svelte';

  /**
   * A dialog that is there at once and gone at once: while one fades in, Escape may be lost, and hands at a bench
   * do not wait for it.
   */
  let { open = $bindable(false), children, ...rest }: ModalProps = $props();
</script>

<Fading {...rest} bind:open transitionParams={{ duration: 0 }}>{@render children?.()}</Fading>
