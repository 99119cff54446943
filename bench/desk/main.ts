import { report } from '../measure'
import { manyDevices } from './many-devices'

report('desk', await manyDevices())
