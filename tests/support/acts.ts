import { Key } from 'selenium-webdriver'
import { setDay } from './answers'
import type { Visitor } from './browser'

/**
 * What a person does at a browser, counted: each click, key, choice, written field and pasted text is one
 * act.
 */
export class Acts {
  count = 0
  constructor(readonly visitor: Visitor) {}

  async click(text: string, css?: string): Promise<void> {
    this.count++
    await this.visitor.click(text, css)
  }

  /** Writes into a field, replacing what stands there. */
  async write(css: string, text: string): Promise<void> {
    this.count++
    await this.visitor.write(css, text)
  }

  async key(key: string): Promise<void> {
    this.count++
    await this.visitor.type(key)
  }

  /** Writes a line and presses Enter. */
  async line(css: string, text: string): Promise<void> {
    await this.write(css, text)
    await this.key(Key.ENTER)
  }

  /** Opens a list and chooses from it. */
  async pick(id: string, choice: string): Promise<void> {
    this.count += 2
    await this.visitor.pick(id, choice)
  }

  /** Chooses a unit by its name. */
  async unit(css: string, name: string): Promise<void> {
    this.count++
    await (await this.visitor.enter(css)).sendKeys(name)
    await this.click(name, '[role=option]')
  }

  /** A day, as the browser's own field takes it. */
  async day(css: string, text: string): Promise<void> {
    this.count++
    await setDay(this.visitor, css, text)
  }

  /** Pastes a text of many lines. */
  async paste(css: string, text: string): Promise<void> {
    this.count++
    await this.visitor.run(
      'arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event("input", { bubbles: true }))',
      await this.visitor.enter(css),
      text,
    )
  }

  /** Chooses a file of this computer. */
  async file(css: string, path: string): Promise<void> {
    this.count++
    await (await this.visitor.see(css)).sendKeys(path)
  }
}
