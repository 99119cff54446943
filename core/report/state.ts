/** The states of one unit's report in one round. *Overdue* and *late* are marks on a state, not states. */
export type ReportState = 'awaited' | 'draft' | 'sent' | 'sentBack' | 'accepted'

/** What people do to a report. */
export type ReportAct = 'fill' | 'send' | 'change' | 'sendBack' | 'accept' | 'undoAccept' | 'undoSend'

const NEXT: Record<ReportAct, Partial<Record<ReportState, ReportState>>> = {
  fill: { awaited: 'draft', draft: 'draft', sentBack: 'sentBack' },
  send: { draft: 'sent', sentBack: 'sent' },
  // A change to a report that the district already has: it must be looked at again.
  change: { sent: 'sent', accepted: 'sent' },
  sendBack: { sent: 'sentBack', accepted: 'sentBack' },
  accept: { sent: 'accepted' },
  undoAccept: { accepted: 'sent' },
  // What the office sent for a facility, by a file, and takes back.
  undoSend: { sent: 'draft' },
}

/** The state after an act, or undefined when the act does not go with the state. */
export const stateAfter = (state: ReportState, act: ReportAct): ReportState | undefined => NEXT[act][state]

/** The states in which the district has a report. */
export const RECEIVED_STATES = ['sent', 'accepted'] as const satisfies readonly ReportState[]

/** Does the district count the report as in? */
export const isReceived = (state: ReportState): boolean =>
  (RECEIVED_STATES as readonly ReportState[]).includes(state)

/** What the lantern shows: the state, or *overdue* for one that is not in after the due day. */
export type LanternSign = ReportState | 'overdue'

export const lanternSign = (state: ReportState, dueAt: number, now: number): LanternSign =>
  now >= dueAt && (state === 'awaited' || state === 'draft') ? 'overdue' : state
