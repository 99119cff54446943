import type { CaseRegister } from '#core/cases/register'
import type { FormPart } from '#core/form/question'

const words = (en: string) => ({ en, fr: en })
/** A short register of its own: a visit with a condition, and a follow-up. */
export const visits = (more: readonly FormPart[] = []): CaseRegister => ({
  code: 'home_visits',
  name: words('Home visits'),
  subject: 'person',
  line: ['visited_name', 'visited_on'],
  identity: { name: 'visited_name', identifiers: [] },
  countingDate: 'visited_on',
  rules: [],
  forms: [
    {
      role: 'registration',
      many: false,
      eventDate: 'visited_on',
      form: {
        code: 'visit',
        name: words('First visit'),
        parts: [
          { kind: 'text', code: 'visited_name', label: words('Name'), required: 'always' },
          { kind: 'partialDate', code: 'visited_on', label: words('Visited on'), required: 'always' },
          { kind: 'yesNo', code: 'fever', label: words('Fever') },
          {
            kind: 'wholeNumber',
            code: 'fever_days',
            label: words('Days of fever'),
            shownWhen: 'fever',
            most: 60,
          },
          ...more,
        ],
      },
    },
    {
      role: 'followUp',
      many: true,
      eventDate: 'seen_on',
      form: {
        code: 'again',
        name: words('Later visit'),
        parts: [
          { kind: 'partialDate', code: 'seen_on', label: words('Seen on') },
          { kind: 'yesNo', code: 'well', label: words('Well now') },
        ],
      },
    },
  ],
})
export const field = (question: string): string => `[data-question="${question}"] input`
