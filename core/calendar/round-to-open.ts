import { lastDay } from './period'
import { parsePeriod } from './period-text'

/**
 * The round that an office page opens at, of some that stand newest first: the newest whose period is over,
 * else the first. A round that can be filled early is not looked at yet.
 * @param today day number
 */
export function roundToOpen<Round extends { period: string }>(
  rounds: readonly Round[],
  today: number,
): Round | undefined {
  const isOver = ({ period }: Round) => {
    const parsed = parsePeriod(period)
    return parsed.ok && lastDay(parsed.value) < today
  }
  return rounds.find(isOver) ?? rounds[0]
}
