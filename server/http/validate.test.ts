import Ajv from 'ajv'
import { describe, expect, it } from 'vitest'
import { CellContent } from '#core/contract/common'
import { openApi, templatePath } from '#core/contract/openapi'
import { may, ROLES, type Permission } from '#core/contract/permission'
import { ROUTES, type RouteContract } from '#core/contract/routes'
import { branchPath } from '../access/access'
import { holds } from '../access/branch'
import { problemBody, Refusal } from '../refusal'
import { validate } from './validate'

describe('validation', () => {
  const { body } = ROUTES['POST /api/session']

  it('gives back what is as it must be', () => {
    const value = { userName: 'a', password: 'b' }
    expect(validate(body, value, 'body')).toBe(value)
  })

  it.each([
    [{ userName: 'a' }, 'body/password'],
    [{ userName: 'a', password: 'b', role: 'administrator' }, 'body/role'],
    [{ userName: 1, password: 'b' }, 'body/userName'],
    [null, 'body'],
    [[], 'body'],
    [{ userName: 'a'.repeat(101), password: 'b' }, 'body/userName'],
  ])('refuses %j at %s', (value, at) => {
    try {
      validate(body, value, 'body')
      expect.unreachable()
    } catch (error) {
      expect(error).toBeInstanceOf(Refusal)
      expect((error as Refusal).status).toBe(400)
      expect((error as Refusal).problems.map(problem => problem.at)).toContain(at)
    }
  })

  it.each([
    [{ kind: 'value', value: 'x'.repeat(10_000) }, /body\/value must NOT have more than \d+ characters/],
    [{ kind: 'value', value: { of: 1 } }, /body\/value must be number/],
  ])('says of what can be several things what is wrong with the one that was meant', (value, says) => {
    expect(() => validate(CellContent, value, 'body')).toThrow(says)
  })

  it('has a schema that Ajv takes strictly for each route', () => {
    const ofSchemas = new Ajv()
    for (const [name, contract] of Object.entries(ROUTES) as [string, RouteContract][]) {
      for (const schema of [contract.params, contract.query, contract.body].filter(
        one => one !== undefined,
      )) {
        expect(() => validate(schema, { no: { such: 'thing' } }, 'body'), name).toThrow(Refusal)
        // The server takes it as it stands, so that it starts sooner.
        expect(ofSchemas.validateSchema(schema), name).toBe(true)
      }
    }
  })
})

describe('a refusal', () => {
  it('is a problem document (RFC 9457) with a code and the places', () => {
    const refusal = new Refusal(422, 'must-fix', 'Some values cannot be right.', [
      { code: 'doubt', message: 'x', at: 'doubts/x' },
    ])
    expect(problemBody(refusal)).toEqual({
      type: 'urn:eastward-lantern:problem:must-fix',
      title: 'Cannot be done so',
      status: 422,
      code: 'must-fix',
      detail: 'Some values cannot be right.',
      problems: [{ code: 'doubt', message: 'x', at: 'doubts/x' }],
    })
    expect(problemBody(new Refusal(404, 'not-found', 'No.'))).not.toHaveProperty('problems')
  })
})

describe('the API document', () => {
  it('has each route with its parameters, and schemas that compile', () => {
    const { paths } = openApi('1.2.3')
    const ajv = new Ajv({ strict: false, formats: { uuid: true, 'date-time': true, date: true } })
    for (const [name, contract] of Object.entries(ROUTES) as [string, RouteContract][]) {
      const [method, path] = name.split(' ') as [string, string]
      const operation = paths[templatePath(path)]![method.toLowerCase()] as {
        parameters: { name: string; in: string; required: boolean }[]
        'x-permission': string
        responses: Record<string, { content: Record<string, { schema: object }> }>
      }
      expect(operation['x-permission']).toBe(contract.permission)
      const inPath = [...path.matchAll(/:(\w+)/g)].map(([, key]) => key)
      expect(
        operation.parameters
          .filter(one => one.in === 'path')
          .map(one => one.name)
          .sort(),
      ).toEqual(inPath.sort())
      expect(operation.parameters.filter(one => one.in === 'path').every(one => one.required)).toBe(true)
      for (const { schema } of Object.values(operation.responses[200]!.content))
        expect(() => ajv.compile(schema)).not.toThrow()
    }
  })
})

describe('permission', () => {
  it('is a matrix that can be read', () => {
    const asked: Permission[] = ['open', 'signedIn', 'look', 'fill', 'comment', 'resolve', 'sign']
    const matrix = Object.fromEntries(
      [null, ...ROLES].map(role => [
        String(role),
        asked.filter(permission => may(role && { role, without: [] }, permission)),
      ]),
    )
    expect(matrix).toEqual({
      null: ['open'],
      administrator: ['open', 'signedIn', 'look'],
      officer: ['open', 'signedIn', 'look', 'comment', 'resolve', 'sign'],
      clerk: ['open', 'signedIn', 'look', 'fill', 'comment'],
      reader: ['open', 'signedIn', 'look'],
    })
  })

  it('ends at the branch', () => {
    expect(holds('north', ['coast', 'north', 'quay', 'elm'])).toBe(true)
    expect(holds('nor', ['coast', 'north', 'quay', 'elm'])).toBe(false)
    expect(holds(null, ['coast'])).toBe(true)
    expect([branchPath(null), branchPath('north')]).toEqual([[], ['north']])
  })
})
