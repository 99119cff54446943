-- Long work, and what the installation does by itself (server/queue). Leases are counted by the clock of the database,
-- which is one for all processes; the times that people read are those of the application.
CREATE TABLE job (
  id            uuid PRIMARY KEY,
  kind          text NOT NULL,
  -- Null: the installation asked by itself.
  asked_by      uuid REFERENCES person (id),
  asked_at      timestamptz NOT NULL,
  -- The time of the schedule that it was asked for: of several processes one asks.
  slot          timestamptz,
  state         text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'done', 'stopped', 'failed')),
  not_before    timestamptz NOT NULL DEFAULT clock_timestamp(),
  tries         integer NOT NULL DEFAULT 0,
  -- Which process runs it, and until when that process is taken for alive.
  runner        uuid,
  alive_until   timestamptz,
  done          integer NOT NULL DEFAULT 0,
  total         integer,
  stop_asked_at timestamptz,
  started_at    timestamptz,
  ended_at      timestamptz,
  result        jsonb,
  problem       text,
  UNIQUE (kind, slot)
);
CREATE INDEX job_list ON job (asked_at DESC, id DESC);
CREATE INDEX job_waiting ON job (kind, not_before, id) WHERE state = 'waiting';
-- One at a time of each kind.
CREATE UNIQUE INDEX job_alone ON job (kind) WHERE state = 'running';

-- Wrong tries in a row at one thing from one place, and until when the next one waits (access/tries.ts).
CREATE TABLE wrong_try (
  key           text PRIMARY KEY,
  wrong         integer NOT NULL,
  blocked_until timestamptz NOT NULL
);
-- How many tries were made in a span of time; its columns are those of the package rate-limiter-flexible.
CREATE TABLE rate_limit (
  key    text PRIMARY KEY,
  points integer NOT NULL DEFAULT 0,
  expire bigint
);
