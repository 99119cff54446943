import { ROUTES, type RouteContract } from './routes'

const PROBLEM = {
  type: 'object',
  required: ['type', 'title', 'status', 'code'],
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string' },
    code: { type: 'string', description: 'Key of the message in the locale files' },
    problems: {
      type: 'array',
      items: {
        type: 'object',
        properties: { code: { type: 'string' }, message: { type: 'string' }, at: {} },
      },
    },
  },
}

/** `:round` in a route becomes `{round}` in the document. */
export const templatePath = (path: string): string => path.replace(/:(\w+)/g, '{$1}')

function operation(contract: RouteContract) {
  const { machine } = contract
  const examples = { ...machine?.params, ...machine?.query }
  const parametersOf = (schema: RouteContract['params'], place: 'path' | 'query') =>
    Object.entries((schema?.properties ?? {}) as Record<string, object>).map(([name, property]) => ({
      name,
      in: place,
      schema: property,
      required: place === 'path' || ((schema?.required ?? []) as string[]).includes(name),
      ...(examples[name] !== undefined && { example: examples[name] }),
    }))
  const answer = contract.answer
  const content =
    'file' in answer
      ? Object.fromEntries((answer.file as string[]).map(type => [type, { schema: {} }]))
      : { 'application/json': { schema: answer } }
  return {
    summary: contract.summary,
    'x-permission': contract.permission,
    security:
      contract.permission === 'open'
        ? []
        : [{ session: [] }, { device: [] }, ...(machine ? [{ token: [] }] : [])],
    parameters: [...parametersOf(contract.params, 'path'), ...parametersOf(contract.query, 'query')],
    ...(contract.body && {
      requestBody: {
        required: true,
        content: {
          'application/json': { schema: contract.body, ...(machine?.body && { example: machine.body }) },
        },
      },
    }),
    responses: {
      200: { description: 'Done', content },
      default: {
        description: 'What went wrong (RFC 9457)',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  }
}

/** The OpenAPI 3.1 document of the API, made from the same schemas that check each request. */
export function openApi(version: string) {
  const paths: Record<string, Record<string, unknown>> = {}
  for (const [name, contract] of Object.entries(ROUTES)) {
    const [method, path] = name.split(' ') as [string, string]
    const template = templatePath(path)
    paths[template] = { ...paths[template], [method.toLowerCase()]: operation(contract) }
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Eastward Lantern', version },
    paths,
    components: {
      schemas: { Problem: PROBLEM },
      securitySchemes: {
        session: { type: 'apiKey', in: 'cookie', name: 'lantern' },
        device: {
          type: 'http',
          scheme: 'bearer',
          description: 'The session of a person at a device, which shows its own token as x-lantern-device',
        },
        token: {
          type: 'http',
          scheme: 'bearer',
          description:
            'A program of another system, by a token that an administrator made. Some examples are of the demo.',
        },
      },
    },
  }
}
