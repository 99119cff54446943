/**
 * Whether a dialog is open: as long as something is asked about. Closing the dialog forgets it.
 *
 * @example const removing = ref<string | null>(null); const asking = openWhile(removing)
 */
export const openWhile = <T>(asked: Ref<T | null>): WritableComputedRef<boolean> =>
  computed({
    get: () => asked.value !== null,
    set: on => {
      if (!on) asked.value = null
    },
  })
