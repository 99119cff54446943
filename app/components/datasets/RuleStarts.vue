<script setup lang="ts">
import { PARTS_OF_START, RULE_STARTS, startRule, type RuleStart } from '#core/define/rule-starts'
import type { DraftWork } from '~/define/useDraft'

/** A rule from a common check: which one, and about which items. */
const { work, freeCode } = defineProps<{ work: DraftWork; freeCode: (label: string) => string }>()
const visible = defineModel<boolean>('visible', { required: true })
const emit = defineEmits<{ started: [code: string] }>()
const words = useWords()
const { t } = words
const start = ref<RuleStart>('partWithinWhole')
const chosen = ref<Record<string, string | null>>({})
const options = computed(() =>
  work.items.value.map(item => ({
    value: item.code as string | null,
    label: words.say(item.name) || item.code,
  })),
)
const items = computed(() =>
  PARTS_OF_START[start.value].flatMap(
    part => work.items.value.find(item => item.code === chosen.value[part]) ?? [],
  ),
)
const complete = computed(() => items.value.length === PARTS_OF_START[start.value].length)
function make() {
  const edition = work.draft.value!
  const rule = startRule(edition, start.value, 'rule', items.value)
  const code = freeCode(words.say(rule.name))
  edition.rules.push({ ...rule, code })
  chosen.value = {}
  emit('started', code)
}
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="t('rules.start')" :style="{ width: '640px' }">
    <div class="stack">
      <fieldset class="plain">
        <legend>{{ t('rules.which') }}</legend>
        <label v-for="one in RULE_STARTS" :key="one" class="start"
          ><RadioButton v-model="start" :value="one" :input-id="`start-${one}`" name="start" />{{ ' ' }}
          <span
            ><strong>{{ t(`rules.starts.${one}.name`) }}</strong
            >{{ ' ' }} <span class="small quiet">{{ t(`rules.starts.${one}.means`) }}</span></span
          ></label
        >
      </fieldset>
      <div class="fields">
        <PickOne
          v-for="part in PARTS_OF_START[start]"
          :key="start + part"
          :model-value="chosen[part] ?? null"
          :input-id="`start-item-${part}`"
          :label="t(`rules.partOf.${part}`)"
          :options="options"
          @update:model-value="chosen[part] = $event"
        />
      </div>
    </div>
    <template #footer>
      <Button severity="secondary" text :label="t('act.cancel')" @click="visible = false" />
      <Button :label="t('rules.make')" :disabled="!complete" @click="make" />
    </template>
  </Dialog>
</template>

<style scoped>
.start {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  padding: 3px 0;
  cursor: pointer;
}
</style>
