import { wordsIn } from '../report/edition'
import { outline } from './outline'
import { codeFromLabel } from './code'
import type { Form } from './question'

/** A question as it will stand in an extract. */
export interface ExtractColumn {
  /** Sections, repeat or table, question and band: `visit.rooms.basins.ward`. */
  path: string
  /** The name of the column: `basins_ward`. Unique in the form. */
  short: string
  /** The key of its answer; in a repeat that of each instance. */
  key: string
  label: string
  /** The repeat whose instances are rows of their own. */
  repeat?: string
}

/** The columns that a form's answers fill in an extract, in paper order. */
export function extractColumns(form: Form, language: string): ExtractColumn[] {
  const { placed } = outline(form)
  // A question keeps its own code; only what is put together from two codes has to give way.
  const taken = new Set(placed.map(({ question }) => question.code))
  return placed.flatMap(({ question, sections, axes, cells, table, repeat }) =>
    cells.map(({ key, bands }) => {
      const short = bands.length ? codeFromLabel([question.code, ...bands].join('_'), taken) : question.code
      taken.add(short)
      const frame = table ?? repeat
      const bandNames = bands.map((code, at) =>
        wordsIn(axes[at]!.bands.find(band => band.code === code)!.name, language),
      )
      return {
        path: [...sections, ...(frame ? [frame] : []), question]
          .map(part => part.code)
          .concat(bands)
          .join('.'),
        short,
        key,
        label: [wordsIn(question.label, language), ...bandNames].join(', '),
        ...(repeat && { repeat: repeat.code }),
      }
    }),
  )
}
