import type { AnswerContent } from '../form/answer'
import type { CaseFile, Entry } from './fold'

/**
 * What an entry's answer is to the case: it `stands`; a later one took its place (`earlier`); a correction of
 * its entry took its place (`corrected`); somebody else corrected the same entry in another way (`rival`).
 */
export type SaidState = 'stands' | 'earlier' | 'corrected' | 'rival'

/** One answer to a question, as an entry gave it. */
export interface Said {
  entry: string
  content: AnswerContent
  state: SaidState
}

/**
 * Everything that was ever said of each question (or cell) of a case, the latest first: which entry gave the
 * answer that stands, and what stood before.
 *
 * @param entries those that the case was folded from
 * @example answerStories(file, entries).get('result') // [{ entry: '2', content: negative, state: 'stands' }, { entry: '1', … 'corrected' }]
 */
export function answerStories(file: CaseFile, entries: readonly Entry[]): Map<string, Said[]> {
  const answersOf = new Map(entries.map(({ id, answers }) => [id, answers]))
  const stories = new Map<string, Said[]>()
  const tell = (entry: string, stateOf: (key: string) => SaidState) => {
    for (const [key, content] of Object.entries(answersOf.get(entry) ?? {}))
      if (content.kind !== 'blank')
        stories.set(key, [{ entry, content, state: stateOf(key) }, ...(stories.get(key) ?? [])])
  }
  for (const { id, corrected, rivals } of file.entries) {
    for (const of of corrected) tell(of, () => 'corrected')
    for (const rival of rivals) tell(rival.id, () => 'rival')
    tell(id, key => (file.values.get(key)?.entry === id ? 'stands' : 'earlier'))
  }
  return stories
}
