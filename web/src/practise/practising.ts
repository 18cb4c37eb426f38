/** Whether this is practice: the same pages, served under another address, with sets that are simulated behind them. */
export const practising = location.pathname.includes('/practise/');
/** Where the workshop is from practice, and practice from the workshop. */
export const workshop = '../#/';
export const practice = 'practise/#/';

/** Whether what is aimed at is shown, to be read off, instead of being taken down: as somebody likes to work. */
const ownEyes = 'step trace: read off';
export const readsOff = () => practising && localStorage.getItem(ownEyes) !== null;
export function readOff(yes: boolean) {
  if (yes) localStorage.setItem(ownEyes, 'yes');
  else localStorage.removeItem(ownEyes);
}
