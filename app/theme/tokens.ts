/** The three neutral surrounds (ISO 3664 asks for neutral ones). Everything the interface shows is one of these greys. */
export const surrounds = {
  light: {
    label: 'Light surround',
    surround: '#CBCBCB',
    bar: '#D6D6D6',
    field: '#E4E4E4',
    line: '#A9A9A9',
    softLine: '#BABABA',
    ink: '#161616',
    secondInk: '#484848',
    onInk: '#F4F4F4',
  },
  mid: {
    label: 'Mid surround',
    surround: '#777777',
    bar: '#838383',
    field: '#909090',
    line: '#5E5E5E',
    softLine: '#6B6B6B',
    ink: '#000000',
    // mid grey leaves no second ink at 4.5:1: weight and size tell them apart
    secondInk: '#000000',
    onInk: '#F4F4F4',
  },
  dark: {
    label: 'Dark surround',
    surround: '#2D2D2D',
    bar: '#363636',
    field: '#444444',
    line: '#555555',
    softLine: '#454545',
    ink: '#F0F0F0',
    secondInk: '#B9B9B9',
    onInk: '#161616',
  },
} as const;

export type Surround = keyof typeof surrounds;

export const isSurround = (value: unknown): value is Surround =>
  typeof value === 'string' && Object.hasOwn(surrounds, value);

/** Sizes that several parts of the screens share. Like the greys, each is a CSS custom property of its own name. */
export const measures = {
  header: '52px',
  outline: '212px',
  readout: '292px',
  trayEmpty: '60px',
  trayFilled: '92px',
  corner: '2px',
  /** The least side of what is clicked or tapped. */
  target: '24px',
} as const;

/** The least side of a target under a finger. */
export const COARSE_TARGET = '40px';
