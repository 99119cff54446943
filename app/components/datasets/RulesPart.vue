<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'
import { countsCases } from '#core/rule/definition'
import type { DraftWork } from '~/define/useDraft'
import type { Units } from '~/units/useUnits'

/** The rules of a dataset beside the one that is worked on. */
const { work, units, dataset, chosen } = defineProps<{
  work: DraftWork
  units: Units
  dataset: string
  chosen: string | null
}>()
const emit = defineEmits<{ choose: [code: string | null] }>()
const { t, locale } = useI18n()
const starting = ref(false)
const rules = computed(() => work.draft.value!.rules)
const freeCode = (label: string) =>
  codeFromLabel(
    label,
    rules.value.map(({ code }) => code),
  )

function add() {
  const code = freeCode('rule')
  rules.value.push({
    code,
    name: { [locale.value]: t('rules.new') },
    expression: '',
    strength: 'explain',
    blanks: 'notJudged',
    forClerk: {},
    forOfficer: {},
  })
  emit('choose', code)
}
function started(code: string) {
  starting.value = false
  emit('choose', code)
}
</script>

<template>
  <ListBeside
    :list="rules"
    :chosen="chosen"
    :none="t('rules.none')"
    :choose="t('rules.choose')"
    @choose="emit('choose', $event)"
  >
    <template #default="{ at, remove }"
      ><RuleForm v-model="rules[at]!" :work="work" :units="units" :dataset="dataset" @remove="remove"
    /></template>
    <template #mark="{ one }"
      ><WordTag v-if="countsCases(one)">{{ t('register.notJudged') }}</WordTag
      ><StrengthTag v-else :strength="one.strength"
    /></template>
    <template #add>
      <div class="row">
        <Button
          size="small"
          icon="pi pi-plus"
          :label="t('rules.start')"
          :disabled="!work.items.value.length"
          @click="starting = true"
        />
        <Button size="small" text :label="t('rules.empty')" @click="add" />
      </div>
    </template>
  </ListBeside>
  <RuleStarts v-model:visible="starting" :work="work" :free-code="freeCode" @started="started" />
</template>
