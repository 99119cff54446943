import { report } from '../measure'
import { cases } from './cases'
import { duplicates } from './duplicates'
import { forms } from './forms'
import { ranges } from './ranges'
import { rollups } from './rollups'
import { rules } from './rules'
import { size } from './size'

report('core', [
  ...(await ranges()),
  ...forms(),
  ...duplicates(),
  ...(await cases()),
  ...(await size()),
  ...(await rules()),
  ...(await rollups()),
])
