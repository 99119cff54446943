<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import type { CompiledForm } from '#core/form/compile-form'
import { repeatKey } from '#core/form/outline'
import { cellKey } from '#core/report/edition'
import type { FormPart, Repeat } from '#core/form/question'
import type { FillingWork } from '~/cases/useFilling'

/** The parts of a form or section, those that do not apply left out. Sections hold parts again. */
const { parts, compiled, work } = defineProps<{
  parts: readonly FormPart[]
  compiled: CompiledForm
  work: FillingWork
}>()
const words = useWords()
const { t } = words
const shown = computed(() => parts.filter(part => !work.isHidden(part.code)))
/** The cells of a question that is split by breakdowns, each with its name. */
const cellsOf = (code: string) =>
  (compiled.outline.placed.find(({ question }) => question.code === code)?.cells ?? []).map(cell => ({
    key: cell.key,
    name: cell.bands
      .map(band =>
        words.say(
          compiled.form.axes?.flatMap(axis => axis.bands).find(one => one.code === band)?.name ?? {
            en: band,
          },
        ),
      )
      .join(', '),
  }))
const setInstances = (part: Repeat, ids: readonly string[]) =>
  work.put({ [part.code]: ids.length ? { kind: 'value', value: ids } : { kind: 'blank' } })
// Short, because it only has to differ within one answer.
const addInstance = (part: Repeat) => setInstances(part, [...work.instancesOf(part.code), uuid().slice(-8)])
</script>

<template>
  <template v-for="part in shown" :key="part.code">
    <section v-if="part.kind === 'section'" class="section">
      <h2>{{ words.say(part.label) }}</h2>
      <FormParts :parts="part.parts" :compiled="compiled" :work="work" />
    </section>
    <p v-else-if="part.kind === 'note'" class="note">{{ words.say(part.label) }}</p>
    <fieldset v-else-if="part.kind === 'table'" class="block">
      <legend>
        {{ words.say(part.label) }}<small v-if="part.definition">{{ words.say(part.definition) }}</small>
      </legend>
      <fieldset v-for="row in part.rows" :key="row.code" class="rowset">
        <legend>{{ words.say(row.name) }}</legend>
        <template v-for="column in part.columns" :key="column.code"
          ><AnswerField
            v-if="!work.isHidden(column.code)"
            :question="column"
            :answer-key="cellKey(column.code, [row.code])"
            :work="work"
            compact
        /></template>
      </fieldset>
    </fieldset>
    <fieldset v-else-if="part.kind === 'repeat'" class="block">
      <legend>
        {{ words.say(part.label) }}<small v-if="part.definition">{{ words.say(part.definition) }}</small>
      </legend>
      <fieldset v-for="(instance, at) in work.instancesOf(part.code)" :key="instance" class="rowset">
        <legend>
          {{ at + 1 }}
          <Button
            text
            size="small"
            severity="secondary"
            icon="pi pi-trash"
            :aria-label="t('filling.removeOne', { number: at + 1, name: words.say(part.label) })"
            @click="
              setInstances(
                part,
                work.instancesOf(part.code).filter(one => one !== instance),
              )
            "
          />
        </legend>
        <template v-for="inner in part.parts" :key="inner.code"
          ><AnswerField
            v-if="!work.isHidden(inner.code, repeatKey(part.code, instance, inner.code))"
            :question="inner"
            :answer-key="repeatKey(part.code, instance, inner.code)"
            :work="work"
        /></template>
      </fieldset>
      <Button
        class="more"
        size="small"
        severity="secondary"
        outlined
        icon="pi pi-plus"
        :label="t('filling.addOne', { name: words.say(part.label) })"
        :disabled="work.instancesOf(part.code).length >= (part.most ?? 200)"
        @click="addInstance(part)"
      />
    </fieldset>
    <fieldset v-else-if="cellsOf(part.code).length > 1" class="block">
      <legend>{{ words.say(part.label) }}</legend>
      <AnswerField
        v-for="cell in cellsOf(part.code)"
        :key="cell.key"
        :question="{ ...part, label: { en: cell.name } }"
        :answer-key="cell.key"
        :work="work"
        compact
      />
    </fieldset>
    <AnswerField v-else :question="part" :answer-key="part.code" :work="work" />
  </template>
</template>

<style scoped>
h2 {
  padding: 14px 16px 6px;
  font-size: 17px;
}
.note {
  padding: 8px 16px;
  color: var(--ink-7);
  font-style: italic;
}
.block {
  margin: 0;
  padding: 0;
  border: 0;
  min-width: 0;
}
.block > legend {
  padding: 12px 16px 4px;
  font-weight: 600;
}
.block small {
  display: block;
  font-weight: 400;
  font-size: 13px;
  color: var(--ink-5);
}
.rowset {
  margin: 4px 12px;
  padding: 0 0 4px;
  border: 1px solid var(--line);
  border-radius: 10px;
  min-width: 0;
}
.rowset > legend {
  margin-left: 10px;
  padding: 0 6px;
  font-size: 14px;
  font-weight: 600;
  color: var(--ink-7);
}
.more {
  margin: 6px 16px 10px;
  min-height: 44px;
}
</style>
