import Dexie, { type EntityTable } from 'dexie'
import type { Change, ReportFile } from '#core/contract/reports'

/** A change that waits on this device until the district has said *received*. */
export interface WaitingChange extends Change {
  /** `person|round|unit` */
  place: string
  /** Keeps the order in which they were made. */
  seq: number
}

/** A report as the server last gave it, for opening it without a network. */
interface KeptFile {
  place: string
  file: ReportFile
}

class DeviceStore extends Dexie {
  changes!: EntityTable<WaitingChange, 'id'>
  files!: EntityTable<KeptFile, 'place'>

  constructor() {
    super('lantern')
    this.version(1).stores({ changes: 'id, place', files: 'place' })
  }
}

let store: DeviceStore | undefined

/** What this device keeps by itself, in the browser's own database. */
export function useDeviceStore(): DeviceStore {
  store ??= new DeviceStore()
  return store
}
