/** More bars than this are too thin to tell apart. */
export const MOST_BARS = 40;
