import { parentPort, workerData } from 'node:worker_threads'
import { startEngine, type Engine } from './engine'

/** What the server asks of the thread of the engine. */
export interface EngineAsk {
  id: number
  call: keyof Engine
  args: unknown[]
}
/** What it gets. An error keeps its code: it tells what kind of error it is. */
export type EngineAnswer =
  { id: number; value: unknown } | { id: number; error: { name: string; message: string; code?: string } }

const errorOf = (error: unknown) => {
  const { name, message, code } = error as Error & { code?: string }
  return { name, message, ...(typeof code === 'string' && { code }) }
}

/** Answers one ask after the other; what is asked meanwhile waits in the engine's own queue. */
function serve(engine: Engine): void {
  parentPort!.on('message', ({ id, call, args }: EngineAsk) => {
    const work = engine[call] as (...args: unknown[]) => Promise<unknown>
    Promise.resolve()
      .then(() => work(...args))
      .then(
        value => parentPort!.postMessage({ id, value } satisfies EngineAnswer),
        (error: unknown) => parentPort!.postMessage({ id, error: errorOf(error) } satisfies EngineAnswer),
      )
  })
}

startEngine((workerData as { data: string }).data).then(
  engine => {
    serve(engine)
    parentPort!.postMessage({ id: 0, value: null } satisfies EngineAnswer)
  },
  (error: unknown) => parentPort!.postMessage({ id: 0, error: errorOf(error) } satisfies EngineAnswer),
)
