import type { DeliveryProblem } from '#core/contract/sending'
import { OutsideFault } from '../outside'

/** A recipient did not answer as agreed. It may have what it was sent. */
export class NotDelivered extends OutsideFault {
  constructor(
    readonly problem: DeliveryProblem,
    /** The status of its answer. */
    readonly status?: number,
  ) {
    super(status === undefined ? `The recipient: ${problem}` : `The recipient answered ${status}`)
  }

  /** As it is kept with the sending. @example new NotDelivered('status', 503).code // 'status:503' */
  get code(): string {
    return this.status === undefined ? this.problem : `${this.problem}:${this.status}`
  }
}
