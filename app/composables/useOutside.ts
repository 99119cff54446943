import type { Position } from '#core/form/answer'
import { phoneName } from './useDeskStore'

/** What a bench phone is told to be: its network, its clock, where it is, what its camera sees. */
export interface StandIn {
  network: boolean
  /** Wait before each request, in milliseconds. */
  slowness: number
  /** How far its clock is from the right one, in milliseconds. */
  clockOff: number
  /** Where it is; null: no position is found. */
  position: (Position & { accuracy: number }) | null
  /** What its camera sees, as a data address; null: there is no camera. */
  picture: string | null
  /** What its scanner reads. */
  code: string | null
  wifi: boolean
}

export const PLAIN_STAND_IN: StandIn = { network: true, slowness: 0, clockOff: 0, position: { latitude: -12.045, longitude: 44.21, accuracy: 8 }, picture: null, code: null, wifi: true }

/** Set on a phone of the bench; null on a real device. */
let standIn: StandIn | null = null

/** A phone of the bench listens to the page that it stands on, and to nobody else. */
export function listenToBench(): void {
  if (!phoneName() || window.parent === window) return
  standIn = PLAIN_STAND_IN
  window.addEventListener('message', ({ origin, source, data }: MessageEvent<{ standIn?: StandIn }>) => {
    if (origin !== window.location.origin || source !== window.parent || !data.standIn) return
    const back = data.standIn.network && !standIn?.network
    standIn = data.standIn
    window.dispatchEvent(new Event(data.standIn.network ? (back ? 'online' : 'lantern-bench') : 'offline'))
  })
  window.parent.postMessage({ phone: window.name }, window.location.origin)
}

const wait = (milliseconds: number) => new Promise<void>((resolve) => { setTimeout(resolve, milliseconds) })

/** Goes before each request. @returns false when there is no network. */
export async function networkLets(): Promise<boolean> {
  if (standIn?.slowness) await wait(standIn.slowness)
  return standIn?.network ?? true
}
export const deviceClockOff = (): number => standIn?.clockOff ?? 0

/** Is the network one that may be used where only Wi-Fi may? A browser that does not say is believed to be on one. */
export function onWifi(): boolean {
  if (standIn) return standIn.wifi
  const type = (navigator as { connection?: { type?: string } }).connection?.type
  return type === undefined || type === 'wifi' || type === 'ethernet' || type === 'unknown'
}

/** Why the outside gave nothing: no such part, not allowed, or nothing found in time. */
export class OutsideFailed extends Error {
  constructor(readonly code: 'outside-none' | 'outside-not-allowed' | 'outside-nothing') { super(code) }
}

const POSITION_PATIENCE = 30_000
/** Where this device is. @throws OutsideFailed */
export function findPosition(): Promise<Position & { accuracy: number }> {
  const told = standIn
  if (told) return told.position ? Promise.resolve(told.position) : Promise.reject(new OutsideFailed('outside-nothing'))
  return new Promise((resolve, reject) => {
    if (!('geolocation' in navigator)) { reject(new OutsideFailed('outside-none')); return }
    navigator.geolocation.getCurrentPosition(
      ({ coords }) => resolve({ latitude: coords.latitude, longitude: coords.longitude, accuracy: coords.accuracy }),
      error => reject(new OutsideFailed(error.code === error.PERMISSION_DENIED ? 'outside-not-allowed' : 'outside-nothing')),
      { enableHighAccuracy: true, timeout: POSITION_PATIENCE })
  })
}

/** A picture from the stand-in camera, or null: then the telephone's own camera is asked through a file field. */
export async function standInPicture(): Promise<Blob | null> {
  const picture = standIn?.picture
  if (!picture) return null
  const [head, data] = picture.split(',') as [string, string]
  return new Blob([Uint8Array.from(atob(data), letter => letter.charCodeAt(0))], { type: /data:([^;]+)/.exec(head)?.[1] ?? 'image/png' })
}
export const standInCode = (): string | null => standIn?.code ?? null

/** The picture of the camera as it moves. @throws OutsideFailed */
export async function openCamera(): Promise<MediaStream> {
  if (!('mediaDevices' in navigator) || standIn) throw new OutsideFailed('outside-none')
  return navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' }, audio: false }).catch(() => { throw new OutsideFailed('outside-not-allowed') })
}

export interface Recording { stop: () => Promise<Blob> }

/** A second of a tone of 440 Hz, as a WAV file: what the stand-in microphone hears. */
function tone(): Blob {
  const RATE = 8000
  const samples = Uint8Array.from({ length: RATE }, (_, at) => 128 + Math.round(60 * Math.sin(2 * Math.PI * 440 * at / RATE)))
  const head = new DataView(new ArrayBuffer(44))
  const text = (at: number, letters: string) => [...letters].forEach((letter, place) => head.setUint8(at + place, letter.charCodeAt(0)))
  text(0, 'RIFF'); head.setUint32(4, 36 + samples.length, true); text(8, 'WAVEfmt ')
  head.setUint32(16, 16, true); head.setUint16(20, 1, true); head.setUint16(22, 1, true)
  head.setUint32(24, RATE, true); head.setUint32(28, RATE, true); head.setUint16(32, 1, true); head.setUint16(34, 8, true)
  text(36, 'data'); head.setUint32(40, samples.length, true)
  return new Blob([head, samples], { type: 'audio/wav' })
}

/** Begins to record. @throws OutsideFailed */
export async function recordSound(): Promise<Recording> {
  if (standIn) return { stop: () => Promise.resolve(tone()) }
  if (!('mediaDevices' in navigator) || typeof MediaRecorder === 'undefined') throw new OutsideFailed('outside-none')
  const stream = await navigator.mediaDevices.getUserMedia({ audio: true }).catch(() => { throw new OutsideFailed('outside-not-allowed') })
  const recorder = new MediaRecorder(stream)
  const parts: Blob[] = []
  recorder.addEventListener('dataavailable', ({ data }) => parts.push(data))
  recorder.start()
  return {
    stop: () => new Promise((resolve) => {
      recorder.addEventListener('stop', () => {
        stream.getTracks().forEach(track => track.stop())
        resolve(new Blob(parts, { type: recorder.mimeType }))
      })
      recorder.stop()
    }),
  }
}
