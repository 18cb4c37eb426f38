/** Whether this is practice: the same pages, served under another address, with sets that are simulated behind them. */
export const practising = location.pathname.includes('/practise/');
/** Where the workshop is from practice, and practice from the workshop. */
export const workshop = '../#/';
export const practice = 'practise/#/';
