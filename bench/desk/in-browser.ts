import { Key } from 'selenium-webdriver'
import { PHONE, PIN, Visitor } from '../../tests/support/browser'
import { Client } from '../../tests/support/client'
import { startDemo } from '../../tests/support/server'
import { measurement, median, percentile, type Measurement } from '../measure'
import { publishForm, type BenchForm } from './form'
import { bareContact, CASES, fillCases, UNIT } from './many-cases'
import { fullSpeed, seenAt, slowDown, watch, withoutMouse } from './slow-phone'

const CELLS = 500
/** Items of all kinds, in a form of their own. */
const OF_ALL_KINDS = 100
const WANTED = { kilobytes: 700, firstVisit: 5000, laterOpening: 1500 }
/** How long the list of cases took before only its first rows were made, in milliseconds. */
const LIST_WAS = 12_000
const SOUGHT = 'helene fair'
const FIELD = 'input[maxlength="100"]'
/** Below the first cases: how many more there are. */
const MORE_CASES = '.case ~ p.quiet'
/** How often a key is measured in each turn, and how many turns there are. */
const KEYS = 15
const TURNS = 3

const CARD = {
  name: 'Bench',
  unit: UNIT,
  uses: 5,
  days: 1,
  settings: {
    language: 'en',
    textSize: 'usual',
    wifiOnly: false,
    lockMinutes: 120,
    keepDays: 90,
    may: { openReports: true, changeSent: true, deleteDrafts: true, changeSettings: false },
  },
}

/** The first visit of a phone that has nothing yet, by the address in the square of its card. */
async function firstVisit(address: string, code: string): Promise<Measurement[]> {
  const phone = await Visitor.arrive(address, PHONE)
  try {
    await watch(phone, '#pair-code')
    await slowDown(phone, true)
    await phone.driver.get(`${address}/desk/pair#${code}`)
    const took = await seenAt(phone, '#pair-code')
    const bytes = await phone.run<number>(
      'return [...performance.getEntriesByType("navigation"), ...performance.getEntriesByType("resource")].filter(one => one.startTime < arguments[0]).reduce((sum, one) => sum + one.transferSize, 0)',
      took,
    )
    return [
      measurement(
        'first visit: transferred before its first screen',
        bytes / 1000,
        WANTED.kilobytes,
        'what is asked',
        'kB',
        1,
      ),
      measurement('first visit: to its first screen', took, WANTED.firstVisit, 'what is asked', 'ms', 1),
    ]
  } finally {
    await phone.leave()
  }
}

/**
 * Types into what has the focus, one key at a time, and tells how long each took to be on the screen with its
 * outcome.
 */
async function keys(phone: Visitor, text: readonly string[], outcome = ''): Promise<number[]> {
  await phone.run('window.__after("keydown", arguments[0])', outcome)
  for (const key of text) {
    await phone.type(key)
    await new Promise(resolve => {
      setTimeout(resolve, 250)
    })
  }
  const times = await phone.run<number[]>('return window.__times')
  await phone.run('window.__before.abort()')
  if (times.length !== text.length)
    throw new Error(`Of ${text.length} keys ${times.length} had their outcome.`)
  return times
}

/** Waits for the time of what `__after` watches, in milliseconds by the page's own clock. */
async function firstTime(phone: Visitor, what: string): Promise<number> {
  const times = () => phone.run<number[]>('return window.__times')
  await phone.driver.wait(async () => (await times()).length > 0, 120_000, what)
  return (await times())[0]!
}

/** Opens the desk anew without a network, and unlocks it. */
async function openAgain(phone: Visitor): Promise<{ locked: number; unlocked: number }> {
  await phone.driver.get('about:blank')
  await phone.driver.get(`${phone.address}/desk`)
  const locked = await seenAt(phone, '#pin')
  await (await phone.see('#pin')).sendKeys(PIN)
  await phone.run('window.__after("keydown", ".desk .list")')
  await phone.type(Key.ENTER)
  await phone.see('.desk .list')
  return { locked, unlocked: await firstTime(phone, 'the desk') }
}

/** Touches a link. @returns how long it took until something was on the screen, by the page's own clock */
async function follow(phone: Visitor, link: string, css: string, place = 'a'): Promise<number> {
  await phone.run('window.__after("click", arguments[0])', css)
  await phone.click(link, place)
  return firstTime(phone, css)
}

/** Opens a report from the list of what is due. @returns from the touch on its card to its first cell */
async function openReport(phone: Visitor, form: BenchForm): Promise<number> {
  await phone.see('.desk .list')
  return follow(phone, form.name, `input[data-cell="${form.cells[0]!}"]`)
}

/** Opens the large report and one of a single cell by turns. @returns the median of each */
async function opening(phone: Visitor, large: BenchForm, empty: BenchForm): Promise<[number, number]> {
  const times: [number[], number[]] = [[], []]
  for (let round = 0; round < 3; round++)
    for (const [at, form] of [empty, large].entries()) {
      times[at]!.push(await openReport(phone, form))
      if (round < 2 || form === empty) await phone.click('Due', 'nav a')
    }
  return [median(times[1]), median(times[0])]
}

/** In the open report: from a key to what is wrong with it. @returns how long each took */
async function checks(phone: Visitor, form: BenchForm): Promise<number[]> {
  // A nine is too much beside the one of the first cell, and its rule says so.
  await (await phone.enter(`input[data-cell="${form.cells[0]!}"]`)).sendKeys('1')
  const cell = form.cells[1]!
  const said = `[id="said-${cell}"]`
  await phone.enter(`input[data-cell="${cell}"]`)
  await withoutMouse(phone)
  const raised: number[] = []
  for (let round = 0; round < KEYS; round++) {
    raised.push(...(await keys(phone, ['9'], said)))
    await phone.type(Key.BACK_SPACE)
    await phone.until(
      async () => !(await phone.run<boolean>('return !!document.querySelector(arguments[0])', said)),
      'the doubt to be gone',
    )
  }
  return raised
}

/** A field, and a script that puts a line below it at each key. */
const EMPTY_PAGE = `
const page = document.createElement('main')
const field = document.createElement('input')
field.oninput = () => { const said = document.createElement('p'); said.className = 'said'; said.textContent = 'Too many.'; page.append(said) }
page.append(field)
document.body.prepend(page)
field.focus()`

/**
 * What a key takes in the one field of an empty page: what the browser itself needs on this phone.
 * @param address a page of the build that shows next to nothing, or a bare one
 */
async function emptyPage(phone: Visitor, address: string, shown: string): Promise<number[]> {
  await phone.driver.get('about:blank')
  await phone.driver.get(address)
  await phone.see(shown)
  await phone.run(EMPTY_PAGE)
  await withoutMouse(phone)
  const times: number[] = []
  for (let round = 0; round < KEYS; round++) {
    times.push(...(await keys(phone, ['9'], '.said')))
    await phone.run('document.querySelector(".said").remove()')
  }
  return times
}

/** The cases of the desk, and the search in them: until the list is there, and what each key took. */
async function search(phone: Visitor): Promise<{ opened: number; times: number[] }> {
  const opened = await follow(phone, 'Cases', MORE_CASES, 'nav a')
  const times: number[] = []
  for (let round = 0; round < 3; round++) {
    await phone.write(FIELD, '')
    await withoutMouse(phone)
    times.push(...(await keys(phone, [...SOUGHT])))
  }
  await phone.reads('Hélène Fairweather')
  return { opened, times }
}

/** A time of ours beside that of an empty page of the same build: in the median, and at the 95th percentile. */
const besideEmpty = (name: string, ours: readonly number[], empty: readonly number[]): Measurement[] => [
  measurement(`${name}, median`, median(ours), median(empty), 'an empty page of this build', 'ms', 2),
  measurement(
    `${name}, 95th percentile`,
    percentile(ours, 0.95),
    percentile(empty, 0.95),
    'an empty page of this build',
    'ms',
    3,
  ),
]

/** The desk on a slow phone, in a real Chromium. */
export async function inBrowser(): Promise<Measurement[]> {
  const server = await startDemo()
  try {
    const admin = await Client.signedIn(server.address, 'admin')
    const card = async () => (await admin.post<{ code: string }>('/api/pairing-cards', CARD)).body.code
    const found = await firstVisit(server.address, await card())
    const form = await publishForm(admin, CELLS)
    const small = await publishForm(admin, 1, 'empty')
    const mixed = await publishForm(admin, OF_ALL_KINDS, 'mixed', true)
    await fillCases(server.address, await card())
    const phone = await Visitor.arrive(server.address, PHONE)
    try {
      await watch(phone, '#pin')
      await phone.open(`/desk/pair#${await card()}`)
      await phone.click('Pair it')
      await phone.click('Go on to the desk')
      await phone.signInAtDesk(`clerk.${UNIT}`)
      await phone.click('Device', 'nav a')
      await phone.run('return navigator.serviceWorker.ready.then(() => true)')
      const begun = performance.now()
      await phone.driver.wait(
        async () => {
          const page = await phone.run<string>('return document.body.innerText')
          return ['It can work without a network', 'Contacts with the district'].every(text =>
            page.includes(text),
          )
        },
        300_000,
        'the first contact',
      )
      const contact = performance.now() - begun
      found.push(
        measurement(
          `first contact with ${CASES} cases`,
          contact,
          await bareContact(phone, server.address, await card()),
          'fetching and writing them',
          'ms',
          3,
        ),
      )
      await phone.network(false)
      await slowDown(phone, false)
      const again = [await openAgain(phone), await openAgain(phone), await openAgain(phone)]
      found.push(
        measurement(
          'a later opening without a network: to the PIN',
          median(again.map(({ locked }) => locked)),
          WANTED.laterOpening,
          'what is asked',
          'ms',
          1,
        ),
      )
      console.log(
        `from the PIN to what is due: ${median(again.map(({ unlocked }) => unlocked)).toFixed(0)} ms`,
      )
      const [ofLarge, ofSmall] = await opening(phone, form, small)
      // By turns, since what else the machine does comes and goes.
      const times = {
        form: [] as number[],
        mixed: [] as number[],
        search: [] as number[],
        list: [] as number[],
      }
      const empty = await emptyPage(phone, `${phone.address}/desk`, '#pin')
      for (let turn = 0; turn < TURNS; turn++) {
        await openAgain(phone)
        await openReport(phone, form)
        times.form.push(...(await checks(phone, form)))
        await phone.click('Due', 'nav a')
        await openReport(phone, mixed)
        times.mixed.push(...(await checks(phone, mixed)))
        const searched = await search(phone)
        times.list.push(searched.opened)
        times.search.push(...searched.times)
        empty.push(...(await emptyPage(phone, `${phone.address}/desk`, '#pin')))
      }
      const bare = await emptyPage(phone, 'data:text/html,<p>Empty</p>', 'p')
      console.log(
        `a key on a page without this build: ${median(bare).toFixed(1)} ms, 95th percentile ${percentile(bare, 0.95).toFixed(1)}`,
      )
      found.push(
        measurement(`a report of ${CELLS} cells: opens`, ofLarge, ofSmall, 'one of a single cell', 'ms', 2),
        ...besideEmpty('a report: a key to its check', times.form, empty),
        ...besideEmpty(`${OF_ALL_KINDS} items of all kinds: a key to its check`, times.mixed, empty),
        measurement(
          `the list of ${CASES} cases: opens`,
          median(times.list),
          LIST_WAS,
          'all rows at once',
          'ms',
          1 / 20,
        ),
        ...besideEmpty(`a key to what is found in ${CASES} cases`, times.search, empty),
      )
      await fullSpeed(phone)
      return found
    } finally {
      await phone.leave()
    }
  } finally {
    await server.stop()
  }
}
