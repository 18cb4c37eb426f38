/** What is typed with ; between, one by one. */
export const listOf = (text: string): string[] =>
  text
    .split(';')
    .map((s) => s.trim())
    .filter(Boolean);
