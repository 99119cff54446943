import { Type, type Static } from '@sinclair/typebox'
import { Count, exact, orNull, Words } from './common'
import { VISIBLE } from './wire'

/** What the installation is called, and by what its rounds are made. */
export const InstallationSettings = exact({
  installation: Type.String({ minLength: 2, maxLength: 100, pattern: VISIBLE }),
  timeZone: Type.String({ minLength: 2, maxLength: 60 }),
  /** 1 Monday to 7 Sunday. */
  firstWeekday: Type.Integer({ minimum: 1, maximum: 7 }),
  /** The month in which the financial year begins, from 1. */
  firstMonth: Type.Integer({ minimum: 1, maximum: 12 }),
})
export type InstallationSettings = Static<typeof InstallationSettings>

/** `before`: what the person saw. Another one's change meanwhile is not overwritten. */
export const SettingsChange = exact({ before: InstallationSettings, after: InstallationSettings })
export type SettingsChange = Static<typeof SettingsChange>

const CycleConsequences = exact({
  /** The datasets that are reported in such periods, their rounds, and the reports in these. */
  datasets: Type.Array(Words),
  rounds: Count,
  reports: Count,
  refused: Type.Boolean(),
})
export type CycleConsequences = Static<typeof CycleConsequences>

/** What a change would do; null for what it does not touch. */
export const Consequences = exact({
  timeZone: orNull(
    exact({
      /** Rounds that have not closed, whose deadlines move. */
      rounds: Count,
      /** By how many minutes they are due later, at least and at most; earlier when negative. */
      laterBy: exact({ least: Type.Integer(), most: Type.Integer() }),
      becomeLate: Count,
      becomeOnTime: Count,
    }),
  ),
  weeks: orNull(CycleConsequences),
  years: orNull(CycleConsequences),
})
export type Consequences = Static<typeof Consequences>
