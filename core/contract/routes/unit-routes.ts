import { Type } from '@sinclair/typebox'
import * as drafts from '../drafts'
import * as units from '../units'
import { DayText, Done, exact, UnitCode, Uuid } from '../common'
import { route, type RouteContract } from './route'

const byId = exact({ id: Uuid })

/** Organisation units, their levels and groups. */
export const UNIT_ROUTES = {
  'GET /api/unit-groups': route({
    summary: 'Groups of units',
    permission: 'look',
    answer: Type.Array(units.UnitGroupLine),
  }),
  'PUT /api/unit-groups/:group': route({
    summary: 'Make a group, or write it anew',
    permission: 'manageUnits',
    params: exact({ group: drafts.Code }),
    body: units.UnitGroupSave,
    answer: Done,
  }),
  'PUT /api/levels': route({
    summary: 'Name the levels of the tree, and say which signs and which reports',
    permission: 'manageUnits',
    body: units.LevelsSave,
    answer: Done,
  }),
  'GET /api/places': route({
    summary: 'All units of the installation, for questions about places',
    permission: 'look',
    answer: units.UnitList,
  }),
  'GET /api/units': route({
    summary: 'The tree of organisation units on a day, today without one',
    permission: 'look',
    query: exact({ day: Type.Optional(DayText) }),
    answer: units.UnitList,
  }),
  'GET /api/units/export': route({
    summary: 'The units of a day as CSV, GeoJSON or a FHIR bundle',
    permission: 'look',
    query: exact({ format: units.UnitFormat, day: Type.Optional(DayText) }),
    answer: { file: ['text/csv', 'application/geo+json', 'application/fhir+json'] },
  }),
  'GET /api/units/:unit': route({
    summary: 'One unit with all that was ever true of it',
    permission: 'look',
    params: exact({ unit: UnitCode }),
    answer: units.UnitFile,
  }),
  'POST /api/units/preview': route({
    summary: 'What rows or a file would change in the tree, line by line',
    permission: 'manageUnits',
    body: units.UnitSource,
    mostBytes: units.LARGEST_FILE,
    answer: units.UnitPreview,
  }),
  'POST /api/units/changes': route({
    summary: 'Apply what was previewed, all of it in one act',
    permission: 'manageUnits',
    body: units.UnitApply,
    mostBytes: units.LARGEST_FILE,
    answer: exact({ id: Uuid }),
  }),
  'GET /api/units/changes': route({
    summary: 'The latest changes of the tree',
    permission: 'manageUnits',
    answer: Type.Array(units.UnitChangeLine),
  }),
  'POST /api/units/changes/:id/undo': route({
    summary: 'Take a change of the tree back',
    permission: 'manageUnits',
    params: byId,
    answer: Done,
  }),
} satisfies Record<string, RouteContract>
