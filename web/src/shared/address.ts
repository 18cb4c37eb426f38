/** The number of the job whose view is open, by the page's address; 0 where none is. */
export const jobOpen = () => Number(/^#\/jobs\/(\d+)/.exec(location.hash)?.[1] ?? 0);
