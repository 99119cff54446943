import { report } from '../measure'
import { rules } from './rules'

report('core', [...await rules()])
