<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'
import type { Axis, Band } from '#core/report/edition'
import type { DraftWork } from '~/define/useDraft'

/** The breakdowns of a dataset: ways of splitting an item, each with its bands. */
const { work, chosen } = defineProps<{ work: DraftWork; chosen: string | null }>()
const emit = defineEmits<{ choose: [code: string | null] }>()
const words = useWords()
const { t, locale } = words
const axes = computed(() => work.draft.value!.axes)
const usedBy = (axis: Axis) => work.items.value.filter(item => item.axes.includes(axis.code))
const published = computed(
  () =>
    new Map(
      (work.file.value?.published?.axes ?? []).map(axis => [
        axis.code,
        new Set(axis.bands.map(band => band.code)),
      ]),
    ),
)
function add(name: string) {
  const code = codeFromLabel(name, [
    ...axes.value.map(one => one.code),
    ...work.items.value.map(one => one.code),
  ])
  axes.value.push({ code, name: { [locale.value]: name }, bands: [] })
  emit('choose', code)
}
const bandsOf = (axis: Axis) =>
  computed<Band[]>({
    get: () => axis.bands,
    set: next => {
      axis.bands = next
    },
  })
</script>

<template>
  <ListBeside
    :list="axes"
    :chosen="chosen"
    :none="t('axes.none')"
    :choose="t('axes.choose')"
    @choose="emit('choose', $event)"
  >
    <template #mark="{ one }"
      ><span class="small quiet">{{
        t('axes.bands', { count: one.bands.length }, one.bands.length)
      }}</span></template
    >
    <template #add><AddByName :label="t('axes.new')" @add="add" /></template>
    <template #default="{ one, remove }">
      <section class="card stack">
        <div class="spread">
          <h2>{{ words.say(one.name) || one.code }}</h2>
          <Button
            size="small"
            text
            severity="secondary"
            icon="pi pi-trash"
            :label="t('axes.remove')"
            :disabled="usedBy(one).length > 0"
            @click="remove"
          />
        </div>
        <WordsField v-model="one.name" input-id="axis-name" :label="t('draft.name')" />
        <fieldset class="plain">
          <legend>{{ t('draft.part.bands') }}</legend>
          <BandList
            v-model="bandsOf(one).value"
            input-id="band"
            words-key="name"
            :add-label="t('axes.newBand')"
          />
        </fieldset>
        <p v-if="published.get(one.code)" class="small quiet">{{ t('axes.published') }}</p>
        <p class="small quiet">
          {{
            usedBy(one).length
              ? t('axes.usedBy', {
                  names: usedBy(one)
                    .map(item => words.say(item.name))
                    .join(', '),
                })
              : t('axes.unused')
          }}
        </p>
      </section>
    </template>
  </ListBeside>
</template>
