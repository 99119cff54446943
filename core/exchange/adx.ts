import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser'
import { bad, good, type Result } from '../result'
import { documentText, type DocumentGroup, type ValueDocument } from './value-document'

/** Of IHE Quality, Research and Public Health: Aggregate Data Exchange (from memory of the profile). */
const NAMESPACE = 'urn:ihe:qrph:adx:2015'
/** Attributes of a data value that are no axis. */
const OWN_ATTRIBUTES: ReadonlySet<string> = new Set(['dataElement', 'value'])

/** What XML 1.0 cannot hold (its production 2, Char), by code unit; pairs of surrogates stay. */
const NOT_XML = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g
const ESCAPED: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' }

/** A text in an attribute. Line ends are written as numbers: a reader makes spaces of plain ones. */
const attributeText = (text: string): string =>
  text
    .replace(NOT_XML, '')
    .replace(/[&<>"]/g, letter => ESCAPED[letter]!)
    .replace(/[\t\n\r]/g, letter => `&#${letter.charCodeAt(0)};`)

/** Can an axis be an attribute of this name? Plain names only: letters, digits, `_`, `-`, `.`. */
export const isAttributeName = (name: string): boolean =>
  /^[A-Za-z_][\w.-]*$/.test(name) && !OWN_ATTRIBUTES.has(name) && !/^xml/i.test(name)

/**
 * Writes reports as ADX: a `group` for each facility, a `dataValue` for each value, an attribute for each axis.
 *
 * @param document the names of its axes must be names of attributes ({@link isAttributeName})
 */
export function writeAdx({ exported, groups }: ValueDocument): string {
  const builder = new XMLBuilder({
    attributeNamePrefix: '',
    attributesGroupName: '$',
    ignoreAttributes: false,
    suppressBooleanAttributes: false,
    suppressEmptyNode: true,
    format: true,
    processEntities: false,
    attributeValueProcessor: (_name, value) => attributeText(String(value)),
  })
  return builder.build({
    '?xml': { $: { version: '1.0', encoding: 'UTF-8' } },
    adx: {
      $: { xmlns: NAMESPACE, exported },
      group: groups.map(({ orgUnit, period, dataSet, values }) => ({
        $: { orgUnit, period, dataSet },
        dataValue: values.map(({ dataElement, value, axes }) => ({
          $: { dataElement, value: documentText(value), ...axes },
        })),
      })),
    },
  })
}

type Attributes = Record<string, string>
interface Element {
  $?: Attributes
  group?: Element[]
  dataValue?: Element[]
}

/** A group of the file, or what it lacks, by its place from 1. */
function groupOf({ $: own = {}, dataValue = [] }: Element, at: number): Result<DocumentGroup> {
  const { orgUnit, period, dataSet } = own
  const odd = (part: string) =>
    bad({ code: 'document-part', message: `Group ${at}: ${part}.`, values: { group: at, part } })
  if (!orgUnit) return odd('orgUnit')
  if (!period) return odd('period')
  if (!dataSet) return odd('dataSet')
  const values = dataValue.map(({ $: of = {} }) => of)
  if (values.some(of => !of.dataElement || of.value === undefined)) return odd('dataValue')
  return good({
    ...{ orgUnit, period, dataSet },
    values: values.map(({ dataElement, value, ...axes }) => ({
      dataElement: dataElement!,
      value: value!,
      axes,
    })),
  })
}

/**
 * Reads an ADX file; its values are texts. A document type is refused unread, because of what one may name. Errors:
 * `xml-broken` (with the line), `xml-doctype`, `adx-none` (another root), `document-empty`, `document-part`.
 */
export function readAdx(text: string): Result<ValueDocument> {
  if (/<!DOCTYPE/i.test(text))
    return bad({ code: 'xml-doctype', message: 'A file with a document type of its own is not read.' })
  const checked = XMLValidator.validate(text)
  if (checked !== true) {
    const { line, msg } = checked.err
    return bad({ code: 'xml-broken', message: `Line ${line}: ${msg}`, values: { line } })
  }
  const parser = new XMLParser({
    attributeNamePrefix: '',
    attributesGroupName: '$',
    ignoreAttributes: false,
    parseAttributeValue: false,
    parseTagValue: false,
    trimValues: false,
    // Decodes numbers of letters too, such as those of line ends.
    htmlEntities: true,
    removeNSPrefix: true,
    isArray: name => name === 'group' || name === 'dataValue',
  })
  const { adx } = parser.parse(text) as { adx?: Element | string }
  if (adx === undefined) return bad({ code: 'adx-none', message: 'This is no ADX file.' })
  const { $: own = {}, group = [] } = typeof adx === 'string' ? {} : adx
  const groups: DocumentGroup[] = []
  for (const [at, one] of group.entries()) {
    const read = groupOf(typeof one === 'string' ? {} : one, at + 1)
    if (!read.ok) return read
    groups.push(read.value)
  }
  if (!groups.length) return bad({ code: 'document-empty', message: 'No reports stand in this file.' })
  return good({ exported: own.exported ?? '', groups })
}
