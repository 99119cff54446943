<script setup lang="ts">
import { questionOf } from '#core/form/form-of-edition'
import { layOut } from '#core/report/layout'
import { numberKind, type Edition, type Section } from '#core/report/edition'

/** A dataset as it is printed: the same blocks and lines as on the screen, with boxes to write in. */
const { edition } = defineProps<{ edition: Edition }>()
const words = useWords()
const { t } = words
/** What is computed is not written. */
const asked = (section: Section): Section => ({
  ...section,
  items: section.items.filter(({ kind }) => kind !== 'computed'),
})
const sections = computed(() =>
  edition.sections.map(section => ({ section, blocks: layOut(edition, asked(section)) })),
)
</script>

<template>
  <article class="paper">
    <PaperHead
      :title="words.say(edition.name)"
      :below="t('define.editionShort', { number: edition.number })"
      period
    />
    <section v-for="{ section, blocks } in sections" :key="section.code">
      <h2>{{ words.say(section.name) }}</h2>
      <table v-for="(block, at) in blocks" :key="at">
        <template v-if="block.kind === 'list'">
          <tbody>
            <tr v-for="cell in block.cells" :key="cell.key">
              <th scope="row" class="line">
                {{ words.say(cell.item.name) }}<template v-if="cell.item.required">*</template
                ><small>{{ words.say(cell.item.definition) }}</small>
              </th>
              <td v-if="numberKind(cell.item)"><span class="box" /></td>
              <td v-else class="answer"><PaperAnswer :question="questionOf(cell.item)" /></td>
            </tr>
          </tbody>
        </template>
        <template v-else-if="block.kind === 'matrix'">
          <thead>
            <tr>
              <td />
              <th v-for="band in block.axis.bands" :key="band.code" scope="col">
                {{ words.say(band.name) }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in block.rows" :key="row.item.code">
              <th scope="row" class="line">
                {{ words.say(row.item.name) }}<small>{{ words.say(row.item.definition) }}</small>
              </th>
              <td v-for="cell in row.cells" :key="cell.key"><span class="box" /></td>
            </tr>
          </tbody>
        </template>
        <template v-else>
          <caption class="line">
            {{
              words.say(block.item.name)
            }}<small>{{ words.say(block.item.definition) }}</small>
          </caption>
          <thead>
            <tr>
              <th scope="col">{{ words.say(block.rowAxis.name) }}</th>
              <th v-for="band in block.columnAxis.bands" :key="band.code" scope="col">
                {{ words.say(band.name) }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(cells, row) in block.rows" :key="row">
              <th scope="row">{{ words.say(block.rowAxis.bands[row]!.name) }}</th>
              <td v-for="cell in cells" :key="cell.key"><span class="box" /></td>
            </tr>
          </tbody>
        </template>
      </table>
    </section>
    <p class="small">
      {{ t('paper.signed') }} ______________________________ {{ t('paper.on') }} ______________
    </p>
  </article>
</template>

<style scoped>
h2 {
  font-size: 15px;
  margin: 12px 0 4px;
  padding: 3px 6px;
  background: #eee;
  print-color-adjust: exact;
  break-after: avoid;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 12px;
  margin-bottom: 4px;
}
th,
td {
  padding: 2px 6px;
  border-bottom: 1px solid #999;
  text-align: left;
  font-weight: 400;
  vertical-align: middle;
}
caption {
  text-align: left;
  font-weight: 600;
  padding: 4px 6px 2px;
}
thead th {
  font-weight: 600;
  font-size: 11px;
  text-align: center;
}
tr {
  break-inside: avoid;
}
td {
  width: 92px;
  text-align: center;
}
td.answer {
  width: 55%;
  text-align: left;
}
small {
  display: block;
  font-size: 10px;
  color: #444;
  font-weight: 400;
}
.box {
  display: inline-block;
  width: 78px;
  height: 20px;
  border: 1px solid #000;
}
</style>
