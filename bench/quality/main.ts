/**
 * `npm run quality`: how many of the people who are registered twice are found, by what was written down
 * otherwise, and how many who are only alike are asked about. Writes docs/quality-of-checks.md. The people are
 * generated from a fixed seed: two runs write the same.
 */
import { writeFileSync } from 'node:fs'
import { findDuplicates } from '#core/matching/duplicates'
import { subjectOf, type Subject } from '#core/matching/subject'
import { randomWhole } from '../core/data'
import { person, SCRIPTS, type Person } from './people'
import { again, SLIPS, TRAPS } from './slips'

const EACH = 25
const REGISTER = {
  identity: {
    name: 'name',
    birthDate: 'born',
    ageYears: 'age',
    sex: 'sex',
    place: 'place',
    identifiers: ['phone'],
  },
  countingDate: 'seen',
}

/** The subject of a case in which a person is written down. */
function subject(id: string, { given, family, born, age, sex, place, phone }: Person): Subject {
  const answers = { name: `${given} ${family}`.trim(), born, age, sex, place, phone, seen: '2026-06-30' }
  const values = Object.entries(answers).flatMap(([key, value]) =>
    value === null ? [] : [[key, { content: { kind: 'value' as const, value } }] as const],
  )
  return subjectOf(REGISTER, { case: id, values: new Map(values) })
}

const random = randomWhole(20261109)
const subjects: Subject[] = []
/** Pairs that are one person, or only alike, by what differs and the script. */
const made: { key: string; kind: string; script: string; isSame: boolean }[] = []
for (const script of SCRIPTS)
  for (const [isSame, kinds] of [
    [true, SLIPS],
    [false, TRAPS],
  ] as const)
    for (const [kind, change] of Object.entries(kinds))
      for (let at = 0; at < EACH; at++) {
        const one = person(script, random)
        const id = `${script.name} ${kind} ${at}`
        subjects.push(subject(id, one), subject(`${id} again`, again(one, change, random, script)))
        made.push({ key: `${id}|${id} again`, kind, script: script.name, isSame })
      }

const { pairs } = findDuplicates(subjects)
const found = new Set(pairs.flatMap(({ one, other }) => [`${one}|${other}`, `${other}|${one}`]))
const share = (of: typeof made) => {
  const hits = of.filter(({ key }) => found.has(key)).length
  return `${hits} of ${of.length}`
}
const table = (isSame: boolean) =>
  Object.keys(isSame ? SLIPS : TRAPS).map(kind => {
    const own = made.filter(one => one.kind === kind && one.isSame === isSame)
    const byScript = SCRIPTS.map(({ name }) => share(own.filter(({ script }) => script === name)))
    return `| ${[kind, share(own), ...byScript].join(' | ')} |`
  })
const same = made.filter(({ isSame }) => isSame)
const sameKeys = new Set(same.map(({ key }) => key))
const right = pairs.filter(
  ({ one, other }) => sameKeys.has(`${one}|${other}`) || sameKeys.has(`${other}|${one}`),
).length
const percent = (part: number, whole: number) => `${((100 * part) / whole).toFixed(1)} %`
const head = ['', 'in all', ...SCRIPTS.map(({ name }) => name)]
const text = `# The quality of the search for duplicates

Written by \`npm run quality\`: ${subjects.length} made-up cases, names put together from invented syllables in four scripts, from a fixed seed. Each person stands in the register twice, with one thing written down otherwise. Nothing here is tuned to these people, and real registers have slips that are not in the list.

Found: **${right} of ${same.length} (${percent(right, same.length)})**, the recall. Of the ${pairs.length} pairs that are asked about, ${right} are one person: ${percent(right, pairs.length)}, the precision among people of whom a fifth are only alike.

## One person, written down twice: found

| ${head.join(' | ')} |
| ${head.map(() => '---').join(' | ')} |
${table(true).join('\n')}

## Two people who are alike: asked about

| ${head.join(' | ')} |
| ${head.map(() => '---').join(' | ')} |
${table(false).join('\n')}
`
writeFileSync('docs/quality-of-checks.md', text)
console.log(text)
