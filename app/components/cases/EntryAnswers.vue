<script setup lang="ts">
import type { CaseRegister } from '#core/cases/register'
import { placesOf } from '#core/define/form-parts'
import type { AnswerContent, Attachment } from '#core/form/answer'

/** The answers of one entry in the order of its form, with its pictures and sounds. */
const { register, form, answers } = defineProps<{ register: CaseRegister; form: string; answers: Readonly<Record<string, AnswerContent>> }>()
const words = useWords()
const { textOf } = useAnswerText()
interface Answered { label: string; text: string; file: Attachment | null; kind: 'picture' | 'sound' | 'text' }
const shown = computed<Answered[]>(() => placesOf(register.forms.find(of => of.form.code === form)?.form.parts ?? []).flatMap(({ part, around }): Answered[] => {
  const label = words.say(part.label)
  // What stands in a repeat is answered once for each: *Children: Name 2*.
  const own = Object.entries(answers).filter(([key]) => key === part.code || (around && key.endsWith(`/${part.code}`)) || key.startsWith(`${part.code}.`))
  return own.flatMap(([, content]): Answered[] => {
    const isFile = (part.kind === 'picture' || part.kind === 'sound') && content.kind === 'value'
    const text = isFile ? '' : textOf(register, part.code, content)
    return isFile || text ? [{ label, text, file: isFile ? content.value as Attachment : null, kind: isFile ? part.kind as 'picture' : 'text' }] : []
  })
}))
</script>

<template>
  <dl>
    <div v-for="(answer, at) in shown" :key="at">
      <dt>{{ answer.label }}</dt>
      <dd v-if="answer.file"><AttachmentView :file="answer.file" :kind="answer.kind === 'sound' ? 'sound' : 'picture'" :label="answer.label" /></dd>
      <dd v-else>{{ answer.text }}</dd>
    </div>
  </dl>
</template>

<style scoped>
dl { margin: 0; display: flex; flex-direction: column; gap: 4px; }
dl div { display: grid; grid-template-columns: 45% 1fr; gap: 8px; font-size: 15px; }
dt { color: var(--ink-5); }
dd { margin: 0; overflow-wrap: anywhere; }
</style>
