import { promiseTimeout } from '@vueuse/core'
import type { Position } from '#core/form/answer'
import { phoneName } from './useDeskStore'

/** The simulated hardware of a training phone: its network, clock, position and camera. */
export interface FakeHardware {
  network: boolean
  /** Delay of each request, in milliseconds. */
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

export const PLAIN_HARDWARE: FakeHardware = {
  network: true,
  slowness: 0,
  clockOff: 0,
  position: { latitude: -12.045, longitude: 44.21, accuracy: 8 },
  picture: null,
  code: null,
  wifi: true,
}

/** Set on a training phone; null on a real device. */
let fakeHardware: FakeHardware | null = null

/** A training phone accepts messages from the page around it only. */
export function listenToTrainingPage(): void {
  if (!phoneName() || window.parent === window) return
  fakeHardware = PLAIN_HARDWARE
  window.addEventListener(
    'message',
    ({ origin, source, data }: MessageEvent<{ fakeHardware?: FakeHardware }>) => {
      if (origin !== window.location.origin || source !== window.parent || !data.fakeHardware) return
      const back = data.fakeHardware.network && !fakeHardware?.network
      fakeHardware = data.fakeHardware
      window.dispatchEvent(
        new Event(data.fakeHardware.network ? (back ? 'online' : 'lantern-bench') : 'offline'),
      )
    },
  )
  window.parent.postMessage({ phone: window.name }, window.location.origin)
}

/** Runs before each request. @returns false when the simulated network is off. */
export async function networkLets(): Promise<boolean> {
  if (fakeHardware?.slowness) await promiseTimeout(fakeHardware.slowness)
  return fakeHardware?.network ?? true
}
export const deviceClockOff = (): number => fakeHardware?.clockOff ?? 0

/** Is this device on Wi-Fi? A browser that does not say counts as being on it. */
export function onWifi(): boolean {
  if (fakeHardware) return fakeHardware.wifi
  const type = (navigator as { connection?: { type?: string } }).connection?.type
  return type === undefined || type === 'wifi' || type === 'ethernet' || type === 'unknown'
}

/** Why the hardware gave nothing: not there, not allowed, or nothing found in time. */
export class HardwareFailed extends Error {
  constructor(
    readonly code: 'hardware-none' | 'hardware-not-allowed' | 'hardware-nothing' | 'not-at-office',
  ) {
    super(code)
  }
}

const POSITION_PATIENCE = 30_000
/** Where this device is. @throws HardwareFailed */
export function findPosition(): Promise<Position & { accuracy: number }> {
  const fake = fakeHardware
  if (fake)
    return fake.position
      ? Promise.resolve(fake.position)
      : Promise.reject(new HardwareFailed('hardware-nothing'))
  return new Promise((resolve, reject) => {
    if (!('geolocation' in navigator)) {
      reject(new HardwareFailed('hardware-none'))
      return
    }
    navigator.geolocation.getCurrentPosition(
      ({ coords }) =>
        resolve({ latitude: coords.latitude, longitude: coords.longitude, accuracy: coords.accuracy }),
      error =>
        reject(
          new HardwareFailed(
            error.code === error.PERMISSION_DENIED ? 'hardware-not-allowed' : 'hardware-nothing',
          ),
        ),
      { enableHighAccuracy: true, timeout: POSITION_PATIENCE },
    )
  })
}

/** A picture from the fake camera, or null: then the telephone's own camera is asked through a file field. */
export async function fakePicture(): Promise<Blob | null> {
  const picture = fakeHardware?.picture
  if (!picture) return null
  const [head, data] = picture.split(',') as [string, string]
  return new Blob([Uint8Array.from(atob(data), letter => letter.charCodeAt(0))], {
    type: /data:([^;]+)/.exec(head)?.[1] ?? 'image/png',
  })
}
export const fakeCode = (): string | null => fakeHardware?.code ?? null

/** The video stream of the camera. @throws HardwareFailed */
export async function openCamera(): Promise<MediaStream> {
  if (!('mediaDevices' in navigator) || fakeHardware) throw new HardwareFailed('hardware-none')
  return navigator.mediaDevices
    .getUserMedia({ video: { facingMode: 'environment' }, audio: false })
    .catch(() => {
      throw new HardwareFailed('hardware-not-allowed')
    })
}

export interface Recording {
  stop: () => Promise<Blob>
}

/** A second of a tone of 440 Hz, as a WAV file: what the fake microphone hears. */
function tone(): Blob {
  const RATE = 8000
  const samples = Uint8Array.from(
    { length: RATE },
    (_, at) => 128 + Math.round(60 * Math.sin((2 * Math.PI * 440 * at) / RATE)),
  )
  const head = new DataView(new ArrayBuffer(44))
  const text = (at: number, letters: string) =>
    [...letters].forEach((letter, place) => head.setUint8(at + place, letter.charCodeAt(0)))
  text(0, 'RIFF')
  head.setUint32(4, 36 + samples.length, true)
  text(8, 'WAVEfmt ')
  head.setUint32(16, 16, true)
  head.setUint16(20, 1, true)
  head.setUint16(22, 1, true)
  head.setUint32(24, RATE, true)
  head.setUint32(28, RATE, true)
  head.setUint16(32, 1, true)
  head.setUint16(34, 8, true)
  text(36, 'data')
  head.setUint32(40, samples.length, true)
  return new Blob([head, samples], { type: 'audio/wav' })
}

/** Begins to record. @throws HardwareFailed */
export async function recordSound(): Promise<Recording> {
  if (fakeHardware) return { stop: () => Promise.resolve(tone()) }
  if (!('mediaDevices' in navigator) || typeof MediaRecorder === 'undefined')
    throw new HardwareFailed('hardware-none')
  const stream = await navigator.mediaDevices.getUserMedia({ audio: true }).catch(() => {
    throw new HardwareFailed('hardware-not-allowed')
  })
  const recorder = new MediaRecorder(stream)
  const parts: Blob[] = []
  recorder.addEventListener('dataavailable', ({ data }) => parts.push(data))
  recorder.start()
  return {
    stop: () =>
      new Promise(resolve => {
        recorder.addEventListener('stop', () => {
          stream.getTracks().forEach(track => track.stop())
          resolve(new Blob(parts, { type: recorder.mimeType }))
        })
        recorder.stop()
      }),
  }
}
