<script lang="ts">
  /** Asks for files, several at a time; on a phone pictures come from its camera too. */
  interface Props {
    accept: string;
    onfiles: (files: File[]) => Promise<void>;
    /** What tests find it by. */
    test: string;
  }
  let { accept, onfiles, test }: Props = $props();

  let input: HTMLInputElement | undefined = $state();

  export function choose() {
    input?.click();
  }
</script>

<input
  bind:this={input}
  type="file"
  {accept}
  multiple
  class="hidden"
  data-test={test}
  onchange={async (e) => {
    const field = e.currentTarget;
    await onfiles([...(field.files ?? [])]);
    field.value = ''; // the same file may be chosen again
  }}
/>
