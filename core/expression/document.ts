import { printDay } from '../calendar/day'
import { compile } from './compile'
import { evaluateRow } from './evaluate-row'
import { FUNCTIONS, type Parameter, type Signature } from './functions'
import { inWords } from './in-words'
import { must } from '../result'
import { EXAMPLE_TODAY, EXAMPLE_VOCABULARY, exampleTable } from './worked-examples'

/** The forms that are no functions, each with one worked line. */
const FORMS: [form: string, does: string, example: string][] = [
  [
    '`+ - * /`',
    'Arithmetic. With a blank it is blank; a division by zero is blank, and noted.',
    'live_births / deliveries * 100',
  ],
  [
    '`= != < <= > >=`',
    'Comparison of two numbers or two days; texts and chosen codes only with = and !=. With a blank it is unknown. Decimals within a billionth of each other are equal: 0.3 + 0.6 is 0.9. Whole numbers are equal only when they are.',
    'live_births <= deliveries',
  ],
  ['`between … and …`', 'From the one to the other, both in.', 'doses_used between 50 and 100'],
  ['`in (…)`', 'One of some values.', 'classification in ("confirmed", "probable")'],
  [
    '`not and or implies`',
    'Logic of three values, as SQL has it: false and unknown is false, true or unknown is true.',
    'measles > 0 implies filled(seen_on)',
  ],
  [
    '`item[band]`',
    'One band of a breakdown, or one cell of two axes (`item[u20, facility]`); without brackets the sum over all. A band code that two axes share says its axis: `item[age.unknown]`.',
    'deliveries[u20]',
  ],
  [
    '`dataset.item`',
    'An item of another dataset of the same unit, rolled up to this period.',
    'weekly_diseases.measles',
  ],
  [
    '`count(register where …)`',
    'Cases of the unit whose counting date falls in the period and that meet a condition. One of which it is unknown is not counted.',
    'count(measles_cases where classification = "confirmed" and age_years < 5)',
  ],
]

const TYPES: Record<Parameter, string> = {
  number: 'number',
  truth: 'yes/no',
  text: 'text',
  day: 'day',
  answers: 'answers',
  any: 'anything',
  ordered: 'numbers or days',
  same: 'anything, all alike',
}

function signature(name: string, { takes, gives, optional = 0, rest }: Signature): string {
  const places = takes.map((type, at) => (at >= takes.length - optional ? `[${TYPES[type]}]` : TYPES[type]))
  return `\`${name}(${places.join(', ')}${rest ? ', …' : ''})\` → ${gives === 'same' ? 'the same' : TYPES[gives]}`
}

/** The result of an example, as the documentation shows it. */
export function workedResult(text: string): string {
  const compiled = must(compile(text, EXAMPLE_VOCABULARY))
  const value = evaluateRow(compiled, exampleTable(), 0, { today: EXAMPLE_TODAY })
  if (value === null) return compiled.type === 'truth' ? 'unknown' : 'blank'
  if (compiled.type === 'truth') return value === 1 ? 'true' : 'false'
  if (compiled.type === 'day') return printDay(Number(value))
  return typeof value === 'number' ? String(Math.round(value * 1000) / 1000) : `"${value}"`
}

/** The page docs/expressions.md, made from the functions themselves; a test holds the page against it. */
export function expressionsPage(): string {
  const line = (form: string, does: string, example: string) =>
    `| ${form.replaceAll('|', '\\|')} | ${does.replaceAll('|', '\\|')} | \`${example.replaceAll('|', '\\|')}\` | ${workedResult(example)} |`
  const table = (heading: string, lines: string[]) => [
    `## ${heading}`,
    '',
    '| form | what it does | worked line | gives |',
    '| --- | --- | --- | --- |',
    ...lines,
    '',
  ]
  const spoken = [
    'live_births <= deliveries',
    'count(measles_cases where classification = "confirmed") = measles',
    'previous(deliveries, 3) > 0 implies live_births > 0',
  ].flatMap(text => {
    const compiled = must(compile(text, EXAMPLE_VOCABULARY))
    return [
      `- \`${text}\``,
      `  - English: ${inWords(compiled, 'en')}.`,
      `  - French: ${inWords(compiled, 'fr')}.`,
    ]
  })
  return [
    '# Expressions',
    '',
    '<!-- Made from core/expression by its test: change the code, run `LANTERN_WRITE=1 npx vitest run core/expression/document`, look, commit. -->',
    '',
    'One small language for rules, computed answers, conditions and indicators, the same on the server, in the browser and on the offline device. A name is the code of an item or question. Texts stand in `"…"` (a quote inside is doubled), days are `date("2026-10-05")`, truths are `true` and `false`.',
    '',
    'Blank is not zero: arithmetic with a blank is blank, a comparison with a blank is unknown, and a rule that is unknown is *not judged*: neither pass nor fail. Like is compared with like: doses are not added to days, and a text is not compared with a number; each mistake is told before anything runs, with its place.',
    '',
    'The worked lines are computed on one report of October 2026: deliveries 14 under 20 and 46 of 20 and over; live births 58; measles 3; 75 doses used; nothing yet in `not_yet`; seen on 2026-10-05; village Eastfold; symptoms fever and rash. In the month before, deliveries were 50, then 52, 54, … further back. Today is 2026-11-09.',
    '',
    ...table(
      'Signs and forms',
      FORMS.map(([form, does, example]) => line(form, does, example)),
    ),
    ...table(
      'Functions',
      Object.entries(FUNCTIONS).map(([name, of]) => line(signature(name, of), of.does.en!, of.example)),
    ),
    '## In plain words',
    '',
    'Each expression can be said as a sentence, in the language of its reader:',
    '',
    ...spoken,
    '',
    '## Limits',
    '',
    'A text has at most 2,000 characters, brackets are nested at most 60 deep, a function looks back at most 60 periods, a pattern has at most 200 characters. Patterns are matched in time proportional to the text, so none can hang.',
    '',
  ].join('\n')
}
