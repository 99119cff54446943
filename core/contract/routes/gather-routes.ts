import { Type } from '@sinclair/typebox'
import { Done, exact, RoundId, Uuid } from '../common'
import * as nudges from '../nudges'
import * as reportFiles from '../report-files'
import { route, type RouteContract } from './route'

const round = exact({ round: RoundId })
const byId = exact({ id: Uuid })

/** What the office does while reports come in: reminders, and files of many reports. */
export const GATHER_ROUTES = {
  'POST /api/rounds/:round/nudges/preview': route({
    summary: 'What reminders to some facilities would say, and who would get none',
    permission: 'nudge',
    params: round,
    body: nudges.NudgeUnits,
    answer: nudges.NudgePreview,
  }),
  'POST /api/rounds/:round/nudges': route({
    summary: 'Remind some facilities of a report that is missing, by text message',
    permission: 'nudge',
    params: round,
    body: nudges.NudgeUnits,
    answer: nudges.NudgesAsked,
  }),
  'GET /api/rounds/:round/template': route({
    summary: 'A workbook or CSV file to fill for the reports of a round',
    permission: 'enterPaper',
    params: round,
    query: reportFiles.TemplateQuery,
    answer: {
      file: ['application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', 'text/csv'],
    },
  }),
  'POST /api/report-files': route({
    summary: 'Read a file of many reports, and say what it would change',
    permission: 'enterPaper',
    body: reportFiles.ReportFileNew,
    mostBytes: reportFiles.MOST_FILE_BYTES,
    answer: reportFiles.ReportFileView,
  }),
  'GET /api/report-files': route({
    summary: 'The files that were looked at or taken in, newest first',
    permission: 'enterPaper',
    query: reportFiles.ReportFileQuery,
    answer: reportFiles.ReportFileList,
  }),
  'GET /api/report-files/:id': route({
    summary: 'One file: what it changes, what was refused, and how far it is',
    permission: 'enterPaper',
    params: byId,
    answer: reportFiles.ReportFileView,
  }),
  'POST /api/report-files/:id/apply': route({
    summary: 'Take the reports of a file in',
    permission: 'enterPaper',
    params: byId,
    body: reportFiles.ReportFileApply,
    answer: reportFiles.ReportFileView,
  }),
  'POST /api/report-files/:id/undo': route({
    summary: 'Take the reports of a file back',
    permission: 'enterPaper',
    params: byId,
    answer: reportFiles.ReportFileView,
  }),
  'POST /api/report-files/:id/stop': route({
    summary: 'Stop taking a file in, or back, after the present report',
    permission: 'enterPaper',
    params: byId,
    answer: reportFiles.ReportFileView,
  }),
  'GET /api/nudges': route({
    summary: 'Reminders and what became of them, newest first',
    permission: 'nudge',
    query: nudges.NudgeQuery,
    answer: nudges.NudgeList,
  }),
  'POST /api/nudges/stop': route({
    summary: 'Stop reminders that were not sent yet',
    permission: 'nudge',
    body: nudges.NudgesStop,
    answer: exact({ stopped: Type.Integer() }),
  }),
  'GET /api/nudges/rules': route({
    summary: 'What reminders say, when they are sent, and how many a number gets in a day',
    permission: 'nudge',
    answer: nudges.NudgeRules,
  }),
  'PUT /api/nudges/text': route({
    summary: 'Write what reminders say, for the own district or for everybody',
    permission: 'nudge',
    body: nudges.NudgeText,
    answer: Done,
  }),
  'PUT /api/nudges/times': route({
    summary: 'Change the quiet hours, and how many reminders a number gets in a day',
    permission: 'operate',
    body: nudges.NudgeTimes,
    answer: Done,
  }),
} satisfies Record<string, RouteContract>
