import type { CarriedBack, CarriedOut } from '#core/contract/desk'
import { base64Of } from '#core/encode'
import { deviceNow } from '../common/useClock'
import { cacheDefinitions, cacheWork, applyEvents } from './useDeskReceive'
import { noteOutcomes } from './useDeskSend'
import { noteView } from './useDeskStanding'
import { useDeskStore } from './useDeskStore'
import { changeAsSent, changeOfEntry } from './useDeskWork'

/**
 * Sending by file: the same changes as over the network. The server applies each once, whichever way it comes
 * first.
 */
export function useSendByFile() {
  const words = useWords()
  const vault = useVault()
  const desk = useDesk()
  const problem = ref<string | null>(null)

  /**
   * Writes everything pending to a file; it stays pending until the server confirms it. @returns the number
   * of changes.
   */
  async function write(): Promise<number> {
    const { writeCarryFile } = await import('#core/protect/carry-file')
    const store = useDeskStore()
    const { device, district, keys, name } = vault.device!
    const entries = (await store.entries.where('state', 'waiting')).sort(
      (one, other) => one.seq! - other.seq!,
    )
    const changes = (await store.changes.where('state', 'waiting')).sort(
      (one, other) => one.seq! - other.seq!,
    )
    // From now on the server may have them.
    await store.changes.raw
      .where('id')
      .anyOf(changes.map(({ id }) => id))
      .modify({ left: true })
    const files: CarriedOut['files'] = []
    for (const { hash } of await store.files.where('state').equals('waiting').toArray()) {
      const { bytes } = (await store.bytesOf(hash))!
      files.push({ hash, bytes: bytes.length, data: base64Of(bytes) })
    }
    const content: CarriedOut = {
      person: vault.person!.id,
      clock: new Date(deviceNow()).toISOString(),
      files,
      changes: [...entries.map(changeOfEntry), ...changes.map(changeAsSent)],
    }
    saveFile(
      `${name} ${content.clock.slice(0, 16).replace(':', '')}.lantern`,
      'text/plain',
      await writeCarryFile(content, { id: device, key: keys!.sign }, district.agree),
    )
    return content.changes.length
  }

  /** Applies a reply file of the server. @returns whether it was applied. */
  async function read(file: Blob): Promise<boolean> {
    const { readCarryFile } = await import('#core/protect/carry-file')
    problem.value = null
    const store = useDeskStore()
    const { district, keys } = vault.device!
    const found = await readCarryFile(await file.text(), keys!.agree, id =>
      Promise.resolve(id === district.sign.x ? district.sign : null),
    )
    if (!found.ok) {
      problem.value = words.problem(found.problems[0]!)
      return false
    }
    const back = found.value.content as CarriedBack
    await noteOutcomes(store, back.outcomes, back.at)
    // Only the files that the server names are confirmed: a picture taken since then is still pending.
    await store.files.where('hash').anyOf(back.files).modify({ state: 'received' })
    await noteView(store, back.view)
    await cacheDefinitions(store, back.definitions, back.stamp)
    await applyEvents(store, back.events, back.cursor)
    await cacheWork(store, back.work)
    await desk.refresh()
    return true
  }
  return { problem, write, read }
}
