<script setup lang="ts">
/** A field for the name of something new, and the button beside it. */
const { label } = defineProps<{ label: string }>()
const emit = defineEmits<{ add: [name: string] }>()
const { t } = useI18n()
const name = ref('')
function add() {
  if (!name.value.trim()) return
  emit('add', name.value.trim())
  name.value = ''
}
</script>

<template>
  <form class="row add" @submit.prevent="add">
    <InputText v-model="name" size="small" :placeholder="label" :aria-label="label" maxlength="200" /><Button
      type="submit"
      size="small"
      text
      icon="pi pi-plus"
      :label="t('draft.add')"
    />
  </form>
</template>

<style scoped>
.add {
  flex-wrap: nowrap;
}
.add :deep(input) {
  min-width: 0;
  flex: 1;
}
</style>
