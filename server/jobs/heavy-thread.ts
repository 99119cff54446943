import { parentPort } from 'node:worker_threads'
import { Refusal } from '../refusal'
import type { HeavyAnswer, HeavyAsk } from '../threads/run-heavy'
import { HEAVY_WORK } from './heavy-work'

async function answer({ name, input }: HeavyAsk): Promise<HeavyAnswer> {
  try {
    return { value: await HEAVY_WORK[name](input as never) }
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
