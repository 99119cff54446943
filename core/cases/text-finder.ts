/** Stands between two texts. No part that is sought has one: parts are words. */
const BETWEEN = '\n'

/**
 * Finds words in many short texts. The texts are joined to one: on a slow phone, looking through that takes half of the
 * time of looking into each of 20,000, which lie scattered in memory.
 *
 * @example new TextFinder(['ila marsh', 'tavi osk', 'osk marsh']).find(['marsh', 'osk']) // [2]
 */
export class TextFinder {
  private readonly joined: string
  /** Where each text begins in the joined one. */
  private readonly starts: Uint32Array

  /** @param texts folded as what is sought */
  constructor(private readonly texts: readonly string[]) {
    this.joined = texts.join(BETWEEN)
    this.starts = new Uint32Array(texts.length)
    let start = 0
    for (const [at, text] of texts.entries()) {
      this.starts[at] = start
      start += text.length + BETWEEN.length
    }
  }

  /**
   * The places of the texts in which all parts stand, in their order.
   * @param parts without white space; without any, every text is found
   */
  find(parts: readonly string[]): number[] {
    // The longest stands in the fewest texts, as a rule; the others are looked for in those only.
    const [longest = '', ...others] = [...parts].sort((one, other) => other.length - one.length)
    if (!longest) return [...this.texts.keys()]
    const found: number[] = []
    let text = 0
    for (let at = this.joined.indexOf(longest); at !== -1;) {
      while (text + 1 < this.texts.length && this.starts[text + 1]! <= at) text++
      if (others.every(part => this.texts[text]!.includes(part))) found.push(text)
      // On from the next text: one text is found once.
      if (text + 1 === this.texts.length) break
      at = this.joined.indexOf(longest, this.starts[text + 1])
    }
    return found
  }
}
