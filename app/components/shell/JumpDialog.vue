<script setup lang="ts">
import type { SearchHit } from '#core/contract/people'

/**
 * The one search that jumps anywhere: a facility's report, a district's board, a unit, a round, an item, a
 * case, a person.
 */
const visible = defineModel<boolean>('visible', { required: true })
const words = useWords()
const { t } = words
const router = useRouter()
const session = useSession()
const typed = ref('')
const hits = shallowRef<SearchHit[]>([])
const problem = shallowRef<ApiProblem | null>(null)
const active = ref(0)
let latest = 0

watch(typed, async text => {
  const own = ++latest
  if (!text.trim()) {
    hits.value = []
    return
  }
  try {
    const found = await callApi('GET /api/search', { query: { q: text } })
    if (own === latest) {
      hits.value = found
      active.value = 0
      problem.value = null
    }
  } catch (error) {
    if (own === latest && error instanceof ApiProblem) problem.value = error
  }
})

/** Cases are named by their registers, which are asked for once, when the first case is found. */
const namesCases = ref(false)
watch([hits, visible], ([found, isOpen]) => {
  namesCases.value = isOpen && (namesCases.value || found.some(({ kind }) => kind === 'case'))
})
const { byCode: registers } = useRegisters(() => namesCases.value)
const { titleOf, lineOf } = useAnswerText()
const nameOf = ({ kind, name, of, answers }: SearchHit) => {
  const register = kind === 'case' ? registers.value.get(of!) : null
  return register ? titleOf(lineOf(register, code => answers?.[code])) : words.say(name)
}

const addressOfHit = (hit: SearchHit) => {
  switch (hit.kind) {
    case 'round':
      return `/gather/${hit.code}`
    case 'item':
      return `/define/dataset/${hit.of}?part=items&chosen=${hit.code}`
    case 'case':
      return `/cases/${hit.code}`
    case 'person':
      return `/people?find=${encodeURIComponent(hit.code)}`
    case 'facility':
      if (hit.of) return facilityLink(hit.of, hit.code)
      break
    case 'district':
      if (hit.of) return `/gather/${hit.of}`
  }
  return `/define/units?unit=${encodeURIComponent(hit.code)}`
}

async function open(hit: SearchHit | undefined) {
  if (!hit) return
  if (hit.kind === 'district') session.district = hit.code
  visible.value = false
  typed.value = ''
  await router.push(addressOfHit(hit))
}

function onKey(event: KeyboardEvent) {
  if (event.key === 'ArrowDown') active.value = Math.min(active.value + 1, hits.value.length - 1)
  else if (event.key === 'ArrowUp') active.value = Math.max(active.value - 1, 0)
  else if (event.key === 'Enter') void open(hits.value[active.value])
  else return
  event.preventDefault()
}
/** Units are known by their path; what else is found says what it is. */
const ofTree = ({ kind }: SearchHit) => ['facility', 'district', 'unit'].includes(kind)
const pathOf = (hit: SearchHit) => (hit.kind === 'round' ? words.period(hit.path) : hit.path)
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    :header="t('jump.title')"
    position="top"
    :style="{ width: '560px' }"
    dismissable-mask
  >
    <InputText
      v-model="typed"
      autofocus
      fluid
      :placeholder="t('jump.hint')"
      role="combobox"
      aria-controls="jump-hits"
      aria-autocomplete="list"
      :aria-expanded="hits.length > 0"
      :aria-activedescendant="hits.length ? `jump-${active}` : undefined"
      :aria-label="t('jump.hint')"
      @keydown="onKey"
    />
    <ProblemNote :problem="problem" />
    <ul v-show="hits.length" id="jump-hits" class="hits" role="listbox" :aria-label="t('jump.title')">
      <li
        v-for="(hit, at) in hits"
        :id="`jump-${at}`"
        :key="`${hit.kind} ${hit.code}`"
        role="option"
        :aria-selected="at === active"
        :class="{ active: at === active }"
        @click="open(hit)"
        @mousemove="active = at"
      >
        <strong>{{ nameOf(hit) }}</strong> <span class="quiet small">{{ pathOf(hit) }}</span>{{ ' ' }}
        <span v-if="!ofTree(hit)" class="quiet small kind">{{ t(`jump.kind.${hit.kind}`) }}</span>
      </li>
    </ul>
    <p v-if="typed.trim() && !hits.length && !problem" class="quiet none">{{ t('jump.none') }}</p>
  </Dialog>
</template>

<style scoped>
.hits {
  list-style: none;
  margin: 10px 0 0;
  padding: 0;
}
.hits li {
  padding: 8px 10px;
  border-radius: 8px;
  cursor: pointer;
}
.hits li.active {
  background: var(--amber-0);
  box-shadow: inset 3px 0 var(--amber-5);
}
.hits li {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.hits {
  max-height: 60vh;
  overflow-y: auto;
}
.kind {
  margin-left: auto;
  white-space: nowrap;
}
.none {
  padding: 12px 2px 0;
}
</style>
