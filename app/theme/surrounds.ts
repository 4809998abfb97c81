/** The three neutral surrounds of DESIGN §4. Everything the interface shows is one of these greys. */
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
    secondInk: '#141414',
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

/** The greys as CSS custom properties, for what is not made of MUI components. */
export const surroundVariables = (id: Surround) => {
  const s = surrounds[id];
  return {
    '--surround': s.surround,
    '--bar': s.bar,
    '--field': s.field,
    '--line': s.line,
    '--soft-line': s.softLine,
    '--ink': s.ink,
    '--second-ink': s.secondInk,
    '--on-ink': s.onInk,
    colorScheme: id === 'dark' ? 'dark' : 'light',
  };
};
