import type { AnswerContent, Answers, AnswerValue, Attachment, Position } from '../form/answer'
import { axesOfQuestion, cellsAlong, instancesIn, repeatKey } from '../form/outline'
import type { AnswerQuestion, Form, FormPart } from '../form/question'
import { cellKey, wordsIn } from '../report/edition'
import { OWN, STANDARD, type Extension } from './fhir-marks'

/** What is said of an entry besides its answers. */
export interface EntryAbout {
  entry: string
  case: string
  register: string
  edition: number
  /** The facility. */
  unit: string
  /** When it was filled, as in RFC 3339. */
  madeAt: string
  /** The entry that this one corrects. */
  corrects?: string | null
  /** Who filled it, where that is told. */
  by?: string | null
}

type ResponseAnswer = Readonly<Record<`value${string}`, unknown>>
interface ResponseItem {
  linkId: string
  text?: string
  extension?: Extension[]
  answer?: ResponseAnswer[]
  item?: ResponseItem[]
}

/** A filled form in FHIR R4 (hl7.org/fhir/R4/questionnaireresponse.html). */
export interface QuestionnaireResponse {
  resourceType: 'QuestionnaireResponse'
  id: string
  extension: Extension[]
  identifier: { system: string; value: string }
  questionnaire: string
  status: 'completed' | 'amended'
  subject: { identifier: { system: string; value: string } }
  authored: string
  author?: { display: string }
  item?: ResponseItem[]
}

const own = (name: string, value: string): Extension => ({ url: `${OWN}${name}`, valueString: value })
/** A UUID as an identifier that every system understands (RFC 4122, as FHIR wants it). */
const uuidIdentifier = (uuid: string) => ({ system: 'urn:ietf:rfc:3986', value: `urn:uuid:${uuid}` })

const FORM = `${OWN}form:`
/** The Questionnaire of a form in an edition, as its canonical address with the version. */
const questionnaireUrl = (register: string, form: string, edition: number): string =>
  `${FORM}${register}:${form}|${edition}`

/**
 * Which form a response answers, by its `questionnaire`; null where that is none of ours.
 * @example questionnaireOf('urn:eastward-lantern:form:newborns:birth|2') // { register: 'newborns', form: 'birth', edition: 2 }
 */
export function questionnaireOf(url: string): { register: string; form: string; edition: number } | null {
  const parts = url.startsWith(FORM)
    ? /^([a-z0-9_]+):([a-z0-9_]+)\|(\d+)$/.exec(url.slice(FORM.length))
    : null
  return parts && { register: parts[1]!, form: parts[2]!, edition: Number(parts[3]) }
}

/** Why there is no answer, in the standard's code system `data-absent-reason`. */
function absent(content: AnswerContent): Extension[] {
  if (content.kind !== 'notKnown' && content.kind !== 'notOffered') return []
  const reason: Extension = {
    url: STANDARD.absent,
    valueCode: content.kind === 'notKnown' ? 'unknown' : 'not-applicable',
  }
  return content.kind === 'notKnown' ? [reason, own('notKnown', content.reason)] : [reason]
}

/** An answer in the types of FHIR; of a picture or a sound what it is, not its bytes. */
function answersOf(question: AnswerQuestion, value: AnswerValue, language: string): ResponseAnswer[] {
  const coded = (code: string): ResponseAnswer => {
    const label = 'choices' in question ? question.choices.find(one => one.code === code)?.label : undefined
    return { valueCoding: { code, ...(label && { display: wordsIn(label, language) }) } }
  }
  switch (question.kind) {
    case 'wholeNumber':
      return [{ valueInteger: value }]
    case 'decimal':
      return [{ valueDecimal: value }]
    case 'yesNo':
      return [{ valueBoolean: value }]
    case 'date':
    case 'partialDate':
      return [{ valueDate: value }]
    case 'time':
      return [{ valueTime: `${value as string}:00` }]
    case 'oneOf':
      return [coded(value as string)]
    case 'severalOf':
      return (value as readonly string[]).map(coded)
    case 'unit':
      return [{ valueReference: { identifier: { system: `${OWN}unit`, value } } }]
    case 'person':
      return [{ valueReference: { display: value } }]
    case 'picture':
    case 'sound': {
      const { mediaType, bytes, hash } = value as Attachment
      return [{ valueAttachment: { contentType: mediaType, size: bytes, title: hash } }]
    }
    case 'position': {
      const { latitude, longitude } = value as Position
      // ISO 6709 has a sign before each; plain degrees are what most programs read.
      return [{ valueString: `${latitude}, ${longitude}` }]
    }
    case 'computed':
      return [
        typeof value === 'number'
          ? { valueDecimal: value }
          : typeof value === 'boolean'
            ? { valueBoolean: value }
            : { valueString: value },
      ]
    default:
      return [{ valueString: value }]
  }
}

/**
 * An entry as a FHIR R4 QuestionnaireResponse to the Questionnaire of its form (`questionnaireOf`). A row of a table,
 * a band of a number and an instance of a repeat are items of the same `linkId`, told apart by an extension of ours.
 *
 * @param form in the edition in which the entry was filled
 * @param takes whether an answer is told, by its key; in a repeat by the repeat and the question: `children/age`
 * @param language of the texts beside the codes
 * @example responseOf(form, about, { sex: { kind: 'value', value: 'f' } }, () => true, 'en').item
 *   // [{ linkId: 'sex', text: 'Sex', answer: [{ valueCoding: { code: 'f', display: 'Female' } }] }]
 */
export function responseOf(
  form: Form,
  about: EntryAbout,
  answers: Answers,
  takes: (key: string) => boolean,
  language: string,
): QuestionnaireResponse {
  /** The items of a question: one, or one for each combination of its bands. */
  function asked(
    question: AnswerQuestion,
    bands: readonly string[],
    keyOf: (cell: string) => string,
    takenAs: (cell: string) => string,
  ): ResponseItem[] {
    const cells = cellsAlong(cellKey(question.code, bands), axesOfQuestion(form, question))
    return cells.flatMap(({ key: cell, bands: further }) => {
      const content = answers[keyOf(cell)]
      if (!content || content.kind === 'blank' || !takes(takenAs(cell))) return []
      const extension = [...(further.length ? [own('bands', further.join('.'))] : []), ...absent(content)]
      return [
        {
          linkId: question.code,
          text: wordsIn(question.label, language),
          ...(extension.length && { extension }),
          ...(content.kind === 'value' && { answer: answersOf(question, content.value, language) }),
        },
      ]
    })
  }
  const group = (
    { code, label }: Pick<FormPart, 'code' | 'label'>,
    item: ResponseItem[],
    extension?: Extension,
  ): ResponseItem[] =>
    item.length
      ? [
          {
            linkId: code,
            text: wordsIn(label, language),
            ...(extension && { extension: [extension] }),
            item,
          },
        ]
      : []
  const plain = (cell: string) => cell
  function itemsOf(part: FormPart): ResponseItem[] {
    switch (part.kind) {
      case 'section':
        return group(part, part.parts.flatMap(itemsOf))
      case 'note':
        return []
      case 'table':
        return part.rows.flatMap(({ code }) =>
          group(
            part,
            part.columns.flatMap(column => asked(column, [code], plain, plain)),
            own('row', code),
          ),
        )
      case 'repeat':
        return instancesIn(part.code, answers).flatMap(instance =>
          group(
            part,
            part.parts.flatMap(inner =>
              asked(
                inner,
                [],
                cell => repeatKey(part.code, instance, cell),
                cell => `${part.code}/${cell}`,
              ),
            ),
            own('instance', instance),
          ),
        )
      default:
        return asked(part, [], plain, plain)
    }
  }
  const item = form.parts.flatMap(itemsOf)
  return {
    resourceType: 'QuestionnaireResponse',
    id: about.entry,
    extension: [
      own('unit', about.unit),
      ...(about.corrects ? [own('corrects', `urn:uuid:${about.corrects}`)] : []),
    ],
    identifier: uuidIdentifier(about.entry),
    questionnaire: questionnaireUrl(about.register, form.code, about.edition),
    status: about.corrects ? 'amended' : 'completed',
    subject: { identifier: uuidIdentifier(about.case) },
    authored: about.madeAt,
    ...(about.by && { author: { display: about.by } }),
    ...(item.length && { item }),
  }
}
