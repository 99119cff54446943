import { Done, exact, Uuid } from '../common'
import * as extracts from '../extracts'
import { route, type RouteContract } from './route'

const ById = exact({ id: Uuid })
/** Takes what the person may see of their branch, and what is shared with them. */
const TAKES = { permission: 'extract', wholeBranch: true, shared: 'filtered' } as const

/** Reports and cases in files. */
export const EXTRACT_ROUTES = {
  'GET /api/extract-sources': route({
    ...TAKES,
    summary: 'The datasets and registers that an extract can be taken of',
    answer: extracts.ExtractSources,
    machine: {},
  }),
  'GET /api/extract-fields': route({
    ...TAKES,
    summary: 'All that rows of a dataset or register can have as a column',
    query: extracts.FieldsQuery,
    answer: extracts.FieldList,
  }),
  'GET /api/extract-makers': route({
    ...TAKES,
    summary: 'People and devices of the branch by their names: what they filled can be taken out alone',
    query: extracts.ExtractMakersQuery,
    answer: extracts.ExtractMakers,
  }),
  'GET /api/dictionary': route({
    ...TAKES,
    summary: 'What each column of a dataset or register means, and what indicators are computed from',
    query: extracts.DictionaryQuery,
    answer: extracts.DataDictionary,
    machine: { query: { of: 'monthly_summary', language: 'en' } },
  }),
  'POST /api/extract-previews': route({
    ...TAKES,
    summary: 'The first 20 rows of an extract as they will stand in the file, and how many there are',
    body: extracts.ExtractDefinition,
    answer: extracts.ExtractPreview,
  }),
  'GET /api/extracts': route({
    ...TAKES,
    summary: 'The extracts that the person saved, and those that others share, the newest first',
    query: extracts.ExtractQuery,
    answer: extracts.ExtractList,
  }),
  'POST /api/extracts': route({
    ...TAKES,
    summary: 'Save an extract',
    body: extracts.ExtractSave,
    answer: extracts.SavedExtract,
  }),
  'GET /api/extracts/:id': route({
    ...TAKES,
    summary: 'One extract',
    params: ById,
    answer: extracts.SavedExtract,
  }),
  'PUT /api/extracts/:id': route({
    ...TAKES,
    summary: 'Change an own extract, as it was read',
    params: ById,
    body: extracts.ExtractChange,
    answer: extracts.SavedExtract,
  }),
  'DELETE /api/extracts/:id': route({
    ...TAKES,
    summary: 'Remove an own extract; files that were made of it stay',
    params: ById,
    answer: Done,
  }),
  'GET /api/extract-files': route({
    ...TAKES,
    summary: 'Files that were asked for, the newest first: the own ones, or the log of the branch',
    query: extracts.ExtractFileQuery,
    answer: extracts.ExtractFileList,
  }),
  'POST /api/extract-files': route({
    ...TAKES,
    summary: 'Ask for a file of one or more extracts',
    body: extracts.FileAsk,
    answer: extracts.ExtractFileLine,
  }),
  'GET /api/extract-files/:id': route({
    ...TAKES,
    summary: 'One own file, and how far it is',
    params: ById,
    answer: extracts.ExtractFileLine,
  }),
  'POST /api/extract-files/:id/stop': route({
    ...TAKES,
    summary: 'Stop an own file that is not ready',
    params: ById,
    answer: extracts.ExtractFileLine,
  }),
  'GET /api/extract-files/:id/content': route({
    ...TAKES,
    summary: 'The bytes of an own file, for a week',
    params: ById,
    answer: {
      file: [
        'text/csv',
        'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
        'application/jsonl',
        'application/geo+json',
        'application/zip',
      ],
    },
  }),
} satisfies Record<string, RouteContract>
