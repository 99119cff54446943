import { dateFormat, numberFormat } from '../formats'
import { LANGUAGES } from '../languages'
import { wordsIn, type Edition, type Words } from '../report/edition'
import { parseDay } from '../calendar/day'
import { compile, type Compiled } from './compile'
import { signatureOf } from './functions'
import { DAY_PHRASES, fill, OPERATOR_PHRASES, PHRASES } from './phrases'
import { strength } from './print'
import { vocabularyOf } from './vocabulary'
import { isComparison, isLogic, type CallNode, type NameNode, type Node } from './syntax'

/**
 * A count of cases as it is called in each language; as it is printed where it no longer compiles.
 * @param text the count as it is printed
 * @example countWords(edition, 'count(measles_cases where age_years < 5)').en // the number of Measles cases …
 */
export function countWords(edition: Edition, text: string): Words {
  const compiled = compile(text, vocabularyOf(edition), 'number')
  return compiled.ok
    ? Object.fromEntries(LANGUAGES.map(language => [language, inWords(compiled.value, language)]))
    : { en: text }
}

/**
 * An expression as a plain sentence in a person's language: “Live births is at most Deliveries (at the
 * facility)”. Brackets stay where the sentence would else be read in another order.
 */
export function inWords(
  { tree, bindings, types }: Pick<Compiled, 'tree' | 'bindings' | 'types'>,
  language: string,
): string {
  const say = (phrase: Words, ...texts: string[]) => fill(wordsIn(phrase, language), ...texts)
  const number = numberFormat(language, { maximumFractionDigits: 20, useGrouping: false })

  const list = (texts: string[], joint: Words) =>
    texts.length > 1
      ? `${texts.slice(0, -1).join(', ')}${wordsIn(joint, language)}${texts.at(-1)}`
      : texts.join('')

  const name = (node: NameNode): string => {
    const reference = bindings.names.get(node)!
    const bands = reference.bands.map(({ axis, code }) =>
      wordsIn(
        reference.name.axes.find(one => one.code === axis)?.bands.find(band => band.code === code)?.name ?? {
          en: code,
        },
        language,
      ),
    )
    const label = wordsIn(reference.name.label, language)
    const qualified = [...(node.source ? [node.source.code] : []), ...bands]
    return qualified.length ? say(PHRASES.of, label, qualified.join(', ')) : label
  }

  /** A text beside a chosen name is one of its choices: its label is said. */
  const text = (value: string, beside?: Node): string => {
    const choice = beside && bindings.names.get(beside)?.name.choices?.find(one => one.code === value)
    const said = choice ? wordsIn(choice.label, language) : value
    return language.startsWith('fr') ? `« ${said} »` : `“${said}”`
  }

  const part = (node: Node, least: number, beside?: Node): string => {
    const said = of(node, beside)
    return strength(node) < least ? `(${said})` : said
  }

  const call = (node: CallNode): string => {
    const signature = signatureOf(node.name)!
    if (node.name === 'date' && node.args[0]?.type === 'text') {
      const day = parseDay(node.args[0].value)
      return day.ok
        ? dateFormat(language, { dateStyle: 'long', timeZone: 'UTC' }).format(day.value * 86_400_000)
        : node.args[0].value
    }
    const args = node.args.map(arg => part(arg, 6, node.args[0]))
    const short =
      signature.optional && node.args.length < signature.takes.length ? signature.saysShort : undefined
    return say(short ?? signature.says, ...args).replace('{all}', list(args, PHRASES.and))
  }

  const of = (node: Node, beside?: Node): string => {
    switch (node.type) {
      case 'number':
        return number.format(node.value)
      case 'truth':
        return wordsIn(node.value ? PHRASES.yes : PHRASES.no, language)
      case 'text':
        return text(node.value, beside)
      case 'mistake':
        return '…'
      case 'name':
        return name(node)
      case 'minus':
        return say(PHRASES.minus, part(node.operand, 8))
      case 'not':
        return say(PHRASES.not, part(node.operand, 4))
      case 'between':
        return say(PHRASES.between, part(node.operand, 6), part(node.low, 6), part(node.high, 6))
      case 'in':
        return say(
          PHRASES.in,
          part(node.operand, 6),
          list(
            node.choices.map(choice => part(choice, 6, node.operand)),
            PHRASES.or,
          ),
        )
      case 'count': {
        const counted = wordsIn(bindings.lists.get(node)!.label, language)
        return node.where ? say(PHRASES.countWhere, counted, of(node.where)) : say(PHRASES.count, counted)
      }
      case 'call':
        return call(node)
      case 'binary': {
        const { operator, left, right } = node
        const own = strength(node)
        const type = types.get(left)
        const phrase =
          isComparison(operator) && type === 'day'
            ? (DAY_PHRASES[operator] ?? OPERATOR_PHRASES[operator])
            : operator === '=' && type !== 'number'
              ? PHRASES.is
              : OPERATOR_PHRASES[operator]
        // “and” in “or” is read rightly only with brackets; a chain of one sign needs none.
        const looser = (child: Node) =>
          isLogic(operator) &&
          child.type === 'binary' &&
          isLogic(child.operator) &&
          child.operator !== operator
        const side = (child: Node, least: number, other: Node) =>
          looser(child) ? `(${of(child)})` : part(child, least, other)
        return say(
          phrase,
          side(left, own + (operator === 'implies' ? 1 : 0), right),
          side(right, own + (operator === 'implies' ? 0 : 1), left),
        )
      }
    }
  }
  return of(tree)
}
