<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import type { StoredPerson } from '~/device/useDeskStore'
import { waitingOf } from '~/device/useDeskStore'

/** This device is locked: whose work, and their PIN. */
definePageMeta({ layout: 'plain' })
const words = useWords()
const { t } = words
const vault = useVault()
const route = useRoute()
const router = useRouter()
const chosen = shallowRef<StoredPerson | null>(vault.people.length === 1 ? vault.people[0]! : null)
const pin = ref('')
const busy = ref(false)
const wrong = ref(false)
const waits = ref<Record<string, number>>({})
const seconds = ref(0)
const tick = () => {
  seconds.value = chosen.value ? Math.ceil(vault.waitLeft(chosen.value) / 1000) : 0
}
useIntervalFn(tick, 500, { immediateCallback: true })

async function unlock() {
  busy.value = true
  const id = chosen.value!.id
  const right = await vault.unlock(id, pin.value)
  busy.value = false
  pin.value = ''
  wrong.value = !right
  if (right) {
    await router.push(safe(route.query.next))
    return
  }
  chosen.value = vault.people.find(one => one.id === id)!
  tick()
}
const safe = (next: unknown) => (typeof next === 'string' && next.startsWith('/desk') ? next : '/desk')
function choose(person: StoredPerson | null) {
  chosen.value = person
  wrong.value = false
  pin.value = ''
  tick()
}
/** A locked device asks the server whether it is blocked. A blocked device deletes its data. */
async function standing() {
  // Without an answer, or from a district that does not know it, nothing is erased.
  const standing = await callApi(
    'GET /api/desk/standing',
    {},
    { 'x-lantern-device': vault.device!.token },
  ).catch((error: unknown) => {
    if (error instanceof ApiProblem) return null
    throw error
  })
  if (standing?.blocked && !standing.letsIn) {
    await vault.erase()
    await router.push('/desk/pair?erased=1')
  }
}
onMounted(async () => {
  void standing()
  for (const { id } of vault.people) waits.value = { ...waits.value, [id]: await waitingOf(id) }
})
useHead({ title: () => t('lock.unlock') })
</script>

<template>
  <div class="card box stack">
    <div class="head">
      <BrandMark />
      <h1>{{ vault.device?.name ?? t('lock.unlock') }}</h1>
    </div>
    <ul v-if="!chosen" class="plain-list people">
      <li v-for="one in vault.people" :key="one.id">
        <button type="button" class="person" @click="choose(one)">
          <strong>{{ one.displayName }}</strong><span v-if="waits[one.id]" class="small quiet">{{
            t('due.waiting', { count: waits[one.id]! }, waits[one.id]!)
          }}</span>
        </button>
      </li>
    </ul>
    <form v-else class="stack" @submit.prevent="unlock">
      <p>
        <strong>{{ chosen.displayName }}</strong><button
          v-if="vault.people.length > 1"
          type="button"
          class="textual"
          @click="choose(null)"
        >
          {{ t('lock.other') }}
        </button>
      </p>
      <PinField v-model="pin" input-id="pin" :label="t('lock.pin')" />
      <p v-if="seconds > 0" role="alert" class="wrong">{{ t('lock.wait', { seconds }, seconds) }}</p>
      <p v-else-if="wrong" role="alert" class="wrong">{{ t('lock.wrong') }}</p>
      <Button
        type="submit"
        :label="t('lock.open')"
        :loading="busy"
        :disabled="seconds > 0 || pin.length < 4"
        fluid
      />
    </form>
    <NuxtLink to="/desk/sign-in">{{ t('lock.forgot') }}</NuxtLink>
  </div>
</template>

<style scoped>
.box {
  width: min(380px, 100%);
  padding: 22px;
}
.head {
  display: flex;
  align-items: center;
  gap: 10px;
}
.person {
  width: 100%;
  min-height: 56px;
  display: flex;
  flex-direction: column;
  justify-content: center;
  gap: 2px;
  padding: 8px 14px;
  text-align: left;
  border: 1px solid var(--line);
  border-radius: 10px;
  background: var(--card);
  color: inherit;
  font: inherit;
  cursor: pointer;
}
.people li {
  padding: 4px 0;
}
.wrong {
  color: var(--brick-7);
}
a {
  min-height: 32px;
  align-self: center;
  display: inline-flex;
  align-items: center;
}
</style>
