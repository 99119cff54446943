import type { CarriedBack, CarriedOut } from '#core/contract/desk'
import { base64Of } from '#core/encode'
import { deviceNow } from './useClock'
import { keepDefinitions, keepWork, takeInEvents } from './useDeskReceive'
import { noteOutcomes } from './useDeskSend'
import { useDeskStore } from './useDeskStore'
import { changeAsSent, changeOfEntry } from './useDeskWork'

/** Work carried by file: the same changes as by the network, once each, whichever way they come first. */
export function useCarry() {
  const words = useWords()
  const vault = useVault()
  const desk = useDesk()
  const problem = ref<string | null>(null)

  /** Writes all that waits into a file. It stays on this device until the district has said that it has it. @returns how many changes. */
  async function write(): Promise<number> {
    const { writeCarryFile } = await import('#core/protect/carry-file')
    const store = useDeskStore()
    const { device, district, keys, name } = vault.device!
    const entries = (await store.entries.where('state', 'waiting')).sort((one, other) => one.seq! - other.seq!)
    const changes = (await store.changes.where('state', 'waiting')).sort((one, other) => one.seq! - other.seq!)
    // From now on the district may have them.
    await store.changes.raw.where('id').anyOf(changes.map(({ id }) => id)).modify({ left: true })
    const files: CarriedOut['files'] = []
    for (const { hash } of await store.files.where('state').equals('waiting').toArray()) {
      const { bytes } = (await store.bytesOf(hash))!
      files.push({ hash, bytes: bytes.length, data: base64Of(bytes) })
    }
    const content: CarriedOut = {
      person: vault.person!.id, clock: new Date(deviceNow()).toISOString(), files,
      changes: [...entries.map(changeOfEntry), ...changes.map(changeAsSent)],
    }
    saveFile(`${name} ${content.clock.slice(0, 16).replace(':', '')}.lantern`, 'text/plain', await writeCarryFile(content, { id: device, key: keys!.sign }, district.agree))
    return content.changes.length
  }

  /** Takes in a file that the district wrote to this device. @returns whether it was taken in. */
  async function read(file: Blob): Promise<boolean> {
    const { readCarryFile } = await import('#core/protect/carry-file')
    problem.value = null
    const store = useDeskStore()
    const { district, keys } = vault.device!
    const found = await readCarryFile(await file.text(), keys!.agree, id => Promise.resolve(id === district.sign.x ? district.sign : null))
    if (!found.ok) {
      problem.value = words.problem(found.problems[0]!)
      return false
    }
    const back = found.value.content as CarriedBack
    await noteOutcomes(store, back.outcomes, back.at)
    // Only what the district names is there: a picture that was taken since the file was written still waits.
    await store.files.where('hash').anyOf(back.files).modify({ state: 'received' })
    await keepDefinitions(store, back.definitions, back.stamp)
    await takeInEvents(store, back.events, back.cursor)
    await keepWork(store, back.work)
    await desk.told()
    return true
  }
  return { problem, write, read }
}
