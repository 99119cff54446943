import { Worker } from 'node:worker_threads'
import { threadFile } from '../threads'
import { FolderDamaged } from './data-folder'
import { DiskFailed } from './durable-files'
import { startEngine, type Engine } from './engine'
import type { EngineAnswer, EngineAsk } from './engine-thread'

/** Errors that the server tells apart by their class, which a message between threads does not carry. */
const CLASSES: Record<string, new (message: string) => Error> = { FolderDamaged, DiskFailed }

function revived({ name, message, code }: { name: string; message: string; code?: string }): Error {
  const error = new (CLASSES[name] ?? Error)(message)
  return Object.assign(error, { name }, code && { code })
}

/** Starts the engine in a thread of its own. Each call is one message there and one back. */
async function startInThread(file: string, data: string): Promise<Engine> {
  const worker = new Worker(file, { workerData: { data } })
  const waiting = new Map<number, { resolve: (value: never) => void; reject: (error: Error) => void }>()
  let last = 0
  const settle = (answer: EngineAnswer) => {
    const asked = waiting.get(answer.id)
    waiting.delete(answer.id)
    if ('error' in answer) asked?.reject(revived(answer.error))
    else asked?.resolve(answer.value as never)
  }
  const ask = <T>(send: (id: number) => void, id = ++last) =>
    new Promise<T>((resolve, reject) => {
      waiting.set(id, { resolve, reject })
      send(id)
    })
  const call = <T>(name: keyof Engine, ...args: unknown[]) =>
    ask<T>(id => worker.postMessage({ id, call: name, args } satisfies EngineAsk))
  worker.on('message', settle)
  worker.on('error', error => {
    for (const { reject } of waiting.values()) reject(error)
    waiting.clear()
  })
  await ask(() => undefined, 0)
  return {
    query: (text, params) => call<object[]>('query', text, params),
    exec: text => call('exec', text),
    sync: () => call('sync'),
    copyTo: folder => call('copyTo', folder),
    async close() {
      await call('close')
      await worker.terminate()
    },
  }
}

/** Starts the engine: in a thread where the build has one, else here (tests, tools). @throws FolderDamaged */
export function openEngine(data: string): Promise<Engine> {
  const file = threadFile('engine-thread')
  return file ? startInThread(file, data) : startEngine(data)
}
