import { createRequire } from 'node:module'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { Builder, By, error, Key, logging, type WebDriver, type WebElement } from 'selenium-webdriver'
import chrome from 'selenium-webdriver/chrome.js'
import { CHROMEDRIVER, CHROMIUM } from '../../scripts/browser.mjs'
import { PASSWORD } from './server'

export const OFFICE = { width: 1280, height: 800 }
export const PHONE = { width: 360, height: 740 }
/** Two browsers share a machine that others may use too: what takes seconds alone may take ten times as long. */
const PATIENCE = Number(process.env.LANTERN_PATIENCE ?? 90_000)
/** The PIN of every clerk in the tests. */
export const PIN = '284613'
const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/**
 * Looks for the first enabled element that shows a text, in one call: a page may have a hundred buttons, and each
 * question to the driver costs some milliseconds.
 */
const FIND_BY_TEXT = `
  const [css, text] = arguments
  const shown = one => one.getClientRects().length > 0 && getComputedStyle(one).visibility === 'visible'
  return [...document.querySelectorAll(css)].find(one => !one.disabled && shown(one)
    && (one.innerText ?? one.textContent).replace(/\\s+/g, ' ').toLowerCase().includes(text)) ?? null`

/**
 * Looks for a choice of the open list, and says where it stands. It is scrolled only as far as the list must move:
 * a page that scrolls carries the open list away from under the pointer. The choice notes that it was pressed.
 */
const FIND_CHOICE = `
  const options = [...document.querySelectorAll('.p-select-overlay [role=option]')]
  const option = options.find(one => one.innerText.trim() === arguments[0]) ?? null
  option?.scrollIntoView({ block: 'nearest' })
  option?.addEventListener('mousedown', () => (window.pressedChoice = arguments[0]), { once: true })
  const { x, y } = option?.getBoundingClientRect() ?? {}
  return [option, x + ' ' + y]`

/** What a click says when the list went away from under it. */
const isGone = (reason: unknown) =>
  reason instanceof error.StaleElementReferenceError ||
  reason instanceof error.ElementClickInterceptedError ||
  reason instanceof error.ElementNotInteractableError

/** One person at a real Chromium. */
export class Visitor {
  private constructor(
    readonly driver: WebDriver,
    readonly address: string,
    private readonly profile: string,
    readonly size: typeof OFFICE,
  ) {}

  /** @param profile where an earlier browser kept what it has; a new one begins with nothing. */
  static async arrive(
    address: string,
    size = OFFICE,
    language = 'en-GB',
    profile = mkdtempSync(join(tmpdir(), 'lantern-chromium-')),
  ): Promise<Visitor> {
    const options = new chrome.Options()
    options.setChromeBinaryPath(CHROMIUM)
    options.addArguments(
      '--headless=new',
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--force-prefers-reduced-motion',
      `--user-data-dir=${profile}`,
      `--lang=${language}`,
      `--accept-lang=${language}`,
    )
    const wanted = new logging.Preferences()
    wanted.setLevel('browser', logging.Level.ALL)
    options.setLoggingPrefs(wanted)
    const driver = await new Builder()
      .forBrowser('chrome')
      .setChromeOptions(options)
      .setChromeService(new chrome.ServiceBuilder(CHROMEDRIVER))
      .build()
    const visitor = new Visitor(driver, address, profile, size)
    await visitor.command('Emulation.setDeviceMetricsOverride', {
      ...size,
      deviceScaleFactor: 1,
      mobile: size.width < 600,
    })
    return visitor
  }

  private command = (name: string, params: object) =>
    (
      this.driver as unknown as { sendDevToolsCommand: (name: string, params: object) => Promise<void> }
    ).sendDevToolsCommand(name, params)

  async leave(): Promise<void> {
    await this.driver.quit()
    rmSync(this.profile, { recursive: true, force: true })
  }

  /**
   * Kills the browser, as a battery does that is empty. @returns the browser that is started after it, with
   * what was on its disk.
   */
  async dieAndComeBack(language = 'en-GB'): Promise<Visitor> {
    process.kill((await this.driver.getCapabilities()).get('goog:processID') as number, 'SIGKILL')
    await this.driver.quit().catch((reason: unknown) => {
      if (!(reason instanceof error.WebDriverError)) throw reason
    })
    const back = await Visitor.arrive(this.address, this.size, language, this.profile)
    back.hasPin = this.hasPin
    return back
  }

  /**
   * Moves the clock of the pages that are opened from now on. @param hours how far it is off; a page may move
   * it itself by `__off`.
   */
  clock = (hours: number) =>
    this.command('Page.addScriptToEvaluateOnNewDocument', {
      source: `{
    window.__off = ${hours} * 3600000
    const right = window.__right ??= Date.now.bind(Date)
    Date.now = () => right() + window.__off
    window.Date = new Proxy(Date, { construct: (of, given) => (given.length ? new of(...given) : new of(Date.now())) })
  }`,
    })

  /** Opens an address. A locked desk is unlocked on the way, as its person does. */
  async open(path: string): Promise<void> {
    await this.driver.get(this.address + path)
    if (!this.hasPin || !path.startsWith('/desk')) return
    await this.until(
      async () => (await this.driver.findElements(By.css('.desk, #pin'))).length > 0,
      'the desk to open',
    )
    if ((await this.driver.findElements(By.css('#pin'))).length) await this.unlock()
  }

  private hasPin = false
  async unlock(pin = PIN): Promise<void> {
    await (await this.see('#pin')).sendKeys(pin, Key.ENTER)
    await this.see('.desk')
  }
  /** Whoever signs in at the desk chooses a PIN. */
  async choosePin(): Promise<void> {
    await (await this.see('#pin')).sendKeys(PIN)
    await (await this.see('#pin-again')).sendKeys(PIN, Key.ENTER)
    await this.see('.desk')
    this.hasPin = true
  }

  /** Keeps what this browser downloads in a folder. */
  downloads = (folder: string) =>
    (this.driver as unknown as { setDownloadPath: (path: string) => Promise<void> }).setDownloadPath(folder)

  at = async () => new URL(await this.driver.getCurrentUrl()).pathname

  async signIn(userName: string): Promise<void> {
    await this.open('/sign-in')
    await (await this.see('#user-name')).sendKeys(userName)
    await (await this.see('#password')).sendKeys(PASSWORD, Key.ENTER)
    await this.driver.wait(async () => (await this.at()) !== '/sign-in', PATIENCE, 'signing in')
    if (userName.startsWith('clerk')) await this.choosePin()
  }

  /** Signs in at a paired device, and chooses a PIN there. */
  async signInAtDesk(userName: string): Promise<void> {
    await (await this.see('#user-name')).sendKeys(userName)
    await (await this.see('#password')).sendKeys(PASSWORD, Key.ENTER)
    await this.choosePin()
  }

  /** The element of a CSS selector, once it is there and shown. */
  async see(css: string): Promise<WebElement> {
    const shown = async () => {
      const element = (await this.driver.findElements(By.css(css)))[0]
      // A list that is read anew replaces what was found: it is looked for again.
      return element && (await element.isDisplayed().catch(() => false)) ? element : null
    }
    return (await this.driver.wait(shown, PATIENCE, `to see ${css}`))!
  }

  /** Waits until the page says a text. */
  async reads(text: string | RegExp): Promise<string> {
    let page = ''
    const says = async () => {
      page = await this.driver.executeScript<string>('return document.body.innerText')
      return typeof text === 'string' ? page.includes(text) : text.test(page)
    }
    await this.driver.wait(says, PATIENCE).catch(() => {
      throw new Error(`The page does not say ${String(text)}. It says:\n${page.slice(0, 3000)}`)
    })
    return page
  }

  /**
   * Clicks what has this text, among the elements of a selector. What is covered by a dialog that is just closing is
   * clicked when that has gone. @param until how long it may be covered, as `performance.now()` says it
   */
  async click(
    text: string,
    css = 'button, a, [role=tab], summary',
    until = performance.now() + PATIENCE,
  ): Promise<void> {
    const find = () => this.driver.executeScript<WebElement | null>(FIND_BY_TEXT, css, text.toLowerCase())
    const element = await this.driver.wait(find, PATIENCE).catch(async () => {
      throw new Error(
        `There is no “${text}” to click. The page says:\n${(await this.driver.executeScript<string>('return document.body.innerText')).slice(0, 3000)}`,
      )
    })
    try {
      await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', element)
      await this.still()
      await element!.click()
    } catch (failure) {
      const isCovered = failure instanceof error.ElementClickInterceptedError && performance.now() < until
      if (!isCovered && !(failure instanceof error.StaleElementReferenceError)) throw failure
      await this.click(text, css, until)
    }
  }

  /** Waits until nothing moves: on a dialog that still opens, a click goes past what it was meant for. */
  still = () =>
    this.until(
      () =>
        this.driver.executeScript<boolean>(
          'return document.getAnimations().every(one => one.playState !== "running" || one.effect.getTiming().iterations === Infinity)',
        ),
      'the page to be still',
    )

  /** Scrolls to a field, as a person does, and puts the cursor into it. */
  async enter(css: string): Promise<WebElement> {
    const field = await this.see(css)
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', field)
    await field.click()
    return field
  }

  /**
   * Chooses from a list that opens: the field by its id, the choice by its words. A list closes when the page under
   * it scrolls, and is placed again when the page above it grows: it is clicked once it stands where it stood a
   * moment before, and opened again as long as the click did not meet the choice.
   */
  async pick(id: string, choice: string): Promise<void> {
    await this.run('window.pressedChoice = null')
    let before = ''
    const press = async () => {
      const field = await this.see(`#${id}`)
      if ((await field.getAttribute('aria-expanded')) !== 'true') await this.enter(`#${id}`)
      const [option, place] = await this.run<[WebElement | null, string]>(FIND_CHOICE, choice)
      if (option && place === before) await option.click()
      before = place
    }
    await this.driver.wait(
      async () => {
        await press().catch((reason: unknown) => {
          if (!isGone(reason)) throw reason
        })
        return (await this.run('return window.pressedChoice')) === choice
      },
      PATIENCE,
      `to choose “${choice}” of #${id}`,
    )
    await this.until(
      async () => !(await this.driver.findElements(By.css('.p-select-overlay'))).length,
      'the list to close',
    )
  }

  /** Writes into a field in the place of what stands there. */
  async write(css: string, text: string): Promise<void> {
    const field = await this.enter(css)
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), Key.BACK_SPACE, text)
  }

  /** Saves an entry of a case on a device. What the form says may stand on the case as well: the page itself goes. */
  async saveCase(): Promise<void> {
    await this.click('Save', '.foot button')
    await this.until(async () => !(await this.at()).startsWith('/desk/cases/fill'), 'the entry to be saved')
  }

  /** Waits until the draft that is worked on is with the server. */
  saved = () =>
    this.until(
      async () =>
        (await this.driver.executeScript<string>(
          'return document.querySelector(".save-state")?.innerText ?? ""',
        )) === 'Saved',
      'the draft to be saved',
    )

  keys = (...keys: string[]) =>
    this.driver
      .actions()
      .sendKeys(...keys)
      .perform()
  type = (...keys: string[]) =>
    this.driver
      .switchTo()
      .activeElement()
      .sendKeys(...keys)
  run = <T>(script: string, ...args: unknown[]) => this.driver.executeScript<T>(script, ...args)
  until = (condition: () => Promise<boolean>, said: string) => this.driver.wait(condition, PATIENCE, said)

  /**
   * Cuts the network off for real, service worker included, or brings it back. A desk is cut off once it could be
   * opened without a network: until then the browser has nothing to open.
   */
  async network(there: boolean): Promise<void> {
    if (!there && (await this.at()).startsWith('/desk'))
      await this.run('return navigator.serviceWorker.ready.then(() => true)')
    const driver = this.driver as unknown as {
      setNetworkConditions: (of: object) => Promise<void>
      deleteNetworkConditions: () => Promise<void>
    }
    if (there) await driver.deleteNetworkConditions()
    else
      await driver.setNetworkConditions({
        offline: true,
        latency: 0,
        download_throughput: 0,
        upload_throughput: 0,
      })
  }

  /**
   * What axe-core finds wrong with the page, as lines to read. What still fades in is pale, and not yet to be
   * judged; what stands in a frame is a page of its own.
   */
  async axe(): Promise<string[]> {
    await this.still()
    if (!(await this.driver.executeScript('return Boolean(window.axe)'))) await this.driver.executeScript(AXE)
    const { violations } = await this.driver.executeAsyncScript<{
      violations: { id: string; help: string; nodes: { html: string; failureSummary: string }[] }[]
    }>(
      'const done = arguments[0]; axe.run(document, { iframes: false, resultTypes: ["violations"] }).then(done, error => done({ violations: [{ id: "axe", help: String(error), nodes: [] }] }))',
    )
    return violations.map(
      ({ id, help, nodes }) =>
        `${id}: ${help}: ${nodes
          .slice(0, 3)
          .map(({ html, failureSummary }) => `${html.slice(0, 200)} ${failureSummary}`)
          .join(' | ')}`,
    )
  }

  /**
   * Errors in the browser's console since the last time; those that a test brought about are named in `but`.
   */
  async consoleErrors(but?: RegExp): Promise<string[]> {
    const entries = await this.driver.manage().logs().get('browser')
    return entries
      .filter(({ level, message }) => level.name === 'SEVERE' && !but?.test(message))
      .map(({ message }) => message)
  }

  /**
   * What is wrong with the page: for axe-core, and in the console. Errors that a test brought about are named
   * in `but`.
   */
  faults = async (but?: RegExp): Promise<string[]> => [
    ...(await this.axe()),
    ...(await this.consoleErrors(but)),
  ]

  /** Takes a picture of the screen; its folder is made where it is missing. */
  async picture(file: string): Promise<void> {
    mkdirSync(dirname(file), { recursive: true })
    writeFileSync(file, await this.driver.takeScreenshot(), 'base64')
  }
}
