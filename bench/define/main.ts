import { report } from '../measure'
import { tryOuts } from './try-outs'
import { typing } from './typing'

report('define', [...(await tryOuts()), ...(await typing())])
