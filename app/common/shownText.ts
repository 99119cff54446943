/**
 * The text of a field, by `v-shown-text`. Vue's own `:value` gives every new field a text, also an empty one: a
 * millisecond of a slow phone, for each of hundreds of fields.
 *
 * @example `<input v-shown-text="text" />`
 */
export const vShownText = {
  beforeMount(field: HTMLInputElement, { value }: { value: string }): void {
    if (value) field.value = value
  },
  beforeUpdate(field: HTMLInputElement, { value }: { value: string }): void {
    if (field.value !== value) field.value = value
  },
}
