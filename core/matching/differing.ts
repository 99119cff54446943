import type { AnswerContent, Answers } from '../form/answer'
import { same } from '../same'

/** One question that one of two cases answers at least, and whether both say the same. */
export interface ComparedAnswer {
  code: string
  one: AnswerContent | null
  other: AnswerContent | null
  /** `onlyOne`: the other one says nothing of it, which is no contradiction. */
  verdict: 'same' | 'differs' | 'onlyOne'
}

const said = (content: AnswerContent | undefined): AnswerContent | null =>
  content && content.kind !== 'blank' ? content : null

/**
 * What two cases say, question by question in the given order; questions that neither answers are left out.
 * @example compareAnswers(['sex'], { sex: f }, { sex: m }) // [{ code: 'sex', one: f, other: m, verdict: 'differs' }]
 */
export const compareAnswers = (codes: Iterable<string>, one: Answers, other: Answers): ComparedAnswer[] =>
  [...codes].flatMap(code => {
    const [left, right] = [said(one[code]), said(other[code])]
    if (!left && !right) return []
    const verdict = !left || !right ? 'onlyOne' : same(left, right) ? 'same' : 'differs'
    return [{ code, one: left, other: right, verdict } as const]
  })
