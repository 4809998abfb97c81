/** More bars than this are too thin to tell apart. */
export const MAX_BARS = 40;
