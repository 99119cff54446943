import { type H3Error, type H3Event, getRequestPath } from 'h3'
import { logError } from '../log'
import { answerProblem } from './answer-problem'
import { Refusal } from '../refusal'

/** The last resort of the server: what no route caught still leaves in the one error shape. */
export default function (error: H3Error, event: H3Event) {
  const status = error.statusCode || 500
  if (status >= 500) logError(`${event.method} ${getRequestPath(event)} failed`, error.cause ?? error)
  return answerProblem(
    event,
    status === 404
      ? new Refusal(404, 'not-found', 'There is nothing at this address.')
      : new Refusal(
          status,
          status >= 500 ? 'server' : 'bad-request',
          status >= 500 ? 'Something went wrong here.' : error.message,
        ),
  )
}
