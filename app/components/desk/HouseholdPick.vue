<script setup lang="ts">
import { fold } from '#core/form/code'

/** *Same household as…*: choose somebody, and the answers that a household shares are carried over. */
const { cases, titleOf } = defineProps<{ cases: readonly DeskCase[]; titleOf: (one: DeskCase) => string }>()
const emit = defineEmits<{ pick: [one: DeskCase] }>()
const { t } = useI18n()
const open = ref(false)
const sought = ref('')
const SHOWN = 8
const found = computed(() =>
  cases.filter(one => one.sought.includes(fold(sought.value.trim()))).slice(0, SHOWN),
)
const picked = ref<string | null>(null)
function pick(one: DeskCase) {
  picked.value = titleOf(one)
  open.value = false
  emit('pick', one)
}
</script>

<template>
  <div class="household">
    <p v-if="picked" class="small" role="status">{{ t('cases.carried', { name: picked }) }}</p>
    <Button
      v-if="!open"
      severity="secondary"
      text
      icon="pi pi-home"
      :label="t('cases.household')"
      @click="open = true"
    />
    <template v-else>
      <InputText
        v-model="sought"
        fluid
        :aria-label="t('cases.household')"
        :placeholder="t('filling.typeName')"
      />
      <ul class="plain-list">
        <li v-for="one in found" :key="one.id">
          <button type="button" class="textual" @click="pick(one)">{{ titleOf(one) }}</button>
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.household {
  padding: 10px 16px;
  border-bottom: 1px solid var(--line);
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.household button {
  min-height: 40px;
  text-align: left;
}
</style>
