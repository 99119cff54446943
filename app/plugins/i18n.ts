import { createI18n, type Composer } from 'vue-i18n'
import { LANGUAGES, type Language } from '#core/languages'
import { phoneName } from '~/device/useDeskStore'
import casesEn from '~/locales/cases.en.json'
import casesFr from '~/locales/cases.fr.json'
import defineEn from '~/locales/define.en.json'
import defineFr from '~/locales/define.fr.json'
import gatherEn from '~/locales/gather.en.json'
import gatherFr from '~/locales/gather.fr.json'
import en from '~/locales/en.json'
import fr from '~/locales/fr.json'

const key = () => `lantern-language${phoneName()}`

/** The language chosen on this device, else the browser's, else English. */
function firstLanguage(): Language {
  const wanted = [localStorage.getItem(key()), ...navigator.languages]
  return (
    LANGUAGES.find(language =>
      wanted.find(one => one?.startsWith('en') || one?.startsWith('fr'))?.startsWith(language),
    ) ?? 'en'
  )
}

/**
 * Looks up each sentence without values once in each language. The library reads a sentence anew each time, half a
 * millisecond of a slow phone; a line of a report says several at each key.
 */
function lookUpOnce(composer: Composer): void {
  const lookUp = composer.t
  const known = new Map<string, string>()
  const t = (key: string, ...values: unknown[]) => {
    if (values.length) return (lookUp as (...given: unknown[]) => string)(key, ...values)
    const name = `${composer.locale.value} ${key}`
    const found = known.get(name) ?? lookUp(key)
    known.set(name, found)
    return found
  }
  composer.t = t as Composer['t']
}

export default defineNuxtPlugin(nuxt => {
  const i18n = createI18n({
    legacy: false,
    locale: firstLanguage(),
    fallbackLocale: 'en',
    messages: {
      en: { ...en, ...defineEn, ...casesEn, ...gatherEn },
      fr: { ...fr, ...defineFr, ...casesFr, ...gatherFr },
    },
  })
  const locale = i18n.global.locale
  watch(
    locale,
    language => {
      localStorage.setItem(key(), language)
      document.documentElement.lang = language
    },
    { immediate: true },
  )
  lookUpOnce(i18n.global as Composer)
  nuxt.vueApp.use(i18n)
})
