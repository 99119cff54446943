import type { Visitor } from './browser'

const SET_DAY = `const field = arguments[0]
  field.value = arguments[1]
  field.dispatchEvent(new Event('input', { bubbles: true }))
  field.dispatchEvent(new Event('change', { bubbles: true }))`

/** Sets a day as the browser's own field takes it, whatever the order in which it shows its parts. */
export async function setDay(visitor: Visitor, css: string, day: string): Promise<void> {
  await visitor.run(SET_DAY, await visitor.see(css), day)
}

/** Chooses an answer of a question or an item that shows its choices side by side. */
export async function choose(visitor: Visitor, question: string, answer: string): Promise<void> {
  const place = `[data-question="${question}"]`
  await visitor.run('arguments[0].scrollIntoView({ block: "center" })', await visitor.see(place))
  await visitor.click(answer, `${place} button`)
}
