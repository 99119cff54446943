/** What FHIR R4 (hl7.org/fhir/R4/questionnaire.html) and its extensions call what a form needs. */
export const STANDARD = {
  translation: 'http://hl7.org/fhir/StructureDefinition/translation',
  least: 'http://hl7.org/fhir/StructureDefinition/minValue',
  most: 'http://hl7.org/fhir/StructureDefinition/maxValue',
  pattern: 'http://hl7.org/fhir/StructureDefinition/regex',
  unit: 'http://hl7.org/fhir/StructureDefinition/questionnaire-unit',
  absent: 'http://hl7.org/fhir/StructureDefinition/data-absent-reason',
} as const

/**
 * Our own extensions, for what the standard has no place for: other programs leave them alone, ours reads
 * them back.
 */
export const OWN = 'urn:eastward-lantern:fhir:'

export interface Extension {
  url: string
  extension?: Extension[]
  valueString?: string
  valueCode?: string
  valueInteger?: number
  valueDecimal?: number
  valueDate?: string
  valueCoding?: { system?: string; code?: string; display?: string }
}

export interface WithExtensions {
  extension?: Extension[]
}

export interface QuestionnaireItem extends WithExtensions {
  linkId: string
  type: string
  text?: string
  _text?: WithExtensions
  required?: boolean
  repeats?: boolean
  readOnly?: boolean
  maxLength?: number
  enableWhen?: { question: string; operator: string; [answer: `answer${string}`]: unknown }[]
  enableBehavior?: 'all' | 'any'
  initial?: { [value: `value${string}`]: unknown }[]
  answerOption?: ({
    valueCoding?: { code?: string; display?: string; _display?: WithExtensions }
    valueString?: string
    valueInteger?: number
    valueDate?: string
    valueTime?: string
    initialSelected?: boolean
  } & WithExtensions)[]
  item?: QuestionnaireItem[]
}

export interface Questionnaire extends WithExtensions {
  resourceType: 'Questionnaire'
  status: string
  name?: string
  title?: string
  _title?: WithExtensions
  language?: string
  item?: QuestionnaireItem[]
}

/** Something of a form that could not be carried, and where. */
export interface NotCarried {
  question: string
  /** `unit`, `axes`, `enableWhen`, the type or the extension that has no place. */
  what: string
  /** `ownOnly`: it is in the file, but only we can read it. `lost`: it is gone. */
  how: 'ownOnly' | 'lost'
}
