import { Type } from '@sinclair/typebox'
import * as drafts from '../drafts'
import { BranchMap, OutlineSave } from '../map'
import { FacilityFile } from '../facility'
import { ContactNew, FacilityContact } from '../nudges'
import * as units from '../units'
import { DayText, Done, exact, UnitCode, Uuid } from '../common'
import { route, type RouteContract } from './route'

const byId = exact({ id: Uuid })

/** An example for programs: a facility of the demo gets another name. `basis` is what the preview answered. */
const UNIT_ROWS = {
  day: '2026-11-09',
  rows: [{ code: 'tern_row', name: 'Tern Row Clinic', parent: 'ashmere_town_zone' }],
}

/** Organisation units, their levels and groups. */
export const UNIT_ROUTES = {
  'GET /api/unit-groups': route({
    summary: 'Groups of units',
    permission: 'look',
    shared: 'filtered',
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
    shared: 'filtered',
    answer: units.UnitList,
  }),
  'GET /api/units': route({
    summary: 'The tree of organisation units on a day, today without one; for programs in pages',
    permission: 'look',
    shared: 'filtered',
    query: units.UnitQuery,
    answer: units.UnitList,
    machine: { query: { most: '100' } },
  }),
  'GET /api/map': route({
    summary: 'The outlines and the facilities of a branch, for a map',
    permission: 'look',
    shared: 'filtered',
    wholeBranch: true,
    query: exact({ unit: Type.Optional(UnitCode) }),
    answer: BranchMap,
  }),
  'PUT /api/units/:unit/outline': route({
    summary: 'Write the outline of a unit, or take it away',
    permission: 'manageUnits',
    params: exact({ unit: UnitCode }),
    body: OutlineSave,
    answer: Done,
  }),
  'GET /api/facilities/:unit': route({
    summary: 'All that is known of a facility: whom to call, devices, how it reported',
    permission: 'look',
    shared: 'filtered',
    wholeBranch: true,
    params: exact({ unit: UnitCode }),
    answer: FacilityFile,
  }),
  'POST /api/facilities/:unit/contacts': route({
    summary: 'Add somebody who can be called at a facility',
    permission: 'nudge',
    params: exact({ unit: UnitCode }),
    body: ContactNew,
    answer: FacilityContact,
  }),
  'DELETE /api/facilities/:unit/contacts/:id': route({
    summary: 'Remove somebody who can be called',
    permission: 'nudge',
    params: exact({ unit: UnitCode, id: Uuid }),
    answer: Done,
  }),
  'GET /api/units/export': route({
    summary: 'The units of a day as CSV, GeoJSON or a FHIR bundle',
    permission: 'look',
    shared: 'filtered',
    query: exact({ format: units.UnitFormat, day: Type.Optional(DayText) }),
    answer: { file: ['text/csv', 'application/geo+json', 'application/fhir+json'] },
    machine: { query: { format: 'csv' } },
  }),
  'GET /api/units/:unit': route({
    summary: 'One unit with all that was ever true of it',
    permission: 'look',
    shared: 'filtered',
    params: exact({ unit: UnitCode }),
    answer: units.UnitFile,
  }),
  'POST /api/units/preview': route({
    summary: 'What rows or a file would change in the tree, line by line',
    permission: 'manageUnits',
    body: units.UnitSource,
    mostBytes: units.LARGEST_FILE,
    answer: units.UnitPreview,
    machine: { body: UNIT_ROWS },
  }),
  'POST /api/units/changes': route({
    summary: 'Apply what was previewed, all of it in one act',
    permission: 'manageUnits',
    body: units.UnitApply,
    mostBytes: units.LARGEST_FILE,
    answer: exact({ id: Uuid }),
    machine: { body: { ...UNIT_ROWS, basis: 0 } },
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
