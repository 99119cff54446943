/** A text in the two languages of the demo. */
export type Pair = [en: string, fr: string]
export const words = ([en, fr]: Pair): { en: string; fr: string } => ({ en, fr })
