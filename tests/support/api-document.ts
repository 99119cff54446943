import Ajv from 'ajv'
import { isDay, isInstant, isLanguage } from '#core/contract/wire'
import type { Answer, Client } from './client'

interface Operation {
  responses: Record<string, { content: Record<string, { schema: object }> }>
}
interface Document {
  openapi: string
  paths: Record<string, Record<string, Operation>>
  components: { schemas: { Problem: object } }
}

const ajv = new Ajv({
  strict: false,
  allErrors: true,
  formats: { 'date-time': isInstant, date: isDay, language: isLanguage },
})

/** The API document as the server serves it, to hold real answers against. */
export class ApiDocument {
  private constructor(readonly document: Document) {}

  static async of(client: Client): Promise<ApiDocument> {
    return new ApiDocument((await client.get<Document>('/api/openapi.json')).body)
  }

  /** Its operations, as `GET /api/reports/{round}/{unit}`. */
  get operations(): string[] {
    return Object.entries(this.document.paths).flatMap(([path, methods]) =>
      Object.keys(methods).map(method => `${method.toUpperCase()} ${path}`),
    )
  }

  /** What of an answer is not as the document says. Empty when all is. @param operation as in `operations`. */
  mistakesIn(operation: string, { status, type, body, text }: Answer<unknown>): string[] {
    const [method, path] = operation.split(' ') as [string, string]
    const media = type.split(';')[0]!
    const { responses } = this.document.paths[path]![method.toLowerCase()]!
    const { content } = responses[status] ?? responses.default!
    const documented = content[media] ?? content[media.replace(/\/.*/, '/*')]
    if (!documented) return [`${operation} answered ${status} as ${media}`]
    const schema = status === 200 ? documented.schema : this.document.components.schemas.Problem
    const check = ajv.compile(schema)
    if (check(media.includes('json') ? body : text)) return []
    return check.errors!.slice(0, 5).map(error => `${operation}${error.instancePath} ${error.message}`)
  }
}
