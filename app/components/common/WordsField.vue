<script setup lang="ts">
import type { Words } from '#core/report/edition'
import { LANGUAGES } from '#core/languages'

/**
 * A text in each language of the installation. Its fields write straight into the words that they are given.
 */
const {
  inputId,
  label,
  long = false,
  most = 300,
} = defineProps<{ inputId: string; label: string; long?: boolean; most?: number }>()
const words = defineModel<Words>({ required: true })
</script>

<template>
  <div class="fields">
    <div v-for="language in LANGUAGES" :key="language" class="field wide">
      <label :for="`${inputId}-${language}`">{{ label }} ({{ language }})</label>
      <Textarea
        v-if="long"
        :id="`${inputId}-${language}`"
        v-model="words[language]"
        rows="2"
        auto-resize
        :maxlength="most"
      />
      <InputText v-else :id="`${inputId}-${language}`" v-model="words[language]" :maxlength="most" />
    </div>
  </div>
</template>
