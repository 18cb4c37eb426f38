// The controls' looks, on top of what the library gives them: sizes for a
// bench, colours from the tokens (the library's greys and its primary colour
// are set in app.css).
import type { ThemeConfig } from 'flowbite-svelte';

const field =
  'rounded-md border-line bg-panel px-2.5 py-1.5 text-base text-ink dark:border-line dark:bg-panel dark:text-ink';

export const controls: ThemeConfig = {
  button: { base: 'gap-2 rounded-md px-3.5 py-1.5 text-base font-semibold whitespace-nowrap focus-within:ring-0' },
  select: { select: `${field} ps-2.5 pe-9` },
  input: { input: field },
  textarea: { base: field },
  kbd: 'rounded-sm border-line bg-transparent px-1.5 py-0 font-mono text-sm text-soft dark:border-line dark:bg-transparent dark:text-soft',
  modal: { base: 'bg-panel text-ink dark:bg-panel dark:text-ink divide-rule', header: 'p-4 text-lg', body: 'p-4' },
};
