import type { InjectionKey } from 'vue'
import { hexOf } from '#core/encode'
import type { Attachment } from '#core/form/answer'
import { deviceNow } from '../common/useClock'
import { useDeskStore } from './useDeskStore'

/** Stores pictures and sounds while a form is filled; stores nothing where a form is only tried. */
export interface FilesHere {
  store: (attachment: Attachment, bytes: Uint8Array<ArrayBuffer>) => Promise<void>
  /** An object URL, or null when the file is not on this device. */
  show: (attachment: Attachment) => Promise<string | null>
}
export const FILES_HERE: InjectionKey<FilesHere> = Symbol('files')

/**
 * The longest side of a picture as it is stored, tried one after the other until it is small enough: at the
 * first a vaccination card stays readable, and it goes over a bad line.
 */
const LONGEST_SIDES = [1280, 960, 720, 540]
const QUALITY = 0.78

/**
 * Shrinks a picture. It is drawn again, which removes the camera's metadata: position and time.
 * @param largest how many bytes it may have; at the smallest side it may still have more.
 * @throws HardwareFailed `hardware-nothing` when the bytes are no picture.
 */
export async function shrinkPicture(picture: Blob, largest: number): Promise<Blob> {
  const seen = await createImageBitmap(picture).catch(() => {
    throw new HardwareFailed('hardware-nothing')
  })
  let made = await drawn(seen, LONGEST_SIDES[0]!)
  for (const side of LONGEST_SIDES.slice(1)) if (made.size > largest) made = await drawn(seen, side)
  return made
}

function drawn(seen: ImageBitmap, longest: number): Promise<Blob> {
  const scale = Math.min(1, longest / Math.max(seen.width, seen.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(seen.width * scale))
  canvas.height = Math.max(1, Math.round(seen.height * scale))
  canvas.getContext('2d')!.drawImage(seen, 0, 0, canvas.width, canvas.height)
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      made => (made ? resolve(made) : reject(new HardwareFailed('hardware-nothing'))),
      'image/jpeg',
      QUALITY,
    ),
  )
}

/** A file as an answer refers to it: by the SHA-256 hash of its bytes. */
export async function attachmentOf(
  file: Blob,
): Promise<{ attachment: Attachment; bytes: Uint8Array<ArrayBuffer> }> {
  const bytes = new Uint8Array(await file.arrayBuffer())
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes))
  return { attachment: { hash: hexOf(digest), bytes: bytes.length, mediaType: file.type }, bytes }
}

/** The files of this device. */
export function deskFiles(): FilesHere {
  const store = useDeskStore()
  return {
    store: async ({ hash, bytes: size, mediaType }, bytes) => {
      if (!(await store.files.get(hash)))
        await store.putFile({ hash, state: 'draft', bytes: size, mediaType, upTo: 0, at: deviceNow() }, bytes)
    },
    show: async ({ hash }) => {
      const stored = await store.bytesOf(hash)
      return stored && URL.createObjectURL(new Blob([stored.bytes], { type: stored.file.mediaType }))
    },
  }
}

const isAttachment = (value: unknown): value is Attachment =>
  typeof value === 'object' && value !== null && 'hash' in value
/** The pictures and sounds that some answers name. */
export const attachmentsIn = (
  answers: Readonly<Record<string, { kind: string; value?: unknown }>>,
): Attachment[] =>
  Object.values(answers).flatMap(content =>
    content.kind === 'value' && isAttachment(content.value) ? [content.value] : [],
  )
