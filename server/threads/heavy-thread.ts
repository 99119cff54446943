import { parentPort } from 'node:worker_threads'
import { Refusal } from '../http/refusal'
import { HEAVY_WORK, type HeavyName } from './heavy-work'

export interface HeavyAsk {
  name: HeavyName
  input: never
}
export type HeavyAnswer =
  | { value: unknown }
  | { refusal: { status: number; code: string; message: string; problems: Refusal['problems'] } }
  | { error: string }

async function answer({ name, input }: HeavyAsk): Promise<HeavyAnswer> {
  try {
    return { value: await HEAVY_WORK[name](input) }
  } catch (error) {
    if (!(error instanceof Refusal))
      return { error: error instanceof Error ? (error.stack ?? error.message) : String(error) }
    const { status, code, message, problems } = error
    return { refusal: { status, code, message, problems } }
  }
}

parentPort!.on('message', (ask: HeavyAsk) => {
  void answer(ask).then(found => parentPort!.postMessage(found))
})
