import { tryOnScopeDispose } from '@vueuse/core'
import type { AnswerContent } from '#core/form/answer'
import { beginFilling, give, onlyComputes } from '#core/form/fill'
import { contentAt, type Filling, type FillingStep } from '#core/form/filling'
import { livingForm } from '#core/form/form-of-edition'
import { groupBy } from '#core/group-by'
import { BLANK, sameContent, type CellContent, type CellValue } from '#core/report/cell'
import type { Cell, Edition } from '#core/report/edition'
import { soon } from '../common/useSoon'

const cellContent = (content: AnswerContent | undefined): CellContent =>
  content?.kind === 'value' ? { kind: 'value', value: content.value as CellValue } : BLANK

/** *Not offered here* is no answer that somebody would miss. */
const hasAnswer = (content: CellContent | undefined) =>
  content?.kind === 'value' || content?.kind === 'notKnown'

/**
 * What follows from the answers of a report while it is typed: which items apply, and what is computed. For
 * an edition in which nothing follows it costs nothing, and an answer from which others are only computed costs
 * nothing at its key: they are computed a moment later.
 * @param contents the contents of the cells; what is computed is put into them.
 * @param onComputed hears which cells changed after the key
 */
export function useFollowing(
  edition: Edition,
  cells: readonly Cell[],
  contents: Record<string, CellContent>,
  today: () => number,
  onComputed: (cells: readonly string[]) => void,
) {
  const form = livingForm(edition)
  const options = () => ({ today: today() })
  const filling = shallowRef<Filling | null>(form && beginFilling(form, { ...contents }, options()).filling)
  const computedCells = cells.filter(({ item }) => item.kind === 'computed').map(({ key }) => key)

  /** Puts what is computed into its cells. @returns those that changed */
  function follow(now: Filling | null): string[] {
    filling.value = now
    if (!now) return []
    return computedCells.filter(key => {
      const content = cellContent(contentAt(now, key))
      if (sameContent(contents[key] ?? BLANK, content)) return false
      contents[key] = content
      return true
    })
  }
  follow(filling.value)

  /** What was answered and is not computed from yet. */
  const later = new Map<string, CellContent>()
  function catchUp(): void {
    if (!form || !filling.value || !later.size) return
    const answers = Object.fromEntries(later)
    later.clear()
    onComputed(follow(give(form, filling.value, answers, options()).filling))
  }
  tryOnScopeDispose(() => later.clear())

  /** What an answer would do to others, before it is given; null where nothing follows, or is only computed. */
  function tried(key: string, content: CellContent): FillingStep | null {
    if (!form || onlyComputes(form, key)) return null
    catchUp()
    return give(form, filling.value!, { [key]: content }, options())
  }
  /** Takes in an answer, with what was tried. @returns the computed cells that it changed at once */
  function took(key: string, content: CellContent, step: FillingStep | null): string[] {
    if (step) return follow(step.filling)
    if (form) {
      later.set(key, content)
      soon(catchUp)
    }
    return []
  }

  // A text, so that a section is laid out anew only when something comes or goes, not at every key.
  const hidden = computed(() => [...(filling.value?.hidden ?? [])].sort().join(' '))
  const hiddenItems = computed(() => new Set(hidden.value.split(' ')))
  const keysOf = new Map(
    [...groupBy(cells, ({ item }) => item.code)].map(([code, own]) => [code, own.map(({ key }) => key)]),
  )
  /**
   * An item that does not apply is not asked; one that is answered all the same stays visible, with its
   * doubt.
   */
  const isShown = (item: string): boolean =>
    !hiddenItems.value.has(item) || (keysOf.get(item) ?? []).some(key => hasAnswer(contents[key]))

  return { tried, took, isShown }
}
