import { database } from '../database'
import type { Access } from '../access/access'
import { defineRoute } from '../http/define-route'
import { sessionView } from '../people/session-view'
import { signIn } from '../people/sign-in'

export default defineRoute('POST /api/session', async ({ body, event }) => {
  const id = await signIn(event, body)
  const sql = await database()
  const [access] = await sql.query<Access>(
    'SELECT id, user_name AS "userName", display_name AS "displayName", role, branch FROM person WHERE id = $1', [id])
  return sessionView(access!)
})
