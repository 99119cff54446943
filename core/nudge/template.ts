import { bad, good, type Problem, type Result } from '../result'
import type { Words } from '../report/edition'

/** What a reminder may name. */
export const NUDGE_FIELDS = ['facility', 'dataset', 'period', 'due', 'missing'] as const
export type NudgeField = (typeof NUDGE_FIELDS)[number]

/** Longer texts are not read on a small telephone. */
export const LONGEST_NUDGE = 480

/** The text that an installation sends until somebody writes another one. */
export const USUAL_NUDGE: Words = {
  en: '{facility}: {dataset}, {period}, due on {due}. {missing} Please send it, or call the district office.',
  fr: '{facility} : {dataset}, {period}, à envoyer le {due}. {missing} Envoyez-le, ou appelez le bureau du district.',
}

/** What is missing of a report, in the words of a reminder. */
export type Missing =
  | { kind: 'nothing' }
  | { kind: 'draft'; answered: number; applies: number }
  | { kind: 'sentBack'; why: string }

/** A part in braces, and braces that are not closed. */
const FIELD = /\{([^{}]*)\}|[{}]/g

/**
 * What is wrong with the text of a reminder: a field that there is not, an open brace, too long, nothing in it.
 *
 * @example checkNudge('{facilty}: please send') // `nudge-field` at 0 to 9
 */
export function checkNudge(text: string): Problem[] {
  const problems: Problem[] = []
  for (const found of text.matchAll(FIELD)) {
    const [whole, name] = found
    if ((NUDGE_FIELDS as readonly string[]).includes(name?.trim() ?? '')) continue
    problems.push({
      code: 'nudge-field',
      message: `A reminder cannot name ${whole}.`,
      at: { start: found.index, end: found.index + whole.length },
      values: { name: whole, known: NUDGE_FIELDS.map(field => `{${field}}`).join(', ') },
    })
  }
  if (!text.trim()) problems.push({ code: 'nudge-empty', message: 'A reminder says something.' })
  if (text.length > LONGEST_NUDGE)
    problems.push({
      code: 'nudge-long',
      message: `A reminder has at most ${LONGEST_NUDGE} letters.`,
      values: { most: LONGEST_NUDGE },
    })
  return problems
}

/**
 * Puts values into the text of a reminder.
 *
 * @returns the message, or what is wrong with the text
 * @example fillNudge('{facility}: {due}', { facility: 'Sedge Bay', due: '7 Nov', … }) // good: 'Sedge Bay: 7 Nov'
 */
export function fillNudge(text: string, values: Readonly<Record<NudgeField, string>>): Result<string> {
  const problems = checkNudge(text)
  if (problems.length) return bad(...problems)
  return good(
    text
      .replace(FIELD, (_, name: string) => values[name.trim() as NudgeField])
      .replace(/\s+/g, ' ')
      .trim(),
  )
}

/** A sentence about what is missing, in a language. */
export function sayMissing(missing: Missing, language: string): string {
  const isFrench = language.startsWith('fr')
  switch (missing.kind) {
    case 'nothing':
      return isFrench ? "Rien n'est arrivé." : 'Nothing has come.'
    case 'draft':
      return isFrench
        ? `Commencé : ${missing.answered} réponses sur ${missing.applies}.`
        : `It was begun: ${missing.answered} of ${missing.applies} answers.`
    case 'sentBack':
      return isFrench ? `Il a été renvoyé : ${missing.why}.` : `It was sent back: ${missing.why}.`
  }
}
