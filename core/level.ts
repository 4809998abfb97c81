/** What a link allows, each what those before it do, too. */
export const LEVELS = ['view', 'comment', 'edit'] as const;
export type Level = (typeof LEVELS)[number];

export const allows = (has: Level, wanted: Level): boolean => LEVELS.indexOf(has) >= LEVELS.indexOf(wanted);
