<script setup lang="ts">
import type { FieldLine } from '#core/contract/extracts'
import { fold, searchWords } from '#core/form/code'
import { groupBy } from '#core/group-by'

/** All that rows can have as a column, section by section, with a search and ticks. */
const { fields, chosen } = defineProps<{ fields: readonly FieldLine[]; chosen: ReadonlySet<string> }>()
const emit = defineEmits<{ add: [keys: string[]]; remove: [keys: string[]] }>()
const words = useWords()
const { t } = words
const find = ref('')

interface Part {
  name: string
  fields: FieldLine[]
}
const parts = computed<Part[]>(() => {
  const wanted = searchWords(find.value)
  const found = fields.filter(field => {
    const text = fold(`${words.say(field.label)} ${field.path}`)
    return wanted.every(word => text.includes(word))
  })
  const byName = groupBy(found, ({ key, sections }) =>
    key.startsWith('@') ? t('extract.about') : sections.map(words.say).join(' · ') || t('extract.answers'),
  )
  return [...byName].map(([name, own]) => ({ name, fields: own }))
})
const allOf = ({ fields: own }: Part) => own.every(({ key }) => chosen.has(key))
const someOf = (part: Part) => !allOf(part) && part.fields.some(({ key }) => chosen.has(key))
const keysOf = ({ fields: own }: Part) => own.map(({ key }) => key)
const toggle = (keys: string[], on: boolean) =>
  on
    ? emit(
        'add',
        keys.filter(key => !chosen.has(key)),
      )
    : emit('remove', keys)
</script>

<template>
  <section class="card outline" :aria-label="t('extract.fields')">
    <h2>{{ t('extract.fields') }}</h2>
    <InputText
      v-model="find"
      :aria-label="t('extract.find')"
      :placeholder="t('extract.find')"
      fluid
      maxlength="60"
    />
    <p v-if="!parts.length" class="quiet small" role="status">{{ t('extract.noneFound') }}</p>
    <div class="parts" tabindex="0" role="group" :aria-label="t('extract.fields')">
      <fieldset v-for="part in parts" :key="part.name" class="plain">
        <legend>
          <label class="tick">
            <Checkbox
              :model-value="allOf(part)"
              :indeterminate="someOf(part)"
              binary
              size="small"
              @update:model-value="on => toggle(keysOf(part), Boolean(on))"
            />
            {{ part.name }}
          </label>
        </legend>
        <label v-for="field in part.fields" :key="field.key" class="tick one">
          <Checkbox
            :model-value="chosen.has(field.key)"
            binary
            size="small"
            :input-id="`field-${field.key}`"
            @update:model-value="on => toggle([field.key], Boolean(on))"
          />
          <span>
            {{ words.say(field.label) || field.short }}
            <span class="code quiet">{{ field.short }}</span>
            <WordTag v-if="field.isPersonal" tone="amber">{{ t('extract.personal') }}</WordTag>
          </span>
        </label>
      </fieldset>
    </div>
  </section>
</template>

<style scoped>
.outline {
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-height: 78vh;
}
h2 {
  margin: 0;
}
.parts {
  overflow-y: auto;
  min-height: 120px;
}
fieldset + fieldset {
  margin-top: 8px;
}
legend {
  font-weight: 600;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  padding: 3px 0;
  cursor: pointer;
}
.one {
  padding-left: 14px;
}
.code {
  font-size: 12px;
  overflow-wrap: anywhere;
}
</style>
