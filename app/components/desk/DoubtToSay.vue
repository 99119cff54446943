<script setup lang="ts">
import { LONGEST_SENTENCE } from '#core/contract/wire'
import type { Strength } from '#core/rule/definition'

/**
 * A doubt about what was filled, with the way to it and the sentence that explains it. What must be fixed shows
 * the sentence only to somebody who says that it cannot be corrected.
 */
const { inputId, strength, title, says, numbers } = defineProps<{
  inputId: string
  strength: Strength
  title: string
  /** What the rule tells the clerk. */
  says?: string
  /** The doubt with the values put in. */
  numbers: string
}>()
defineSlots<{ /** The way to the value. */ default?: () => unknown }>()
const text = defineModel<string>({ default: '' })
const { t } = useI18n()
const isMustFix = computed(() => strength === 'mustFix')
const cannot = ref(false)
const saysWhy = computed(
  () => strength === 'explain' || (isMustFix.value && (cannot.value || text.value.trim().length > 1)),
)
</script>

<template>
  <div class="doubt" :class="strength">
    <strong>{{ title }}</strong>
    <span v-if="says && says !== title" class="small">{{ says }}</span>
    <span class="small">{{ numbers }}</span>
    <slot />
    <template v-if="saysWhy">
      <label :for="inputId">{{ t(isMustFix ? 'send.cannotWhy' : 'send.sentence') }}</label>
      <Textarea :id="inputId" v-model="text" rows="2" :maxlength="LONGEST_SENTENCE" fluid />
    </template>
    <div v-else-if="isMustFix">
      <Button size="small" severity="secondary" text :label="t('send.cannot')" @click="cannot = true" />
    </div>
  </div>
</template>

<style scoped>
.doubt {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding-left: 10px;
  border-left: 3px solid var(--line);
}
.mustFix {
  border-left-color: var(--brick-7);
}
.explain {
  border-left-color: var(--amber-5);
}
.doubt :deep(a) {
  min-height: 24px;
}
</style>
