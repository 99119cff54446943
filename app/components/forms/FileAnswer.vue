<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import type { AnswerValue, Attachment } from '#core/form/answer'
import { FILES_HERE } from '~/device/useFilesHere'

/** A picture or a sound: known by the hash of its bytes, and kept where the form is filled. */
const {
  kind,
  inputId,
  value,
  asTaken = false,
  most,
} = defineProps<{
  kind: 'picture' | 'sound'
  inputId: string
  value: AnswerValue | null
  asTaken?: boolean
  most?: number
}>()
const emit = defineEmits<{ give: [value: AnswerValue | null] }>()
const words = useWords()
const { t } = words
const files = inject(FILES_HERE, null)
const attachment = computed(() => value as Attachment | null)
const problem = ref<string | null>(null)
const recording = shallowRef<Recording | null>(null)
const shown = ref<string | null>(null)
const LONGEST_SOUND = 60_000
/** What the district takes at the most. */
const MOST = 4_000_000
const longest = useTimeoutFn(
  () => {
    if (recording.value) void record()
  },
  LONGEST_SOUND,
  { immediate: false },
)

async function trying(work: () => Promise<void>) {
  problem.value = null
  try {
    await work()
  } catch (error) {
    if (!(error instanceof HardwareFailed)) throw error
    problem.value = t(`hardware.${error.code}`)
  }
}
async function take(file: Blob) {
  const largest = Math.min(most ?? MOST, MOST)
  const made = kind === 'picture' && !asTaken ? await shrinkPicture(file, largest) : file
  if (made.size > largest) {
    problem.value = t('hardware.large', { kilobytes: words.number(made.size / 1024, 0) })
    return
  }
  const { attachment: named, bytes } = await attachmentOf(made)
  await files?.store(named, bytes)
  emit('give', named)
}
const put = (file: File) => trying(() => take(file))
/** the fake camera gives its picture at once; a telephone's own camera opens by itself. */
async function camera(event: Event) {
  const stand = await fakePicture()
  if (stand) await trying(() => take(stand))
  else (event.target as HTMLElement).closest('.row')!.querySelector('input')!.click()
}
async function record() {
  longest.stop()
  const running = recording.value
  recording.value = null
  await trying(async () => {
    if (running) {
      await take(await running.stop())
      return
    }
    recording.value = await recordSound()
    longest.start()
  })
}
watch(
  attachment,
  async now => {
    if (shown.value) URL.revokeObjectURL(shown.value)
    shown.value = now && files ? await files.show(now) : null
  },
  { immediate: true },
)
onBeforeUnmount(() => {
  if (shown.value) URL.revokeObjectURL(shown.value)
  void recording.value?.stop()
})
</script>

<template>
  <div class="stack">
    <div class="row">
      <Button
        v-if="kind === 'picture'"
        severity="secondary"
        outlined
        icon="pi pi-camera"
        :label="t('filling.picture')"
        @click="camera"
      />
      <Button
        v-else
        :severity="recording ? 'danger' : 'secondary'"
        outlined
        :icon="recording ? 'pi pi-stop' : 'pi pi-microphone'"
        :label="t(recording ? 'filling.stopSound' : 'filling.sound')"
        @click="record"
      />
      <FileButton
        v-show="kind === 'sound'"
        icon="pi-file"
        :label="t('filling.fromFile')"
        :accept="kind === 'picture' ? 'image/*' : 'audio/*'"
        :capture="kind === 'picture' ? 'environment' : undefined"
        :input-id="inputId"
        @file="put"
      />
      <span v-if="attachment" class="small"
        >{{ t('filling.file', { kilobytes: words.number(attachment.bytes / 1024, 0) }) }}
        <button type="button" class="textual" @click="emit('give', null)">
          {{ t('filling.takeAway') }}
        </button></span
      >
    </div>
    <img v-if="shown && kind === 'picture'" :src="shown" :alt="t('filling.seen')" class="seen" />
    <audio v-else-if="shown" :src="shown" controls />
    <p v-if="problem" class="says" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.seen {
  max-width: 220px;
  max-height: 220px;
  border-radius: 8px;
  border: 1px solid var(--line);
}
.says {
  color: var(--brick-7);
  font-size: 14px;
}
</style>
