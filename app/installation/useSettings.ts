import { watchDebounced } from '@vueuse/core'
import type { Consequences, InstallationSettings } from '#core/contract/settings'

/** How long after the last choice its consequences are asked for. */
const WAIT_MS = 300

/**
 * The settings of the installation as they are edited: what a change would do is asked for at each choice, and
 * known before anything is changed.
 */
export function useSettings() {
  const load = useLoad(() => callApi('GET /api/settings', {}))
  const form = ref<InstallationSettings | null>(null)
  watch(load.data, now => {
    if (now) form.value = { ...now }
  })
  const isChanged = computed(() => {
    const [before, now] = [load.data.value, form.value]
    return Boolean(
      before && now && (Object.keys(before) as (keyof typeof before)[]).some(key => before[key] !== now[key]),
    )
  })

  /** What is asked about, as text: an answer about another choice says nothing about this one. */
  const about = computed(() => (isChanged.value ? JSON.stringify(form.value) : null))
  const found = shallowRef<{ about: string; consequences: Consequences } | null>(null)
  const consequences = computed(() =>
    found.value && found.value.about === about.value ? found.value.consequences : null,
  )
  const asking = useAct()
  watchDebounced(
    about,
    async asked => {
      if (!asked) return
      await asking.run(async () => {
        const body = JSON.parse(asked) as InstallationSettings
        const answer = await callApi('POST /api/settings/consequences', { body })
        // A slow answer does not take the place of the one to a later choice.
        if (asked === about.value) found.value = { about: asked, consequences: answer }
      })
    },
    { debounce: WAIT_MS },
  )
  const isRefused = computed(() =>
    Boolean(consequences.value?.weeks?.refused || consequences.value?.years?.refused),
  )
  /** Does more change than the name? Then somebody is asked once more. */
  const movesRounds = computed(() => {
    const { timeZone, weeks, years } = consequences.value ?? { timeZone: null, weeks: null, years: null }
    return Boolean(timeZone?.rounds || weeks?.rounds || years?.rounds)
  })

  const saving = useAct()
  const session = useSession()
  async function save(): Promise<boolean> {
    const done = await saving.run(() =>
      callApi('PUT /api/settings', { body: { before: load.data.value!, after: { ...form.value! } } }),
    )
    if (!done) return false
    await load.reload()
    // Its name and its time zone stand on every page.
    await session.load()
    return true
  }
  const reset = () => {
    form.value = load.data.value && { ...load.data.value }
  }
  return {
    load,
    form,
    isChanged,
    consequences,
    isRefused,
    movesRounds,
    problem: computed(() => saving.problem.value ?? asking.problem.value),
    busy: saving.busy,
    save,
    reset,
  }
}
