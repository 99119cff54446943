import { send, setResponseHeaders, setResponseStatus, type H3Event } from 'h3'
import { problemBody, type Refusal } from '../refusal'

/** Answers with the problem document of a refusal. */
export function answerProblem(event: H3Event, refusal: Refusal) {
  setResponseStatus(event, refusal.status)
  setResponseHeaders(event, { 'cache-control': 'no-store', ...refusal.headers })
  return send(event, JSON.stringify(problemBody(refusal)), 'application/problem+json')
}
