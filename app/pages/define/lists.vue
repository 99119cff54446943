<script setup lang="ts">
import { codeFromLabel } from '#core/form/code'
import type { ChoiceList } from '#core/define/choice-list'

/**
 * Shared lists of choices: with labels in each language and, where one depends on another, the parent choice.
 */
const words = useWords()
const { t, locale } = words
const load = useLoad(() => callApi('GET /api/choice-lists', {}))
const { chosen, choose } = useParts('lists')
const file = computed(() => load.data.value?.find(one => one.list.code === chosen.value) ?? null)
const list = ref<ChoiceList | null>(null)
watch(
  file,
  next => {
    list.value = next ? (JSON.parse(JSON.stringify(next.list)) as ChoiceList) : null
  },
  { immediate: true },
)
const { busy, problem, run } = useAct()
const saved = ref(false)
watch(
  list,
  () => {
    saved.value = false
  },
  { deep: true },
)
const dirty = computed(
  () => list.value !== null && JSON.stringify(list.value) !== JSON.stringify(file.value?.list),
)
const parents = computed(() =>
  (load.data.value ?? [])
    .filter(one => one.list.code !== chosen.value)
    .map(one => ({ value: one.list.code as string | null, label: words.say(one.list.name) })),
)
const parent = computed<string | null>({
  get: () => list.value?.parent ?? null,
  set: next => {
    if (next) list.value!.parent = next
    else {
      delete list.value!.parent
      list.value!.choices.forEach(choice => {
        delete choice.under
      })
    }
  },
})
const unders = computed(() =>
  (load.data.value?.find(one => one.list.code === list.value?.parent)?.list.choices ?? []).map(one => ({
    value: one.code,
    label: words.say(one.label),
  })),
)
async function add(name: string) {
  const code = codeFromLabel(
    name,
    (load.data.value ?? []).map(one => one.list.code),
  )
  if (
    await run(() =>
      callApi('PUT /api/choice-lists/:list', {
        params: { list: code },
        body: { version: 0, list: { code, name: { [locale.value]: name }, choices: [] } },
      }),
    )
  ) {
    await load.reload()
    await choose(code)
  }
}
async function save() {
  const done = await run(() =>
    callApi('PUT /api/choice-lists/:list', {
      params: { list: list.value!.code },
      body: { version: file.value!.version, list: list.value! },
    }),
  )
  if (!done) return
  await load.reload()
  await nextTick()
  saved.value = true
}
/** Answers the question that leaving with unsaved changes asks. */
const leave = shallowRef<((goes: boolean) => void) | null>(null)
function answerLeave(goes: boolean) {
  leave.value?.(goes)
  leave.value = null
}
onBeforeRouteLeave(
  () =>
    !dirty.value ||
    new Promise<boolean>(resolve => {
      leave.value = resolve
    }),
)
</script>

<template>
  <div class="page">
    <PageHead :title="t('lists.title')"><DefineTabs /></PageHead>
    <LoadState v-slot="{ data }" :load="load">
      <div class="beside">
        <div class="stack">
          <ul class="plain-list">
            <li v-for="one in data" :key="one.list.code" :class="{ chosen: one.list.code === chosen }">
              <button
                type="button"
                :aria-current="one.list.code === chosen ? 'true' : undefined"
                @click="choose(one.list.code)"
              >
                {{ words.say(one.list.name) || one.list.code }}
                <span class="small quiet">{{ one.list.choices.length }}</span>
              </button>
            </li>
          </ul>
          <p v-if="!data.length" class="quiet">{{ t('lists.none') }}</p>
          <AddByName :label="t('lists.new')" @add="add" />
        </div>
        <form v-if="list && file" class="card stack" @submit.prevent="save">
          <h2>{{ words.say(list.name) || list.code }}</h2>
          <WordsField v-model="list.name" input-id="list-name" :label="t('draft.name')" />
          <div class="fields">
            <PickOne
              v-model="parent"
              input-id="list-parent"
              :label="t('lists.parent')"
              :options="[{ value: null, label: t('register.nothing') }, ...parents]"
            />
          </div>
          <BandList
            v-model="list.choices"
            input-id="list-choice"
            words-key="label"
            :unders="unders"
            :add-label="t('question.newChoice')"
          />
          <p class="small quiet">
            {{
              file.usedBy.length
                ? t('lists.usedBy', { names: file.usedBy.map(words.say).join(', ') })
                : t('lists.unused')
            }}
          </p>
          <ProblemNote :problem="problem" />
          <div class="row">
            <Button type="submit" :label="t('lists.save')" :loading="busy" :disabled="!dirty" /><span
              v-if="saved && !dirty"
              role="status"
              class="quiet"
              >{{ t('draft.state.saved') }}</span
            >
          </div>
        </form>
        <p v-else-if="data.length" class="quiet">{{ t('lists.choose') }}</p>
      </div>
    </LoadState>
    <ProblemNote v-if="!list" :problem="problem" />
    <AskDialog
      :visible="leave !== null"
      :title="t('lists.leave')"
      :act="t('lists.leaveAct')"
      @update:visible="answerLeave(false)"
      @go="answerLeave(true)"
    />
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: minmax(220px, 300px) minmax(0, 1fr);
  gap: 20px;
  align-items: start;
}
li {
  border-bottom: 1px solid var(--line);
  border-left: 4px solid transparent;
}
li.chosen {
  background: var(--amber-1);
  border-left-color: var(--amber-5);
}
li button {
  width: 100%;
  display: flex;
  justify-content: space-between;
  padding: 7px 8px;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  cursor: pointer;
  text-align: left;
}
@media (width < 900px) {
  .beside {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
