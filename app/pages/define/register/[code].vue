<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'
import { placesOf } from '#core/define/form-parts'
import { registerDifferences } from '#core/define/register-differences'
import type { CaseRegister } from '#core/cases/register'
import type { FormPart } from '#core/form/question'
import { UNITS_HERE } from '~/units/useUnits'

/**
 * One case register while it is defined: its forms as outlines with the phone beside them, what a case is,
 * rules, and publishing.
 */
const words = useWords()
const { t } = words
const route = useRoute()
const router = useRouter()
const code = computed(() => String(route.params.code))
const load = useLoad(
  () => callApi('GET /api/registers/:register', { params: { register: code.value } }),
  () => code.value,
)
const tree = useLoad(allPlaces)
const registers = useLoad(() => callApi('GET /api/registers', {}))
const lists = useLoad(() => callApi('GET /api/choice-lists', {}))
const units = useUnits(() => tree.data.value)
provide(UNITS_HERE, units)
const work = useRegisterDraft(() => code.value, load)
const { draft, state, file } = work
const { part, chosen, choose } = useParts('forms')
const published = ref(0)
const must = computed(() => file.value?.lacks.filter(({ weight }) => weight === 'must').length ?? 0)
const parts = computed(() =>
  ['forms', 'register', 'rules', 'languages', 'exchange', 'publish'].map(key => ({
    key,
    label: t(`define.part.${key}`),
    ...(key === 'publish' && must.value && { mark: String(must.value) }),
  })),
)
const formCode = computed(() =>
  route.query.form ? String(route.query.form) : (draft.value?.forms[0]?.form.code ?? null),
)
const form = computed(() => work.formOf(formCode.value))
const openForm = (next: string) =>
  router.replace({ query: { part: part.value === 'exchange' ? 'exchange' : 'forms', form: next } })
function lead(at: string) {
  const [kind, of] = at.split('/')
  if (kind === 'rules') {
    void choose(of ?? null, 'rules')
    return
  }
  const owner = draft.value!.forms.find(
    one =>
      one.form.code === of || placesOf(one.form.parts as FormPart[]).some(place => place.part.code === of),
  )
  void router.replace({
    query: owner ? { part: 'forms', form: owner.form.code, chosen: of } : { part: 'register' },
  })
}
const nameOf = (at: string) => {
  const [kind, of] = at.split('/')
  if (!of) return ''
  if (kind === 'rules') return words.say(draft.value!.rules.find(one => one.code === of)?.name ?? { en: of })
  if (kind === 'forms')
    return words.say(draft.value!.forms.find(one => one.form.code === of)?.form.name ?? { en: of })
  const found = draft
    .value!.forms.flatMap(one => placesOf(one.form.parts as FormPart[]))
    .find(place => place.part.code === of)
  return found ? words.say(found.part.label) || of : of
}
const publish = async () =>
  (
    await callApi('POST /api/registers/:register/publish', {
      params: { register: code.value },
      body: { version: file.value!.version },
    })
  ).number
async function done(number: number) {
  published.value = number
  await load.reload()
}
const readEdition = (number: string) =>
  callApi('GET /api/registers/:register/editions/:number', {
    params: { register: code.value, number },
  }) as Promise<unknown> as Promise<CaseRegister>
async function copy() {
  const next = codeFromLabel(
    `${code.value}_copy`,
    (registers.data.value ?? []).map(one => one.register),
  )
  await callApi('PUT /api/registers/:register', {
    params: { register: next },
    body: { version: 0, draft: { ...draft.value!, code: next } },
  })
  work.takeTheirs()
  await router.push(`/define/register/${next}`)
}
</script>

<template>
  <DraftPage
    v-model:published="published"
    kind="register"
    :code="code"
    :title="draft ? words.say(draft.name) : ''"
    :load="load"
    :autosave="work"
    :changes="
      work.theirs.value && load.data.value
        ? registerDifferences(load.data.value.draft, work.theirs.value.draft)
        : []
    "
    :copy="copy"
  >
    <template v-if="draft && file">
      <PartTabs v-model="part" :parts="parts" :label="t('define.parts')" />
      <FormBuilder
        v-if="part === 'forms'"
        :work="work"
        :form="form"
        :chosen="chosen"
        :code="code"
        :levels="tree.data.value?.levels.map(words.say) ?? []"
        :lists="(lists.data.value ?? []).map(one => one.list)"
        @open="openForm"
        @choose="
          router.replace({
            query: { part: 'forms', form: formCode ?? undefined, chosen: $event ?? undefined },
          })
        "
      />
      <RegisterSettings
        v-else-if="part === 'register'"
        :work="work"
        :others="(registers.data.value ?? []).filter(one => one.register !== code && one.edition !== null)"
      />
      <RegisterRules v-else-if="part === 'rules'" :work="work" :chosen="chosen" @choose="choose($event)" />
      <LanguagesPart v-else-if="part === 'languages'" :definition="draft" />
      <div v-else-if="part === 'exchange'" class="stack">
        <div class="row">
          <Button
            v-for="one in draft.forms"
            :key="one.form.code"
            size="small"
            severity="secondary"
            :outlined="one.form.code !== formCode"
            :label="words.say(one.form.name)"
            :aria-pressed="one.form.code === formCode"
            @click="openForm(one.form.code)"
          />
        </div>
        <ExchangePart :work="work" :form="form" @brought="openForm" />
      </div>
      <div v-else class="stack">
        <DraftCheck
          :lacks="file.lacks"
          :differences="file.published ? file.differences : null"
          :number="file.number"
          :ready="file.version > 0 && file.mine && state === 'saved'"
          :name-of="nameOf"
          :asked="t('register.publishAsk')"
          :publish="publish"
          @choose="lead"
          @published="done"
        />
        <EditionsCompare
          v-if="file.published"
          :key="file.number"
          :list="() => callApi('GET /api/registers/:register/editions', { params: { register: code } })"
          :read="readEdition"
          :differ="registerDifferences"
        />
      </div>
    </template>
  </DraftPage>
</template>
