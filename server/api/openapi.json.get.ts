import { openApi } from '#core/contract/openapi'
import { version } from '../../package.json'
import { defineRoute } from '../http/define-route'

export default defineRoute('GET /api/openapi.json', async () => openApi(version))
