import { Type } from '@sinclair/typebox'
import * as people from '../people'
import * as settings from '../settings'
import { Done, exact, orNull, Uuid } from '../common'
import { route, type RouteContract } from './route'

const byId = exact({ id: Uuid })

/** The installation, its people, and signing in. */
export const PEOPLE_ROUTES = {
  'GET /api/health': route({
    summary: 'Is the server ready, and what is it?',
    permission: 'open',
    answer: people.Health,
  }),
  'GET /api/openapi.json': route({ summary: 'This document', permission: 'open', answer: Type.Object({}) }),
  'GET /api/setup': route({
    summary: 'Does the installation still need its first administrator?',
    permission: 'open',
    answer: people.SetupView,
  }),
  'POST /api/setup': route({
    summary: 'Make the first administrator with the one-time code',
    permission: 'open',
    body: people.FirstAdministrator,
    answer: Done,
  }),
  'GET /api/settings': route({
    summary: 'The settings of the installation',
    permission: 'operate',
    answer: settings.InstallationSettings,
  }),
  'POST /api/settings/consequences': route({
    summary: 'What other settings would do. Nothing is changed',
    permission: 'operate',
    body: settings.InstallationSettings,
    answer: settings.Consequences,
  }),
  'PUT /api/settings': route({
    summary: 'Change the settings of the installation',
    permission: 'operate',
    body: settings.SettingsChange,
    answer: Done,
  }),
  'POST /api/session': route({
    summary: 'Sign in',
    permission: 'open',
    body: people.SignIn,
    answer: people.SessionView,
  }),
  'GET /api/session': route({
    summary: 'Who am I? null when nobody is signed in',
    permission: 'open',
    answer: orNull(people.SessionView),
  }),
  'DELETE /api/session': route({ summary: 'Sign out here', permission: 'signedIn', answer: Done }),
  'DELETE /api/sessions': route({ summary: 'Sign out everywhere', permission: 'signedIn', answer: Done }),
  'GET /api/people': route({
    summary: 'A page of the people of the branch: who may come in first, then by name',
    permission: 'managePeople',
    query: people.PeopleQuery,
    answer: people.PeopleList,
  }),
  'POST /api/people': route({
    summary: 'Make a person; answers the one-time code that lets them in',
    permission: 'managePeople',
    body: people.PersonNew,
    answer: people.OneTimeCode,
  }),
  'PUT /api/people/:id': route({
    summary: 'Change a person, or switch them off',
    permission: 'managePeople',
    params: byId,
    body: people.PersonChange,
    answer: Done,
  }),
  'POST /api/people/:id/code': route({
    summary: 'A new one-time code for a person',
    permission: 'managePeople',
    params: byId,
    answer: people.OneTimeCode,
  }),
  'POST /api/session/code': route({
    summary: 'Come in by a one-time code, and choose a password',
    permission: 'open',
    body: people.CodeSignIn,
    answer: people.SessionView,
  }),
} satisfies Record<string, RouteContract>
