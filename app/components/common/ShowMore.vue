<script setup lang="ts">
/** Brings the next page of a list, where there is one. */
const { more } = defineProps<{ more: boolean | undefined }>()
const emit = defineEmits<{ show: [] }>()
const { t } = useI18n()
</script>

<template>
  <Button v-if="more" :label="t('act.showMore')" severity="secondary" text @click="emit('show')" />
</template>
