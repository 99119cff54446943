<script setup lang="ts">
import type { Attachment } from '#core/form/answer'
import { FILES_HERE } from '~/device/useFilesHere'

/** A picture or a sound, from where this page has its files. */
const { file, kind, label } = defineProps<{ file: Attachment; kind: 'picture' | 'sound'; label: string }>()
const { t } = useI18n()
const files = inject(FILES_HERE, null)
const address = ref<string | null>(null)
const broken = ref(false)
watch(
  () => file.hash,
  async () => {
    broken.value = false
    address.value = (await files?.show(file)) ?? null
  },
  { immediate: true },
)
onBeforeUnmount(() => {
  if (address.value?.startsWith('blob:')) URL.revokeObjectURL(address.value)
})
</script>

<template>
  <span v-if="!address || broken" class="quiet small">{{ t('filling.notHere') }}</span>
  <img v-else-if="kind === 'picture'" :src="address" :alt="label" @error="broken = true" />
  <audio v-else :src="address" controls @error="broken = true" />
</template>

<style scoped>
img {
  max-width: 100%;
  max-height: 260px;
  border-radius: 8px;
  border: 1px solid var(--line);
}
audio {
  max-width: 100%;
}
</style>
