import { createRequire } from 'node:module'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Builder, By, Key, logging, until, type WebDriver, type WebElement } from 'selenium-webdriver'
import chrome from 'selenium-webdriver/chrome'
import { CHROMEDRIVER, CHROMIUM } from '../../scripts/browser.mjs'
import { PASSWORD } from './server'

export const OFFICE = { width: 1280, height: 800 }
export const PHONE = { width: 360, height: 740 }
const PATIENCE = 15_000
const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** One person at a real Chromium. */
export class Visitor {
  private constructor(readonly driver: WebDriver, readonly address: string, private readonly profile: string, readonly size: typeof OFFICE) {}

  static async arrive(address: string, size = OFFICE, language = 'en-GB'): Promise<Visitor> {
    const profile = mkdtempSync(join(tmpdir(), 'lantern-chromium-'))
    const options = new chrome.Options()
    options.setChromeBinaryPath(CHROMIUM)
    options.addArguments('--headless=new', '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking',
      '--disable-component-update', '--disable-sync', `--user-data-dir=${profile}`, `--lang=${language}`, `--accept-lang=${language}`)
    const wanted = new logging.Preferences()
    wanted.setLevel('browser', logging.Level.ALL)
    options.setLoggingPrefs(wanted)
    const driver = await new Builder().forBrowser('chrome').setChromeOptions(options).setChromeService(new chrome.ServiceBuilder(CHROMEDRIVER)).build()
    const visitor = new Visitor(driver, address, profile, size)
    await visitor.command('Emulation.setDeviceMetricsOverride', { ...size, deviceScaleFactor: 1, mobile: size.width < 600 })
    return visitor
  }

  private command = (name: string, params: object) => (this.driver as unknown as { sendDevToolsCommand: (name: string, params: object) => Promise<void> }).sendDevToolsCommand(name, params)

  async leave(): Promise<void> {
    await this.driver.quit()
    rmSync(this.profile, { recursive: true, force: true })
  }

  open = (path: string) => this.driver.get(this.address + path)
  at = async () => new URL(await this.driver.getCurrentUrl()).pathname

  async signIn(userName: string): Promise<void> {
    await this.open('/sign-in')
    await (await this.see('#user-name')).sendKeys(userName)
    await (await this.see('#password')).sendKeys(PASSWORD, Key.ENTER)
    await this.driver.wait(async () => await this.at() !== '/sign-in', PATIENCE, 'signing in')
  }

  /** The element of a CSS selector, once it is there and shown. */
  async see(css: string): Promise<WebElement> {
    const element = await this.driver.wait(until.elementLocated(By.css(css)), PATIENCE, `to see ${css}`)
    return this.driver.wait(until.elementIsVisible(element), PATIENCE, `${css} to be shown`)
  }

  /** Waits until the page says a text. */
  async reads(text: string | RegExp): Promise<string> {
    let page = ''
    const says = async () => {
      page = await this.driver.executeScript<string>('return document.body.innerText')
      return typeof text === 'string' ? page.includes(text) : text.test(page)
    }
    await this.driver.wait(says, PATIENCE).catch(() => { throw new Error(`The page does not say ${String(text)}. It says:\n${page.slice(0, 3000)}`) })
    return page
  }

  /** Clicks what has this text, among the elements of a selector. */
  async click(text: string, css = 'button, a, [role=tab], summary'): Promise<void> {
    const find = async () => {
      for (const element of await this.driver.findElements(By.css(css))) {
        const shown = await element.getText().catch(() => '')
        if (shown.replace(/\s+/g, ' ').toLowerCase().includes(text.toLowerCase()) && await element.isEnabled()) return element
      }
      return null
    }
    const element = await this.driver.wait(find, PATIENCE, `to find “${text}”`)
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', element)
    await element!.click()
  }

  /** Scrolls to a field, as a person does, and puts the cursor into it. */
  async enter(css: string): Promise<WebElement> {
    const field = await this.see(css)
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', field)
    await field.click()
    return field
  }

  keys = (...keys: string[]) => this.driver.actions().sendKeys(...keys).perform()
  type = (...keys: string[]) => this.driver.switchTo().activeElement().sendKeys(...keys)
  run = <T>(script: string, ...args: unknown[]) => this.driver.executeScript<T>(script, ...args)
  until = (condition: () => Promise<boolean>, said: string) => this.driver.wait(condition, PATIENCE, said)

  /** Cuts the network off for real, service worker included, or brings it back. */
  async network(there: boolean): Promise<void> {
    const driver = this.driver as unknown as { setNetworkConditions: (of: object) => Promise<void>; deleteNetworkConditions: () => Promise<void> }
    if (there) await driver.deleteNetworkConditions()
    else await driver.setNetworkConditions({ offline: true, latency: 0, download_throughput: 0, upload_throughput: 0 })
  }

  /** What axe-core finds wrong with the page, as lines to read. */
  async axe(): Promise<string[]> {
    await this.driver.executeScript(AXE)
    const { violations } = await this.driver.executeAsyncScript<{ violations: { id: string; help: string; nodes: { html: string; failureSummary: string }[] }[] }>(
      'const done = arguments[0]; axe.run(document).then(done, error => done({ violations: [{ id: "axe", help: String(error), nodes: [] }] }))')
    return violations.map(({ id, help, nodes }) => `${id}: ${help}: ${nodes.slice(0, 3).map(({ html, failureSummary }) => `${html.slice(0, 200)} ${failureSummary}`).join(' | ')}`)
  }

  /** Errors in the browser's console since the last time; those that a test brought about are named in `but`. */
  async consoleErrors(but?: RegExp): Promise<string[]> {
    const entries = await this.driver.manage().logs().get('browser')
    return entries.filter(({ level, message }) => level.name === 'SEVERE' && !but?.test(message)).map(({ message }) => message)
  }

  async picture(file: string): Promise<void> {
    writeFileSync(file, await this.driver.takeScreenshot(), 'base64')
  }
}
