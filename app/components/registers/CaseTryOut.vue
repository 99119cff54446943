<script setup lang="ts">
import type { CaseRegister } from '#core/cases/register'
import { namesOfRegister } from '~/cases/caseDoubtNames'
import { useCaseTryOut } from '~/define/useCaseTryOut'

/** A rule on the cases that are there: how often it would have fired, and on which. */
const { register, parent, code, sound } = defineProps<{
  /** The draft of the register. */
  register: CaseRegister
  parent: CaseRegister | null
  /** The code of the rule. */
  code: string
  sound: boolean
}>()
const words = useWords()
const { t } = words
const { state, problem, found, start, stop } = useCaseTryOut(() => register.code)
const { numbers } = useDoubtWords(() => namesOfRegister(register, parent))
const { titleOfCase } = useCaseLines(() => register)
/** A rule that would ask about more than so many cases of a hundred is one that people learn to click away. */
const CRIES_WOLF = 0.05
const often = computed(() => (found.value?.cases ? found.value.fired / found.value.cases : 0))
const changedSince = computed(
  () =>
    found.value !== null &&
    found.value.rule !== JSON.stringify(register.rules.find(one => one.code === code)),
)
</script>

<template>
  <TryOutFrame
    :state="state"
    :share="found?.all ? found.looked / found.all : 0"
    :act="t('tryOut.onCases')"
    :problem="problem"
    :sound="sound"
    @start="start(register, code)"
    @stop="stop"
  >
    <template v-if="found && state !== 'judging'">
      <p role="status">
        <strong>{{
          t('tryOut.firedOnCases', {
            fired: words.number(found.fired),
            cases: words.number(found.cases),
            share: words.percent(often, 1),
          })
        }}</strong>
        {{ ' '
        }}<span class="quiet small">{{
          t('tryOut.restOfCases', { notJudged: words.number(found.notJudged) })
        }}</span>
      </p>
      <Message v-if="changedSince" severity="secondary" :closable="false">{{
        t('tryOut.changedSince')
      }}</Message>
      <Message v-else-if="often > CRIES_WOLF" severity="warn" :closable="false">{{
        t('tryOut.criesWolfOnCases')
      }}</Message>
      <ul class="plain-list stack">
        <li v-for="hit in found.hits" :key="hit.case.id + hit.doubt.key">
          <NuxtLink :to="`/cases/${hit.case.id}`" target="_blank">{{ titleOfCase(hit.case) }}</NuxtLink>
          <span class="small quiet"> · {{ hit.case.unit.name }}</span
          ><br /><span class="small">{{ numbers(hit.doubt) }}</span>
        </li>
      </ul>
      <p v-if="found.fired > found.hits.length" class="small quiet">
        {{ t('tryOut.moreCases', { count: found.fired - found.hits.length }) }}
      </p>
    </template>
  </TryOutFrame>
</template>
