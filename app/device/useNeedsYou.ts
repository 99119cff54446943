import type { DeskRegister } from '#core/contract/desk-register'
import type { ReportFile } from '#core/contract/reports'
import type { RoundRef, UnitRef } from '#core/contract/common'
import { groupBy } from '#core/group-by'
import type { CellContent } from '#core/report/cell'
import { cellsOf, nameCell, type Item } from '#core/report/edition'
import { useDesk } from './useDesk'
import { useDeskStore, type StoredEntry, type WaitingChange } from './useDeskStore'
import { isClosedCode, reportKey, reportLink } from './useDeskWork'

/** One thing that the district did not take. */
export interface NeedsYouLine {
  id: string
  kind: 'cell' | 'send' | 'comment' | 'answer' | 'entry' | 'file' | 'caseAct'
  /** The cell's name, or what was written. */
  name: string
  content: CellContent | null
  /** The item that the content is of, where it is known. */
  item: Item | null
  /** The code of the reason, and what the district office wrote. */
  why: string
  said?: string
}

/** What belongs together: a report, a question, a case, or the pictures. */
export interface NeedsYouGroup {
  key: string
  title: string
  unit: UnitRef | null
  /** Where it can be looked at; null where there is no page of its own. */
  to: string | null
  /** All of it goes by itself when the district lets the facility in. */
  isClosed: boolean
  lines: NeedsYouLine[]
}

/**
 * Everything on this device that the district did not take, by report, question and case; and what can be
 * done about it.
 */
export function useNeedsYou() {
  const store = useDeskStore()
  const desk = useDesk()
  const words = useWords()
  const { t } = words

  async function fileOf(round: string, unit: string): Promise<ReportFile | null> {
    return (
      ((await store.serverCache.get('key', reportKey(round, unit)))?.answer as ReportFile | undefined) ?? null
    )
  }

  function lineOf({ id, change, why, said, theirs }: WaitingChange, file: ReportFile | null): NeedsYouLine {
    const code = theirs ? 'conflict' : (why ?? 'server')
    const cell =
      change.kind === 'cell' || change.kind === 'comment'
        ? file && cellsOf(file.edition).find(({ key }) => key === change.cell)
        : null
    const name =
      change.kind === 'caseAct'
        ? t(`caseLife.${change.act.act}`)
        : cell
          ? nameCell(cell, words.locale.value)
          : 'text' in change
            ? change.text
            : 'cell' in change
              ? change.cell
              : t('send.send')
    return {
      id,
      kind: change.kind as NeedsYouLine['kind'],
      name,
      content: change.kind === 'cell' ? change.content : null,
      item: cell?.item ?? null,
      why: code,
      ...(said && { said }),
    }
  }

  const titleOf = ({ name, period }: Pick<RoundRef, 'name' | 'period'>) =>
    `${words.say(name)}, ${words.period(period)}`

  async function groupOf(place: string, changes: WaitingChange[]): Promise<NeedsYouGroup> {
    const { change } = changes[0]!
    const isClosed = changes.every(({ why }) => isClosedCode(why))
    if (change.kind === 'answer')
      return {
        key: place,
        title: t('needsYou.answer'),
        unit: null,
        to: `/desk/questions/${change.discrepancy}`,
        isClosed,
        lines: changes.map(one => lineOf(one, null)),
      }
    if (change.kind === 'caseAct')
      return {
        key: place,
        title: t('caseLife.title'),
        unit: null,
        to: `/desk/cases/${change.case}`,
        isClosed,
        lines: changes.map(one => lineOf(one, null)),
      }
    const { round, unit } = change as { round: string; unit: string }
    const file = await fileOf(round, unit)
    return {
      key: place,
      title: file ? titleOf(file.round) : round,
      unit: file?.unit ?? { code: unit, name: unit },
      to: reportLink('report', round, unit),
      isClosed,
      lines: changes.map(one => lineOf(one, file)),
    }
  }

  async function entryGroups(entries: readonly StoredEntry[]): Promise<NeedsYouGroup[]> {
    const registers =
      ((await store.serverCache.get('key', 'registers'))?.answer as DeskRegister[] | undefined) ?? []
    const nameOf = (code: string) =>
      registers.find(({ register }) => register === code)?.definition.name ?? { en: code }
    return [...groupBy(entries, entry => entry.case)].map(([of, ofCase]) => ({
      key: of,
      title: words.say(nameOf(ofCase[0]!.register)),
      unit: null,
      to: `/desk/cases/${of}`,
      isClosed: false,
      lines: ofCase.map(({ id, why, form }) => ({
        id,
        kind: 'entry' as const,
        name: words.say(
          registers.flatMap(({ definition }) => definition.forms).find(one => one.form.code === form)?.form
            .name ?? { en: form },
        ),
        content: null,
        item: null,
        why: why ?? 'server',
      })),
    }))
  }

  const load = useLoad(
    async (): Promise<NeedsYouGroup[]> => {
      const places = groupBy(await store.changes.where('state', 'needsYou'), ({ place }) => place)
      const groups = await Promise.all([...places].map(([place, changes]) => groupOf(place, changes)))
      const files = await store.files.where('state').equals('refused').toArray()
      return [
        ...groups,
        ...(await entryGroups(await store.entries.where('state', 'refused'))),
        ...(files.length
          ? [
              {
                key: 'files',
                title: t('needsYou.files'),
                unit: null,
                to: null,
                isClosed: false,
                lines: files.map(({ hash, mediaType }) => ({
                  id: hash,
                  kind: 'file' as const,
                  name: mediaType,
                  content: null,
                  item: null,
                  why: 'file-kind',
                })),
              },
            ]
          : []),
      ]
    },
    () => desk.changes.value,
  )

  /** Offers a group to the district once more. */
  async function sendAgain(group: NeedsYouGroup): Promise<void> {
    for (const { id, kind } of group.lines) {
      if (kind === 'entry') await store.entries.set('id', id, { state: 'waiting' })
      else if (kind === 'file') await store.files.update(id, { state: 'waiting', upTo: 0 })
      else await store.changes.set('id', id, { state: 'waiting' })
    }
    await desk.refresh()
    await desk.sync(true)
  }

  /** Takes a group off this device, for good. */
  async function remove(group: NeedsYouGroup): Promise<void> {
    const idsOf = (isOf: (line: NeedsYouLine) => boolean) => group.lines.filter(isOf).map(({ id }) => id)
    await store.entries.remove(
      'id',
      idsOf(({ kind }) => kind === 'entry'),
    )
    await store.files.bulkDelete(idsOf(({ kind }) => kind === 'file'))
    await store.changes.remove(
      'id',
      idsOf(({ kind }) => kind !== 'entry' && kind !== 'file'),
    )
    await desk.refresh()
  }

  return { load, sendAgain, remove }
}
