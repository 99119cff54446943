/**
 * For queries: the condition that a day, as a text, may lie between two others. Of one that is known in part
 * (`2026`, `2026-10`) core says where it counts: it is among those of its year.
 * @param value what is the day; @param from and @param to the parameters with the two days
 */
export const mayLieBetween = (value: string, from: string, to: string): string =>
  `(${value} COLLATE "C" BETWEEN ${from} AND ${to}
     OR length(${value}) < 10 AND left(${value}, 4) BETWEEN left(${from}, 4) AND left(${to}, 4))`
