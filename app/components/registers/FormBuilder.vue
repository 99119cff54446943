<script setup lang="ts">
import type { CaseRegister } from '#core/cases/register'
import type { ChoiceList } from '#core/define/choice-list'
import { partsOf, placesOf } from '#core/define/form-parts'
import { usesOfQuestions } from '#core/define/question-uses'
import type { Form, FormPart } from '#core/form/question'
import type { FormInWork, RegisterWork } from '~/define/useRegisterDraft'

/** A form as an outline, the part of it that is worked on, and the form on a phone beside both. */
const { work, form, chosen, code, levels, lists } = defineProps<{
  work: RegisterWork
  form: FormInWork | null
  chosen: string | null
  code: string
  levels: string[]
  lists: readonly ChoiceList[]
}>()
const emit = defineEmits<{ open: [form: string]; choose: [part: string | null] }>()
const words = useWords()
const { t } = words
const kind = ref<FormPart['kind']>('text')
const pasting = ref(false)
const beside = ref<'phone' | 'scan' | null>('phone')
const removal = useRemoval()
const place = computed(() =>
  form && chosen
    ? (placesOf(form.form.parts as FormPart[]).find(({ part }) => part.code === chosen) ?? null)
    : null,
)

function addForm(name: string) {
  emit('open', work.addForm(name, work.draft.value!.forms.length ? 'followUp' : 'registration'))
}
function add(label: string) {
  emit('choose', work.addPart(form!, kind.value, label, chosen))
}
function remove(part: string) {
  const { part: found } = placesOf(form!.form.parts as FormPart[]).find(one => one.part.code === part)!
  const codes = partsOf([found]).map(({ code }) => code)
  const uses = usesOfQuestions(work.draft.value as CaseRegister, form!.form.code, codes)
  removal.remove(
    words.say(found.label) || part,
    uses.map(use => ('name' in use ? words.say(use.name) : t(`register.uses.${use.setting}`))),
    () => {
      if (part === chosen) emit('choose', null)
      return work.remove(form!, part)
    },
  )
}
async function move(part: string, way: 'up' | 'down' | 'in' | 'out') {
  work.move(form!, part, way)
  await nextTick()
  document.getElementById(`part-${part}`)?.focus()
}
/** Takes the choices of a shared list over; where the list has a parent, each keeps what it is under. */
function takeList(list: string) {
  const found = lists.find(one => one.code === list)
  if (!found || !place.value) return
  const plain = JSON.parse(JSON.stringify(found.choices)) as ChoiceList['choices']
  Object.assign(place.value.part, {
    list,
    choices:
      'cascade' in place.value.part
        ? plain
        : plain.map(({ code: choice, label }) => ({ code: choice, label })),
  })
}
useKeys([
  { key: 'Alt ↑ ↓', says: 'keys.moveItem' },
  { key: 'Alt → ←', says: 'keys.nest' },
  { key: 'Delete', says: 'keys.removeItem' },
])
</script>

<template>
  <ThreeColumns>
    <template #outline>
      <div class="row">
        <Button
          v-for="one in work.draft.value!.forms"
          :key="one.form.code"
          size="small"
          :severity="one === form ? undefined : 'secondary'"
          :outlined="one !== form"
          :label="words.say(one.form.name) || one.form.code"
          :aria-pressed="one === form"
          @click="emit('open', one.form.code)"
        />
      </div>
      <AddByName :label="t('register.newForm')" @add="addForm" />
      <template v-if="form">
        <FormOutline
          :parts="form.form.parts as FormPart[]"
          :chosen="chosen"
          :label="words.say(form.form.name)"
          @choose="emit('choose', $event)"
          @move="move"
          @remove="remove"
        />
        <p v-if="!form.form.parts.length" class="quiet small">{{ t('question.none') }}</p>
        <RemovalNotes :removal="removal" />
        <PickOne
          v-model="kind"
          input-id="new-kind"
          :label="t('question.newKind')"
          :options="PART_KINDS.map(one => ({ value: one, label: t(`kind.${one}`) }))"
        />
        <AddByName :label="t('question.new')" @add="add" />
        <div>
          <Button
            size="small"
            text
            icon="pi pi-clipboard"
            :label="t('question.paste')"
            @click="pasting = true"
          />
        </div>
      </template>
    </template>
    <QuestionForm
      v-if="form && place"
      :key="place.part.code"
      v-model="place.siblings[place.at]!"
      :work="work"
      :form="form"
      :levels="levels"
      :lists="lists.map(one => ({ value: one.code, label: words.say(one.name) }))"
      @recoded="emit('choose', $event)"
      @remove="remove(place!.part.code)"
      @take-list="takeList"
    />
    <p v-else-if="form" class="quiet">{{ t('question.choose') }}</p>
    <p v-else class="quiet">{{ t('register.noForm') }}</p>
    <template #beside>
      <div class="row">
        <Button
          v-for="one in ['phone', 'scan'] as const"
          :key="one"
          size="small"
          :severity="beside === one ? undefined : 'secondary'"
          :outlined="beside !== one"
          :label="t(`define.beside.${one}`)"
          :aria-pressed="beside === one"
          @click="beside = beside === one ? null : one"
        />
      </div>
      <TrialForm v-if="beside === 'phone' && form" :key="form.form.code" :form="form.form as Form" />
      <PaperScans v-else-if="beside === 'scan'" kind="register" :code="code" />
    </template>
  </ThreeColumns>
  <PasteQuestions v-if="form" v-model:visible="pasting" :work="work" :form="form" />
</template>
