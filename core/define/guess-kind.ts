import { codeFromLabel, fold } from '../form/code'
import type { Choice, QuestionKind } from '../form/question'
import { ITEM_KINDS, type ItemKind, type Words } from '../report/edition'

/** What a question copied from paper most likely is. A guess: the person decides. */
export interface GuessedQuestion {
  label: string
  kind: Extract<
    QuestionKind,
    | 'text'
    | 'wholeNumber'
    | 'decimal'
    | 'date'
    | 'partialDate'
    | 'time'
    | 'yesNo'
    | 'oneOf'
    | 'picture'
    | 'position'
    | 'identifier'
  >
  choices?: Choice[]
}

/** Words that tell a kind, in the folded text of either language. The first that fits decides. */
const TELLING: [RegExp, GuessedQuestion['kind']][] = [
  [/\b(photo|photograph|picture|image|photographie)\b/, 'picture'],
  [/\b(gps|coordinates|coordonnees|latitude|longitude)\b/, 'position'],
  [/\b(date of birth|birth date|born on|born|date de naissance|ne le|nee le)\b/, 'partialDate'],
  [/\b(date|day of|jour de|jour du)\b/, 'date'],
  [/\b(time of|at what time|hour of|heure de|heure du|a quelle heure)\b/, 'time'],
  [/\b(identifier|case number|number of the (case|card|specimen)|numero)\b/, 'identifier'],
  [/\b(weight|temperature|height|litres|kilograms|poids|taille)\b/, 'decimal'],
  [/\b(how many|number of|count of|age|nombre|combien)\b/, 'wholeNumber'],
  [/^(is|are|was|were|has|have|had|did|does|do|est|a-t|ont|avez|etait)\b.*\?$/, 'yesNo'],
]

/**
 * `☐ Yes ☐ No`, `(yes / no / unknown)`, `: 1 = rural, 2 = urban`: the choices behind a question, when they
 * are written there.
 */
function choicesIn(text: string): { label: string; choices: string[] } | null {
  const boxes = text.split(/[☐□○◯]/)
  if (boxes.length > 2) return { label: boxes[0]!, choices: boxes.slice(1) }
  const coded = /^(.*?)[:?]?\s*((?:\d\s*=\s*[^,;]+[,;]\s*)+\d\s*=\s*[^,;]+)$/.exec(text)
  if (coded)
    return { label: coded[1]!, choices: coded[2]!.split(/[,;]/).map(one => one.replace(/^\s*\d\s*=\s*/, '')) }
  const brackets = /^(.*?)\s*\(([^()]+\/[^()]+)\)\s*$/.exec(text)
  return brackets ? { label: brackets[1]!, choices: brackets[2]!.split('/') } : null
}

const YES_NO = new Set(['yes no', 'oui non', 'y n', 'o n'])
const tidy = (text: string) =>
  text
    .replace(/[\s_…:]+$/g, '')
    .replace(/\s+/g, ' ')
    .trim()

/** Reads one pasted line as a question. @param language of the line: that of the labels of its choices. */
export function guessQuestion(line: string, language: string): GuessedQuestion {
  const written = choicesIn(line)
  if (written) {
    const label = tidy(written.label)
    const names = written.choices.map(tidy).filter(Boolean)
    if (YES_NO.has(names.map(fold).join(' '))) return { label, kind: 'yesNo' }
    const choices: Choice[] = []
    for (const name of names)
      choices.push({
        code: codeFromLabel(
          name,
          choices.map(({ code }) => code),
        ),
        label: { [language]: name } as Words,
      })
    if (choices.length > 1) return { label, kind: 'oneOf', choices }
  }
  const label = tidy(line)
  const text = fold(line).trim()
  return { label, kind: TELLING.find(([pattern]) => pattern.test(text))?.[1] ?? 'text' }
}

/** What a line of a paper tool that is reported asks for most likely: a count, if nothing tells otherwise. */
export function guessItem(
  line: string,
  language: string,
): { label: string; kind: ItemKind; choices?: Choice[] } {
  const { label, kind, choices } = guessQuestion(line, language)
  if (kind === 'identifier') return { label, kind: 'text' }
  const fits = kind !== 'text' && ITEM_KINDS.find(one => one === kind)
  return { label, kind: fits || 'wholeNumber', ...(choices && { choices }) }
}
