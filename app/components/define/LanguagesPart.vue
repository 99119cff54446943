<script setup lang="ts">
import { textsOf } from '#core/define/texts'
import { LANGUAGES } from '#core/languages'

/** Every text of a definition in each language, what is missing first; written in place. */
const { definition } = defineProps<{ definition: object }>()
const { t } = useI18n()
const { te } = useI18n()
const SHOWN = 60
const onlyMissing = ref(true)
const shown = ref(SHOWN)
const texts = computed(() => textsOf(definition, LANGUAGES))
const missing = computed(() => texts.value.filter(text => text.missing.length))
/**
 * What is being written must not leave the list under the fingers: a text stays while it was missing at the
 * last look.
 */
const looked = ref<Set<string>>(new Set())
watch(
  [onlyMissing, () => texts.value.length],
  () => {
    looked.value = new Set(missing.value.map(({ path }) => path))
  },
  { immediate: true },
)
const listed = computed(() =>
  onlyMissing.value
    ? texts.value.filter(({ path, missing: without }) => without.length || looked.value.has(path))
    : texts.value,
)
const partName = (part: string) => (te(`draft.part.${part}`) ? t(`draft.part.${part}`) : part)
</script>

<template>
  <section class="card stack">
    <div class="spread">
      <h2>{{ t('languages.title') }}</h2>
      <span :class="missing.length ? 'lacks' : 'quiet'">{{
        t('languages.missing', { count: missing.length, all: texts.length }, missing.length)
      }}</span>
    </div>
    <label><input v-model="onlyMissing" type="checkbox" /> {{ t('languages.only') }}</label>
    <p v-if="!listed.length" class="quiet">{{ t('languages.none') }}</p>
    <table v-else>
      <thead>
        <tr>
          <th scope="col">{{ t('languages.what') }}</th>
          <th v-for="language in LANGUAGES" :key="language" scope="col">{{ language }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="text in listed.slice(0, shown)" :key="text.path">
          <th scope="row">
            <code>{{ text.of }}</code> <span class="small quiet">{{ partName(text.part) }}</span>
          </th>
          <td v-for="language in LANGUAGES" :key="language">
            <Textarea
              v-model="text.words[language]"
              rows="1"
              auto-resize
              fluid
              :invalid="!text.words[language]?.trim()"
              :aria-label="`${text.of}, ${partName(text.part)} (${language})`"
              maxlength="1000"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <Button
      v-if="listed.length > shown"
      size="small"
      text
      :label="t('languages.more')"
      @click="shown += SHOWN"
    />
  </section>
</template>

<style scoped>
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 4px 6px;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
}
thead th {
  font-size: 13px;
  font-weight: 600;
  color: var(--ink-7);
}
tbody th {
  width: 26%;
  overflow-wrap: anywhere;
}
.lacks {
  color: var(--amber-7);
  font-weight: 600;
}
</style>
