import { httpGateway } from './http-gateway'
import { standInGateway } from './stand-in'

/** A text message. The gateway knows it by the reference: given twice, it is the same one. */
export interface TextMessage {
  reference: string
  phone: string
  text: string
}

/** What a gateway knows of a message. */
export type MessageStatus = 'unknown' | 'taken' | 'delivered' | 'notDelivered'

/**
 * What sends text messages for us. It may be slow, away or wrong: each call ends when its signal is aborted, and
 * throws when the gateway did not answer as agreed.
 */
export interface MessageGateway {
  /** @returns why the gateway will not send it, or null when it took it. */
  send: (message: TextMessage, signal: AbortSignal) => Promise<string | null>
  lookUp: (reference: string, signal: AbortSignal) => Promise<MessageStatus>
}

/**
 * The gateway of this installation, by `LANTERN_GATEWAY`: the address of one, or `stand-in` for the one that
 * ships with the application and sends nothing. Null where none is set.
 */
export function messageGateway(): MessageGateway | null {
  const place = process.env.LANTERN_GATEWAY
  if (!place) return null
  return place === 'stand-in' ? standInGateway : httpGateway(place, process.env.LANTERN_GATEWAY_KEY)
}
