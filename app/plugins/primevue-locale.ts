import en from 'primelocale/en.json'
import fr from 'primelocale/fr.json'

const OWN_WORDS = { en: en.en, fr: fr.fr }

/**
 * The words that the components of PrimeVue say by themselves (*Close*, *First page*), in the person's
 * language. Comes after `i18n.ts`.
 */
export default defineNuxtPlugin(({ vueApp }) => {
  const { $primevue, $i18n } = vueApp.config.globalProperties
  watch(
    () => $i18n.locale,
    language => {
      const { config } = $primevue
      config.locale = {
        ...config.locale,
        ...OWN_WORDS[language === 'fr' ? 'fr' : 'en'],
      } as typeof config.locale
    },
    { immediate: true },
  )
})
