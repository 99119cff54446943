import { previewBundle } from '../../bundles/bundle'
import { defineRoute } from '../../http/define-route'

export default defineRoute('POST /api/definitions/preview', ({ access, body }) =>
  previewBundle(access, body.text),
)
