/** The languages of the application: its sentences, and the labels and definitions that people write, are in each. */
export const LANGUAGES = ['en', 'fr'] as const
export type Language = (typeof LANGUAGES)[number]
