import { database } from '../../../../../../database'
import { defineRoute } from '../../../../../../http/define-route'
import { commentCell } from '../../../../../../reports/cell-story'

export default defineRoute(
  'POST /api/reports/:round/:unit/cells/:cell/comments',
  async ({ access, params, body }) => {
    await commentCell(await database(), access, params.round, params.unit, params.cell, body.text)
    return { done: true }
  },
)
