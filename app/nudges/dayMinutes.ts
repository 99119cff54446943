const pad = (number: number): string => String(number).padStart(2, '0')

/** Minutes after midnight as a clock shows them, and as a time field of a browser writes them: “19:00”. */
export const clockText = (minutes: number): string => `${pad(Math.floor(minutes / 60))}:${pad(minutes % 60)}`

/**
 * The minutes after midnight of a time field.
 * @returns null where nothing, or half of a time, was typed
 * @example minutesOf('19:30') // 1170
 */
export function minutesOf(text: string): number | null {
  const found = /^([01]\d|2[0-3]):([0-5]\d)$/.exec(text)
  return found ? Number(found[1]) * 60 + Number(found[2]) : null
}
