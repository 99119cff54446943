<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'

/** The camera's picture as it moves, looked at for a square until one is found. */
const emit = defineEmits<{ found: [text: string]; failed: [] }>()
const { t } = useI18n()
const video = useTemplateRef('video')
const EVERY = 250
let stream: MediaStream | undefined

async function look() {
  const seen = video.value
  if (seen?.videoWidth) {
    const text = await squareIn(seen, { width: seen.videoWidth, height: seen.videoHeight })
    if (text !== null) {
      emit('found', text)
      return
    }
  }
  again.start()
}
const again = useTimeoutFn(() => void look(), EVERY, { immediate: false })
onMounted(async () => {
  try {
    stream = await openCamera()
  } catch (error) {
    if (!(error instanceof HardwareFailed)) throw error
    emit('failed')
    return
  }
  video.value!.srcObject = stream
  await video.value!.play()
  await look()
})
onBeforeUnmount(() => {
  stream?.getTracks().forEach(track => track.stop())
})
</script>

<template>
  <video ref="video" muted playsinline :aria-label="t('pair.camera')" />
</template>

<style scoped>
video {
  width: 100%;
  aspect-ratio: 1;
  object-fit: cover;
  border-radius: 10px;
  background: #1f1a2b;
}
</style>
