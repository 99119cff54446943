/**
 * For queries: the condition that a discrepancy `d` blocks its report from being accepted and its district
 * report from being signed. It still holds for the values as they are, nobody has settled it, and it is more
 * than a note.
 */
export const BLOCKS = `(d.holds AND d.state <> 'settled' AND d.strength <> 'note')`

/** For queries: the condition that a report `p` can be accepted: it was sent, and no doubt blocks it. */
export const CLEAN = `(p.state = 'sent' AND NOT EXISTS (SELECT 1 FROM discrepancy d WHERE d.report = p.id AND ${BLOCKS}))`
