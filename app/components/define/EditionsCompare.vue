<script setup lang="ts" generic="T">
import type { EditionLine } from '#core/contract/drafts'
import type { ToldDifference } from './DifferenceList.vue'

/** Any two editions of a dataset or register, and what the later says otherwise, in words. */
const { list, read, differ } = defineProps<{
  list: () => Promise<EditionLine[]>
  read: (number: string) => Promise<T>
  differ: (before: T, after: T) => ToldDifference[]
}>()
const words = useWords()
const { t } = words
const editions = useLoad(() => list())
const before = ref(0)
const after = ref(0)
watch(
  () => editions.data.value,
  found => {
    if (found?.length) [after.value, before.value] = [found[0]!.number, (found[1] ?? found[0]!).number]
  },
)
const pair = useLoad(
  async () =>
    before.value && after.value ? Promise.all([read(String(before.value)), read(String(after.value))]) : null,
  () => [before.value, after.value],
)
const found = computed(() => (pair.data.value ? differ(...pair.data.value) : []))
const options = computed(() =>
  (editions.data.value ?? []).map(({ number, publishedAt }) => ({
    value: number,
    label: t('define.edition', { number, day: words.day(publishedAt) }),
  })),
)
</script>

<template>
  <section class="card stack">
    <h2>{{ t('define.compare') }}</h2>
    <LoadState v-slot="{ data }" :load="editions">
      <p v-if="data.length < 2" class="quiet">{{ t('define.oneEdition') }}</p>
      <template v-else>
        <div class="fields">
          <PickOne
            v-model="before"
            input-id="compare-before"
            :label="t('define.earlier')"
            :options="options"
          /><PickOne v-model="after" input-id="compare-after" :label="t('define.later')" :options="options" />
        </div>
        <LoadState :load="pair"
          ><DifferenceList v-if="found.length" :differences="found" />
          <p v-else class="quiet">{{ t('define.noDifference') }}</p></LoadState
        >
      </template>
    </LoadState>
  </section>
</template>
