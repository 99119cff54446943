import { report } from '../measure'
import { durability } from './durability'
import { inBrowser } from './in-browser'
import { manyDevices } from './many-devices'

const parts = { disk: durability, server: manyDevices, phone: inBrowser }
/**
 * `npm run bench:desk -- phone` measures only that part, and leaves the results of the last whole run as they
 * are.
 */
const only = process.argv[2] as keyof typeof parts
if (only in parts)
  console.table(
    (await parts[only]()).map(({ name, ours, other, otherName, unit, ratio, target, met }) => ({
      name,
      ours,
      [otherName]: other,
      unit,
      ratio: Number(ratio.toFixed(2)),
      'at most': target,
      met,
    })),
  )
else report('desk', [...(await durability()), ...(await manyDevices()), ...(await inBrowser())])
