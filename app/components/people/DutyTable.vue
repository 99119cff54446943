<script setup lang="ts">
import { DUTIES, grantsOf, ROLES } from '#core/contract/permission'

/** Who may do what: the same table that the server asks at each request. */
const { t } = useI18n()
const duties = Object.entries(DUTIES)
</script>

<template>
  <section class="card stack">
    <h2>{{ t('people.duties') }}</h2>
    <div class="scroll" tabindex="0" :aria-label="t('people.duties')">
      <table>
        <thead>
          <tr>
            <td />
            <th v-for="role in ROLES" :key="role" scope="col">{{ t(`role.${role}`) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="[duty, permission] in duties" :key="duty">
            <th scope="row">{{ t(`people.duty.${duty}`) }}</th>
            <td v-for="role in ROLES" :key="role">
              <span :class="grantsOf(role).includes(permission) ? 'yes' : 'quiet'">{{
                t(grantsOf(role).includes(permission) ? 'people.may' : 'people.mayNot')
              }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="small quiet">{{ t('people.dutiesHint') }}</p>
  </section>
</template>

<style scoped>
.scroll {
  overflow: auto;
}
table {
  border-collapse: collapse;
}
th,
td {
  padding: 5px 14px;
  text-align: left;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
}
thead th {
  font-weight: 600;
  font-size: 13px;
  color: var(--ink-7);
  background: var(--sand);
}
.yes {
  font-weight: 600;
  color: var(--moss-7);
}
</style>
