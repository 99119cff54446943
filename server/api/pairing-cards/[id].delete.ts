import { endCard } from '../../desk/cards'
import { defineRoute } from '../../http/define-route'

export default defineRoute('DELETE /api/pairing-cards/:id', async ({ access, params }) => {
  await endCard(access, params.id)
  return { done: true }
})
