/**
 * A text as a pattern of LIKE that finds it anywhere: whatever is special in a pattern is taken as it is.
 * @example anywhere('50%') // %50\%%
 */
export const anywhere = (text: string): string => `%${text.replaceAll(/[\\%_]/g, '\\$&')}%`
