import { join } from 'node:path'
import type { Visitor } from './browser'

const FOLDER = process.env.LANTERN_SHOTS

/** Takes a picture under a name, when somebody asked for pictures with LANTERN_SHOTS. */
export async function shot(visitor: Visitor, name: string): Promise<void> {
  if (FOLDER) await visitor.picture(join(FOLDER, `${name}.png`))
}
