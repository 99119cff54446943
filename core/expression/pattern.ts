import { bad, good, type Result } from '../result'

/**
 * Patterns that cannot hang. A pattern becomes a small machine whose states are all followed at once, one
 * character after the other (the construction of Thompson, “Regular expression search algorithm”, 1968), so
 * the time grows with text × pattern and never with their powers, whatever stars stand inside stars. Back
 * references and look-around are not in the language: no such machine has them.
 */
export type Pattern = (text: string) => boolean

/** A pattern is short, and repeats count out to so many states at most. */
export const LONGEST_PATTERN = 200
const MOST_STATES = 2000

type Test = (character: string) => boolean
type Part =
  | { type: 'one'; test: Test }
  | { type: 'row' | 'either'; parts: Part[] }
  | { type: 'repeat'; part: Part; least: number; most: number }

const CLASSES: Record<string, Test> = {
  d: character => character >= '0' && character <= '9',
  w: character => /^\w$/.test(character),
  s: character => /^\s$/.test(character),
}
for (const [letter, test] of Object.entries(CLASSES))
  CLASSES[letter.toUpperCase()] = character => !test(character)

class PatternMistake extends Error {}

class PatternParser {
  private place = 0
  private readonly characters: string[]

  constructor(text: string) {
    this.characters = [...text]
  }

  whole(): Part {
    const part = this.either()
    if (this.place < this.characters.length)
      throw new PatternMistake(`“${this.characters[this.place]}” does not follow here.`)
    return part
  }

  private take(sign: string): boolean {
    if (this.characters[this.place] !== sign) return false
    this.place++
    return true
  }

  private either(): Part {
    const parts = [this.row()]
    while (this.take('|')) parts.push(this.row())
    return { type: 'either', parts }
  }

  private row(): Part {
    const parts: Part[] = []
    while (this.place < this.characters.length && !'|)'.includes(this.characters[this.place]!))
      parts.push(this.repeated())
    return { type: 'row', parts }
  }

  private repeated(): Part {
    let part = this.one()
    for (;;) {
      if (this.take('*')) part = { type: 'repeat', part, least: 0, most: Infinity }
      else if (this.take('+')) part = { type: 'repeat', part, least: 1, most: Infinity }
      else if (this.take('?')) part = { type: 'repeat', part, least: 0, most: 1 }
      else if (this.take('{')) part = this.counted(part)
      else return part
    }
  }

  private counted(part: Part): Part {
    const close = this.characters.indexOf('}', this.place)
    const found = /^(\d{1,3})(,(\d{1,3})?)?$/.exec(this.characters.slice(this.place, close).join(''))
    if (close < 0 || !found) throw new PatternMistake('A repeat is written {2}, {2,} or {2,4}.')
    this.place = close + 1
    const least = Number(found[1])
    const most = found[3] ? Number(found[3]) : found[2] ? Infinity : least
    if (most < least) throw new PatternMistake(`{${found[0]}} goes backwards.`)
    return { type: 'repeat', part, least, most }
  }

  private one(): Part {
    const character = this.characters[this.place++]!
    if (character === '(') {
      if (this.characters[this.place] === '?') throw new PatternMistake('“(?” is not in the language.')
      const inner = this.either()
      if (!this.take(')')) throw new PatternMistake('A bracket is not closed.')
      return inner
    }
    if (character === '[') return { type: 'one', test: this.set() }
    if ('*+?{'.includes(character))
      throw new PatternMistake(`There is nothing before “${character}” to repeat.`)
    if ('^$'.includes(character))
      throw new PatternMistake(`“${character}” is not needed: the whole text must match.`)
    if (character === '.') return { type: 'one', test: () => true }
    if (character === '\\') return { type: 'one', test: this.escaped() }
    return { type: 'one', test: other => other === character }
  }

  private escaped(): Test {
    const character = this.characters[this.place++]
    if (character === undefined) throw new PatternMistake('There is nothing after the last “\\”.')
    if (Object.hasOwn(CLASSES, character)) return CLASSES[character]!
    if (/[A-Za-z0-9]/.test(character)) throw new PatternMistake(`“\\${character}” is not in the language.`)
    return other => other === character
  }

  private set(): Test {
    const inverted = this.take('^')
    const tests: Test[] = []
    while (!this.take(']')) {
      const from = this.characters[this.place++]
      if (from === undefined) throw new PatternMistake('“[” is not closed.')
      if (from === '\\') tests.push(this.escaped())
      else if (
        this.characters[this.place] === '-' &&
        this.characters[this.place + 1] !== ']' &&
        this.characters[this.place + 1] !== undefined
      ) {
        const to = this.characters[this.place + 1]!
        this.place += 2
        if (to < from) throw new PatternMistake(`${from}-${to} goes backwards.`)
        tests.push(character => character >= from && character <= to)
      } else tests.push(character => character === from)
    }
    return character => tests.some(test => test(character)) !== inverted
  }
}

/** A state reads one character (`test`, then `next`), or goes on to others without reading (`next` only). */
export interface State {
  test?: Test
  next: number[]
}

function machineOf(part: Part): State[] {
  const states: State[] = []
  const add = (state: State) => {
    if (states.length >= MOST_STATES)
      throw new PatternMistake(`The repeats count out to more than ${MOST_STATES} places.`)
    return states.push(state) - 1
  }
  /**
   * Builds a part that leads to the state `to`; returns where it begins. Built from the end to the beginning.
   */
  const build = (part: Part, to: number): number => {
    switch (part.type) {
      case 'one':
        return add({ test: part.test, next: [to] })
      case 'row':
        return part.parts.reduceRight((after, one) => build(one, after), to)
      case 'either':
        return part.parts.length === 1
          ? build(part.parts[0]!, to)
          : add({ next: part.parts.map(one => build(one, to)) })
      case 'repeat': {
        let from = to
        if (part.most === Infinity) {
          const loop = add({ next: [to] })
          states[loop]!.next.unshift(build(part.part, loop))
          from = loop
        } else {
          for (let more = part.least; more < part.most; more++)
            from = add({ next: [build(part.part, from), to] })
        }
        for (let once = 0; once < part.least; once++) from = build(part.part, from)
        return from
      }
    }
  }
  const accept = add({ next: [] })
  add({ next: [build(part, accept)] })
  return states
}

/**
 * The machine of a pattern: it begins at the last state and ends at the first. Errors: `pattern` with the
 * reason.
 */
export function readPattern(text: string): Result<State[]> {
  if (text.length > LONGEST_PATTERN)
    return bad({ code: 'pattern', message: `A pattern has at most ${LONGEST_PATTERN} characters.` })
  try {
    return good(machineOf(new PatternParser(text).whole()))
  } catch (error) {
    if (error instanceof PatternMistake) return bad({ code: 'pattern', message: error.message })
    throw error
  }
}

/**
 * Reads a pattern. Errors: `pattern` with the reason. The whole text must match, so `^` and `$` are not
 * needed.
 */
export function parsePattern(text: string): Result<Pattern> {
  const states = readPattern(text)
  return states.ok ? good(runs(states.value)) : states
}

function runs(states: readonly State[]): Pattern {
  const start = states.length - 1
  const reach = (into: Set<number>, from: number) => {
    const stack = [from]
    while (stack.length) {
      const at = stack.pop()!
      if (into.has(at)) continue
      into.add(at)
      if (!states[at]!.test) stack.push(...states[at]!.next)
    }
  }
  return text => {
    let here = new Set<number>()
    reach(here, start)
    for (const character of text) {
      const after = new Set<number>()
      for (const at of here) if (states[at]!.test?.(character)) reach(after, states[at]!.next[0]!)
      if (after.size === 0) return false
      here = after
    }
    return here.has(0)
  }
}
