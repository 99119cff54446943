import { ApiProblem } from './useApi'

/** Gives a person a file that was made in the browser. */
export function saveFile(name: string, type: string, text: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  // The browser has begun to read it by then; at once would be too early for some.
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}

/** The bytes of a file in base64 (RFC 4648). @throws ApiProblem `file-unreadable`. */
export const base64Of = async (file: Blob): Promise<string> =>
  (await dataAddressOf(file)).replace(/^data:[^,]*,/, '')

/** The bytes of a file as a data address (RFC 2397). @throws ApiProblem `file-unreadable`. */
export const dataAddressOf = (file: Blob) =>
  new Promise<string>((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(String(reader.result))
    reader.onerror = () => reject(new ApiProblem(-1, 'file-unreadable', ''))
    reader.readAsDataURL(file)
  })
