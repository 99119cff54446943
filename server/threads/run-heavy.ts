import { Worker } from 'node:worker_threads'
import { Refusal } from '../refusal'
import { threadFile } from '.'

/** The heavy calculations: `server/jobs/heavy-work.ts` says which function each is. */
export type HeavyName =
  'readBody' | 'readCarried' | 'readBundleText' | 'readSheets' | 'planUnits' | 'spansOfChanges'

/** What a thread gets. */
export interface HeavyAsk {
  name: HeavyName
  input: unknown
}
export type HeavyAnswer =
  | { value: unknown }
  | { refusal: { status: number; code: string; message: string; problems: Refusal['problems'] } }
  | { error: string }

/** More than these waiting means that the server has too much to do: the next is asked to come again. */
const MOST_WAITING = 100
/** Work that takes longer is ended: no right input needs so long. */
const LONGEST_MS = 60_000

let worker: Worker | null = null
let last: Promise<unknown> = Promise.resolve()
let waiting = 0

function revived(answer: HeavyAnswer): unknown {
  if ('value' in answer) return answer.value
  if ('error' in answer) throw new Error(answer.error)
  const { status, code, message, problems } = answer.refusal
  throw new Refusal(status, code, message, problems)
}

function askThread(file: string, ask: HeavyAsk): Promise<unknown> {
  const own = (worker ??= new Worker(file))
  own.unref()
  return new Promise((resolve, reject) => {
    const end = (settle: () => void) => {
      clearTimeout(timer)
      own.off('message', onMessage)
      own.off('error', onError)
      settle()
    }
    const restart = () => {
      worker = null
      void own.terminate()
    }
    const onMessage = (answer: HeavyAnswer) => end(() => resolve(answer))
    const onError = (error: Error) =>
      end(() => {
        restart()
        reject(error)
      })
    const timer = setTimeout(
      () =>
        end(() => {
          restart()
          reject(
            new Refusal(
              422,
              'too-heavy',
              'This is more work than the server can do at once. Try a smaller part of it.',
            ),
          )
        }),
      LONGEST_MS,
    )
    own.on('message', onMessage)
    own.on('error', onError)
    own.postMessage(ask)
  }).then(answer => revived(answer as HeavyAnswer))
}

/**
 * Runs a pure calculation in a thread, one after the other, so that it never blocks the event loop. Without a
 * build (tests, tools) it runs here.
 *
 * @param name under which `server/jobs/heavy-work.ts` lists the work. A bundler may rename functions, so
 *   their own names cannot be used.
 * @param work input and result must be copyable between threads
 * @throws Refusal 503 `busy`, 422 `too-heavy`, and what the work itself throws
 * @example await runHeavy('planUnits', planUnits, { histories, source, branch: null, memory: {}, lenient: false })
 */
export async function runHeavy<I, O>(name: HeavyName, work: (input: I) => O, input: I): Promise<Awaited<O>> {
  const file = threadFile('heavy-thread')
  if (!file) return await work(input)
  if (waiting >= MOST_WAITING)
    throw new Refusal(503, 'busy', 'The server has too much to do. Try again in a minute.', [], {
      'retry-after': '60',
    })
  waiting++
  const own = last.then(() => askThread(file, { name, input }))
  last = own.catch(() => undefined)
  return (await own.finally(() => {
    waiting--
  })) as Awaited<O>
}
