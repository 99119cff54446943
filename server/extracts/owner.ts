import { may } from '#core/contract/permission'
import { accessById, type Access } from '../access/access'
import { Refusal } from '../refusal'

/**
 * What the owner of an extract or a file may see now: they may have lost a right since they asked.
 * @throws Refusal 403 where they may take out nothing any more; as `accessById`
 */
export async function ownerAccess(person: string): Promise<Access> {
  const access = await accessById(person)
  if (!may(access, 'extract')) throw new Refusal(403, 'no-permission', 'Your role does not allow this.')
  return access
}
