import { questionOf } from '#core/form/form-of-edition'
import type { CellContent, CellValue } from '#core/report/cell'
import type { Item } from '#core/report/edition'
import { useAnswerText } from '../cases/useCases'

/** How what a cell holds reads: a number, yes or no, a choice by its label, a day; or that there is none. */
export function useCellText() {
  const words = useWords()
  const { textOfAnswer } = useAnswerText(null)

  function valueText(item: Item | null | undefined, value: CellValue): string {
    if (typeof value === 'number') return words.number(value)
    return textOfAnswer(item ? questionOf(item) : null, { kind: 'value', value })
  }
  /** @param item its item; without it a choice reads as its code. */
  const contentText = (item: Item | null | undefined, content: CellContent): string =>
    content.kind === 'value' ? valueText(item, content.value) : words.t(`cell.${content.kind}`)

  return { contentText, valueText }
}
