import { Key } from 'selenium-webdriver'
import type { CaseRegister } from '#core/cases/register'
import type { Edition } from '#core/report/edition'
import { Visitor } from '../../tests/support/browser'
import { startDemo } from '../../tests/support/server'
import { measurement, type Measurement } from '../measure'

/** The longest task that the browser may have while somebody types. */
const LONGEST = 100
const QUESTIONS = 300
const CELLS = 500
const TEXT = 'Counted anew from the ward book, page by page.'

const words = (en: string) => ({ en, fr: en })
const register: CaseRegister = {
  code: 'long_register',
  name: words('A long form'),
  subject: 'person',
  line: ['question_0'],
  identity: { identifiers: [] },
  countingDate: 'seen_on',
  rules: [],
  forms: [
    {
      role: 'registration',
      many: false,
      eventDate: 'seen_on',
      form: {
        code: 'long',
        name: words('Long'),
        parts: [
          { kind: 'date', code: 'seen_on', label: words('Seen on') },
          ...Array.from({ length: 10 }, (_, section) => ({
            kind: 'section' as const,
            code: `section_${section}`,
            label: words(`Section ${section}`),
            parts: Array.from({ length: QUESTIONS / 10 }, (_two, at) => {
              const number = section * (QUESTIONS / 10) + at
              return {
                kind: 'wholeNumber' as const,
                code: `question_${number}`,
                label: words(`Question ${number}`),
                most: 100,
                ...(number > 0 && {
                  shownWhen: `not filled(question_${number - 1}) or question_${number - 1} > 0`,
                }),
              }
            }),
          })),
        ],
      },
    },
  ],
}
const edition: Edition = {
  dataset: 'wide_dataset',
  number: 1,
  name: words('A wide dataset'),
  frequency: 'month',
  timing: { opensAhead: 0, dueDays: 7, closeDays: 14 },
  axes: [
    {
      code: 'age',
      name: words('Age'),
      bands: ['under_1', 'a1_4', 'a5_14', 'a15_49', 'a50plus'].map(code => ({ code, name: words(code) })),
    },
  ],
  rules: [],
  indicators: [],
  sections: Array.from({ length: 10 }, (_, section) => ({
    code: `section_${section}`,
    name: words(`Section ${section}`),
    items: Array.from({ length: CELLS / 50 }, (_two, at) => ({
      code: `item_${section}_${at}`,
      name: words(`Item ${section} ${at}`),
      definition: words('What is counted.'),
      unitOfMeasure: 'count',
      kind: 'wholeNumber' as const,
      rollUp: 'sum' as const,
      range: { method: 'modifiedZ' as const, limit: 3.5, raises: 'explain' as const },
      axes: ['age'],
    })),
  })),
}

const WATCH = `window.__tasks = []; new PerformanceObserver(list => window.__tasks.push(...list.getEntries().map(entry => entry.duration))).observe({ type: 'longtask', buffered: false })`

/**
 * Types a text key by key, with the pauses of a fast typist and one of a second, so that the draft is kept
 * and the trial follows.
 */
async function typed(visitor: Visitor, css: string): Promise<{ longest: number; over: number }> {
  await visitor.enter(css)
  await visitor.run(WATCH)
  for (const letter of TEXT) {
    await visitor.type(letter)
    await new Promise(resolve => setTimeout(resolve, 60))
  }
  await visitor.type(Key.END)
  await new Promise(resolve => setTimeout(resolve, 2500))
  const tasks = await visitor.run<number[]>('return window.__tasks')
  return { longest: Math.max(1, ...tasks), over: tasks.filter(task => task > LONGEST).length }
}

/** From the address to what can be worked on, application and all. */
async function opened(visitor: Visitor, path: string, ready: string): Promise<number> {
  const begun = performance.now()
  await visitor.open(path)
  await visitor.see(ready)
  return performance.now() - begun
}

/**
 * A form of 300 questions and a dataset of 500 cells in a real Chromium: the longest task while typing, by
 * the browser's own timing.
 */
export async function typing(): Promise<Measurement[]> {
  const server = await startDemo()
  const visitor = await Visitor.arrive(server.address)
  try {
    await visitor.signIn('officer.ashmere')
    const put = (url: string, body: object) =>
      visitor.run<number>(
        'return fetch(arguments[0], { method: "PUT", headers: { "content-type": "application/json" }, body: JSON.stringify(arguments[1]) }).then(answer => answer.status)',
        url,
        body,
      )
    const statuses = [
      await put('/api/registers/long_register', { version: 0, draft: register }),
      await put('/api/drafts/wide_dataset', {
        version: 0,
        draft: edition,
        reports: [{ by: 'unit', unit: 'millrace', from: '2026-11-01', to: null }],
      }),
    ]
    if (statuses.some(status => status !== 200))
      throw new Error(`The long form and dataset were refused: ${statuses.join(', ')}`)
    const found: Measurement[] = []
    for (const [name, path, ready, field] of [
      [
        `a form of ${QUESTIONS} questions`,
        '/define/register/long_register?part=forms&chosen=question_150',
        '#label-en',
        '#label-en',
      ],
      [
        `a dataset of ${CELLS} cells`,
        '/define/dataset/wide_dataset?part=items&chosen=item_5_5',
        '#definition-en',
        '#definition-en',
      ],
    ] as const) {
      const plain = await opened(visitor, '/define/lists', '[aria-label="New list"]')
      const took = await opened(visitor, path, ready)
      found.push(measurement(`${name}: opens`, took, plain, 'the emptiest page of Define', 'ms', 2))
      await visitor.see('.phone')
      const { longest, over } = await typed(visitor, field)
      found.push(
        measurement(
          `${name}: longest task while typing${over ? ` (${over} over)` : ''}`,
          longest,
          LONGEST,
          'what is asked',
          'ms',
          1,
        ),
      )
    }
    return found
  } finally {
    await visitor.leave()
    await server.stop()
  }
}
