<script setup lang="ts">
import type { Name, Vocabulary } from '#core/expression/vocabulary'

/** A condition from parts: a name, how it is compared, and with what. */
const { inputId, vocabulary, joins } = defineProps<{
  inputId: string
  vocabulary: Vocabulary
  joins: boolean
}>()
const emit = defineEmits<{ add: [text: string] }>()
const words = useWords()
const { t } = words
const names = computed(() => [...vocabulary.names.values()])
const code = ref<string | null>(null)
const how = ref('')
const value = ref('')
const joint = ref('and')
const name = computed<Name | undefined>(() => names.value.find(one => one.code === code.value))
const WAYS: Record<string, readonly string[]> = {
  number: ['=', '!=', '<', '<=', '>', '>='],
  day: ['=', '<', '<=', '>', '>='],
  text: ['=', '!='],
  answers: ['includes'],
  truth: ['yes', 'no'],
}
const ways = computed(() =>
  [...(name.value ? (WAYS[name.value.type] ?? []) : []), 'filled', 'notFilled'].map(one => ({
    value: one,
    label: t(`ask.way.${one}`),
  })),
)
watch(name, now => {
  how.value = now ? WAYS[now.type]![0]! : ''
  value.value = ''
})
const needsValue = computed(() => !['yes', 'no', 'filled', 'notFilled'].includes(how.value))
/** The condition as it is written; null while a part is missing. */
const text = computed(() => {
  if (!name.value || !how.value || (needsValue.value && !value.value.trim())) return null
  const { code: of, type } = name.value
  if (how.value === 'yes') return of
  if (how.value === 'no') return `not ${of}`
  if (how.value === 'filled') return `filled(${of})`
  if (how.value === 'notFilled') return `not filled(${of})`
  const quoted = `"${value.value.replaceAll('"', '')}"`
  if (how.value === 'includes') return `includes(${of}, ${quoted})`
  const written =
    type === 'number' ? value.value.replace(',', '.').trim() : type === 'day' ? `date(${quoted})` : quoted
  return `${of} ${how.value} ${written}`
})
function add() {
  if (!text.value) return
  emit('add', joins ? `${joint.value} ${text.value}` : text.value)
  code.value = null
}
</script>

<template>
  <div class="fields parts">
    <PickOne
      v-if="joins"
      v-model="joint"
      :input-id="`${inputId}-joint`"
      :label="t('ask.joint')"
      :options="['and', 'or'].map(one => ({ value: one, label: t(`ask.way.${one}`) }))"
    />
    <PickOne
      v-model="code"
      :input-id="`${inputId}-name`"
      :label="t('ask.name')"
      :options="names.map(one => ({ value: one.code, label: words.say(one.label) || one.code }))"
    />
    <PickOne
      v-model="how"
      :input-id="`${inputId}-how`"
      :label="t('ask.how')"
      :options="ways"
      :disabled="!name"
    />
    <template v-if="needsValue && name">
      <PickOne
        v-if="name.choices"
        v-model="value"
        :input-id="`${inputId}-value`"
        :label="t('ask.value')"
        :options="name.choices.map(one => ({ value: one.code, label: words.say(one.label) }))"
      />
      <div v-else class="field">
        <label :for="`${inputId}-value`">{{ t('ask.value') }}</label><InputText
          :id="`${inputId}-value`"
          v-model="value"
          :placeholder="name.type === 'day' ? '2026-10-05' : ''"
          maxlength="100"
        />
      </div>
    </template>
    <Button
      size="small"
      severity="secondary"
      outlined
      :label="t('draft.add')"
      :disabled="!text"
      @click="add"
    />
  </div>
</template>

<style scoped>
.parts {
  align-items: flex-end;
  padding: 8px 10px;
  border-radius: 8px;
  background: var(--sand);
}
</style>
