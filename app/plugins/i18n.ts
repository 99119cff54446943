import { createI18n, type Composer } from 'vue-i18n'
import { LANGUAGES, type Language } from '#core/languages'
import { readOnce } from '~/common/sentences'
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
  readOnce(i18n.global as Composer)
  nuxt.vueApp.use(i18n)
})
