/** Channels in charts are told apart by dash, not by colour. */
export const CHANNEL_DASHES = [
  { name: 'R', dash: '' },
  { name: 'G', dash: '5 3' },
  { name: 'B', dash: '1.5 2.5' },
];
