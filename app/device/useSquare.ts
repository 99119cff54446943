/**
 * The largest side at which a picture is looked at for a square: enough to read one, little enough for a slow
 * telephone.
 */
const LARGEST = 1600

/**
 * The text of the square (QR code, ISO/IEC 18004) in what was drawn, or null. The reader is fetched when it
 * is first needed.
 */
export async function squareIn(
  picture: CanvasImageSource & { width?: number; height?: number },
  of: { width: number; height: number },
): Promise<string | null> {
  const { default: jsQR } = await import('jsqr')
  const scale = Math.min(1, LARGEST / Math.max(of.width, of.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(of.width * scale)
  canvas.height = Math.round(of.height * scale)
  const pen = canvas.getContext('2d', { willReadFrequently: true })!
  pen.drawImage(picture, 0, 0, canvas.width, canvas.height)
  const { data, width, height } = pen.getImageData(0, 0, canvas.width, canvas.height)
  return jsQR(data, width, height)?.data ?? null
}

/** The same for a picture from a file. */
export async function squareInPicture(file: Blob): Promise<string | null> {
  const picture = await createImageBitmap(file).catch(() => null)
  return picture && squareIn(picture, picture)
}
